import type { ReadingView } from "@/core/api";
import { findChange } from "@/server/changes";
import { numberOf, refused, signedIn } from "@/server/http";
import { filesBetween, pointsOf, readingFor } from "@/server/reading";

/** The files between two points of a change set. */
export const GET = signedIn<{ repo: string; number: string }>(async ({ url, parts, lens, person }) => {
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  const from = url.searchParams.get("from") ?? "base";
  const to = url.searchParams.get("to") ?? `r${found.value.change.revisions.length}`;
  const points = pointsOf(found.value.change, from, to);
  if (!points.ok) return refused(points.refusal);
  const files = await filesBetween(found.value.folder, points.value);
  const view: ReadingView = { from, to, files: await readingFor(lens, person, found.value.change, files) };
  return Response.json(view);
});
