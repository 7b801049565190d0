import { findChange } from "@/server/changes";
import { numberOf, refused, signedIn } from "@/server/http";
import { pointsOf, readingFor } from "@/server/reading";

/** The files between two points of a change set; with `whole`, only when all of it has been compared. */
export const GET = signedIn<{ repo: string; number: string }>(async ({ url, parts, lens, person }) => {
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  const { change, folder } = found.value;
  const name = {
    from: url.searchParams.get("from") ?? "base",
    to: url.searchParams.get("to") ?? `r${change.revisions.length}`,
  };
  const points = await pointsOf(change, folder, name.from, name.to);
  if (!points.ok) return refused(points.refusal);
  return Response.json(
    await readingFor(lens, person, change, folder, name, points.value, url.searchParams.has("whole")),
  );
});
