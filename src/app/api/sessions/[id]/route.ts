import { done } from "@/core/plain/outcome";
import { audit } from "@/server/access/audit";
import { COOKIE, endSessionOf } from "@/server/access/sessions";
import { cookieOf } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";

export const DELETE = serve("DELETE /api/sessions/{id}", async ({ request, parts, app, person, doer }) => {
  const which = parts.id === "others" ? { allBut: cookieOf(request, COOKIE) } : { id: parts.id };
  const ended = await endSessionOf(app, person, which);
  if (!ended.ok) return ended;
  await audit(app, doer, "session-ended", { which: parts.id });
  return done(null);
});
