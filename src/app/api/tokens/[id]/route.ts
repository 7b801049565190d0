import { refused, signedIn } from "@/server/http";
import { dropToken } from "@/server/tokens";

export const DELETE = signedIn<{ id: string }>(async ({ parts, lens, person }) => {
  const dropped = await dropToken(lens, person, parts.id);
  return dropped.ok ? new Response(null, { status: 204 }) : refused(dropped.refusal);
});
