import { done } from "@/core/outcome";
import { guessing } from "@/server/access/guessing";
import { beginSecondStep, confirmSecondStep, secondStepOf } from "@/server/access/second-step";
import { serve } from "@/server/app/serve";

export const GET = serve("GET /api/second-step", async ({ app, person }) => done(await secondStepOf(app, person)));

export const POST = serve("POST /api/second-step", ({ app, person }) => beginSecondStep(app, person));

export const PUT = serve("PUT /api/second-step", ({ app, person, doer, body, from }) =>
  guessing(app, person, from, () => confirmSecondStep(app, person, doer, body.code)),
);
