import { pickRequest } from "@/core/api";
import { askedChange, type ChangeParts } from "@/server/app/asked";
import { bodyOf, refused, signedIn } from "@/server/app/http";
import { pick } from "@/server/changes/taking";

/** Picks a suggestion to be taken, or puts it back. */
export const PUT = signedIn<ChangeParts>(async (asked) => {
  const body = await bodyOf(asked.request, pickRequest);
  if (!body.ok) return refused(body.refusal);
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  const picked = await pick(asked.lens, asked.person, found.value.change, body.value);
  return picked.ok ? new Response(null, { status: 204 }) : refused(picked.refusal);
});
