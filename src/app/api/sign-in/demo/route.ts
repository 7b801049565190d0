import { signInToDemo } from "@/server/access/sessions";
import { serve } from "@/server/app/serve";
import { sessionAnswer, whenceOf } from "@/server/app/session-answer";

export const POST = serve("POST /api/sign-in/demo", async (asked) => {
  const session = await signInToDemo(asked.app, asked.body.name, whenceOf(asked));
  return session.ok ? sessionAnswer(asked, session.value) : session;
});
