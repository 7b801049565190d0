import { changePassword } from "@/server/access/sessions";
import { serve } from "@/server/app/serve";
import { sessionAnswer, whenceOf } from "@/server/app/session-answer";

export const POST = serve("POST /api/password", async (asked) => {
  const session = await changePassword(asked.app, asked.person, asked.body, whenceOf(asked));
  return session.ok ? sessionAnswer(asked, session.value) : session;
});
