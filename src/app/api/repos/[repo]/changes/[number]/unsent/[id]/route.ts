import { unsentRequest } from "@/core/api";
import { answer, bodyOf, numberOf, refused, signedIn } from "@/server/app/http";
import { findChange } from "@/server/changes/changes";
import { dropUnsent, keepUnsent } from "@/server/changes/unsent";

type Parts = { repo: string; number: string; id: string };

/** Keeps a note as it is typed. */
export const PUT = signedIn<Parts>(async ({ request, parts, lens, person }) => {
  const body = await bodyOf(request, unsentRequest);
  if (!body.ok) return refused(body.refusal);
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  return answer(await keepUnsent(lens, person, found.value.change, found.value.folder, parts.id, body.value));
});

export const DELETE = signedIn<Parts>(async ({ parts, lens, person }) => {
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  return answer(await dropUnsent(lens, person, found.value.change, parts.id));
});
