import { join } from "@/server/access/invites";
import { personOfSession } from "@/server/access/sessions";
import { serve } from "@/server/app/serve";
import { sessionAnswer, whenceOf } from "@/server/app/session-answer";

export const POST = serve("POST /api/join", async (asked) => {
  const session = await join(asked.app, asked.body, whenceOf(asked));
  if (!session.ok) return session;
  const person = await personOfSession(asked.app, session.value);
  return sessionAnswer(asked, session.value, { id: person?.id ?? "" });
});
