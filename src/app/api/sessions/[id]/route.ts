import { audit } from "@/server/access/audit";
import { endSessionOf } from "@/server/access/sessions";
import { cookieOf, inBrowser, refused } from "@/server/app/http";

/** Ends one of one's own sessions; `others` stands for all but the one that asks. */
export const DELETE = inBrowser<{ id: string }>(async ({ request, parts, lens, person, doer }) => {
  const which = parts.id === "others" ? { allBut: cookieOf(request) } : { id: parts.id };
  const ended = await endSessionOf(lens, person, which);
  if (!ended.ok) return refused(ended.refusal);
  await audit(lens, doer, "session-ended", { which: parts.id });
  return new Response(null, { status: 204 });
});
