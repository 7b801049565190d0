import { done } from "@/core/plain/outcome";
import { guessing } from "@/server/access/signing-in/guessing";
import { beginSecondStep, confirmSecondStep, secondStepOf } from "@/server/access/signing-in/second-step";
import { serve } from "@/server/app/serve";

export const GET = serve("GET /api/second-step", async ({ app, person }) => done(await secondStepOf(app, person)));

export const POST = serve("POST /api/second-step", ({ app, person }) => beginSecondStep(app, person));

export const PUT = serve("PUT /api/second-step", ({ app, person, doer, body, from }) =>
  guessing(app, person, from, () => confirmSecondStep(app, person, doer, body.code)),
);
