import { guessing } from "@/server/access/signing-in/guessing";
import { endSecondStep } from "@/server/access/signing-in/second-step";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/second-step/end", ({ app, person, doer, body, from }) =>
  guessing(app, person, from, () => endSecondStep(app, person, doer, body.code)),
);
