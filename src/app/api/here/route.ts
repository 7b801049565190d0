import { comeIn } from "@/server/access/here-word";
import { personOfSession } from "@/server/access/sessions";
import { serve } from "@/server/app/serve";
import { sessionAnswer, whenceOf } from "@/server/app/session-answer";

export const POST = serve("POST /api/here", async (asked) => {
  const session = await comeIn(asked.app, asked.body.word, whenceOf(asked));
  if (!session.ok) return session;
  const person = await personOfSession(asked.app, session.value);
  return sessionAnswer(asked, session.value, { id: person?.id ?? "" });
});
