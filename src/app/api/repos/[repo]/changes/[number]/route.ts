import { commandRequest } from "@/core/review/families";
import { bodyOf, numberOf, refused, signedIn } from "@/server/app/http";
import { findChange } from "@/server/changes/changes";
import { carryOut } from "@/server/changes/requests";
import { changeView } from "@/server/changes/views";

type Parts = { repo: string; number: string };

export const GET = signedIn<Parts>(async ({ parts, lens, person }) => {
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  return Response.json(await changeView(lens, person, found.value.repository, found.value.change));
});

/** Carries a command out and answers with the change set as it is then. */
export const POST = signedIn<Parts>(async ({ request, parts, lens, person }) => {
  const body = await bodyOf(request, commandRequest);
  if (!body.ok) return refused(body.refusal);
  const done = await carryOut(lens, person, parts.repo, numberOf(parts.number), body.value);
  if (!done.ok) return refused(done.refusal);
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  return Response.json(await changeView(lens, person, found.value.repository, found.value.change));
});
