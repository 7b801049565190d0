import { signIn } from "@/server/access/sessions";
import { serve } from "@/server/app/serve";
import { arrivalAnswer, whenceOf } from "@/server/app/session-answer";

export const POST = serve("POST /api/sign-in", async (asked) =>
  arrivalAnswer(asked, await signIn(asked.app, asked.body.name, asked.body.password, whenceOf(asked))),
);
