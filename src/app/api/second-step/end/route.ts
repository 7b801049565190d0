import { guessing } from "@/server/access/guessing";
import { endSecondStep } from "@/server/access/second-step";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/second-step/end", ({ app, person, doer, body, from }) =>
  guessing(app, person, from, () => endSecondStep(app, person, doer, body.code)),
);
