import { done } from "@/core/plain/outcome";
import { signIn } from "@/server/access/sessions";
import { arrivalAnswer, whenceOf } from "@/server/app/http/session-answer";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/sign-in", async (asked) => {
  const session = await signIn(asked.app, asked.body, whenceOf(asked));
  if (session.ok && session.value === null) return done({ id: null });
  return arrivalAnswer(asked, session as typeof session & { value: string });
});
