import { changePassword } from "@/server/access/sessions";
import { sessionAnswer, whenceOf } from "@/server/app/http/session-answer";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/password", async (asked) => {
  const session = await changePassword(asked.app, asked.person, asked.body, whenceOf(asked));
  return session.ok ? sessionAnswer(asked, session.value) : session;
});
