import { signInToDemo } from "@/server/access/sessions";
import { sessionAnswer, whenceOf } from "@/server/app/http/session-answer";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/sign-in/demo", async (asked) => {
  const session = await signInToDemo(asked.app, asked.body.name, whenceOf(asked));
  return session.ok ? sessionAnswer(asked, session.value) : session;
});
