import { personOfSession, signIn } from "@/server/access/sessions";
import { serve } from "@/server/app/serve";
import { sessionAnswer, whenceOf } from "@/server/app/session-answer";

export const POST = serve("POST /api/sign-in", async (asked) => {
  const session = await signIn(asked.app, asked.body.name, asked.body.password, whenceOf(asked));
  if (!session.ok) return session;
  const person = await personOfSession(asked.app, session.value);
  return sessionAnswer(asked, session.value, { id: person?.id ?? "" });
});
