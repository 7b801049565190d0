import { dropToken } from "@/server/access/tokens";
import { inBrowser, refused } from "@/server/app/http";

export const DELETE = inBrowser<{ id: string }>(async ({ parts, lens, person, doer }) => {
  const dropped = await dropToken(lens, person, parts.id, doer);
  return dropped.ok ? new Response(null, { status: 204 }) : refused(dropped.refusal);
});
