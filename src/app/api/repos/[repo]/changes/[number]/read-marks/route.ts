import { readMarkRequest } from "@/core/api";
import { bodyOf, numberOf, refused, signedIn } from "@/server/app/http";
import { findChange } from "@/server/changes/changes";
import { markLooked, markRead } from "@/server/reading/reading";

export const PUT = signedIn<{ repo: string; number: string }>(async ({ request, parts, lens, person }) => {
  const body = await bodyOf(request, readMarkRequest);
  if (!body.ok) return refused(body.refusal);
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  const { change, folder } = found.value;
  if ("looked" in body.value) await markLooked(lens, person, change, body.value);
  else await markRead(lens, person, change, folder, body.value);
  return new Response(null, { status: 204 });
});
