import { signIn } from "@/server/access/sessions";
import { serve } from "@/server/app/serve";
import { sessionAnswer, whenceOf } from "@/server/app/session-answer";

export const POST = serve("POST /api/sign-in", async (asked) => {
  const session = await signIn(asked.app, asked.body.name, asked.body.password, whenceOf(asked));
  return session.ok ? sessionAnswer(asked, session.value) : session;
});
