import { findChange } from "@/server/changes";
import { numberOf, refused, signedIn } from "@/server/http";
import { classesOf, pointsOf } from "@/server/reading";

/** Which lines of one file are quiet, and why. */
export const GET = signedIn<{ repo: string; number: string }>(async ({ url, parts, lens, person }) => {
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  const { change, folder } = found.value;
  const points = await pointsOf(
    change,
    folder,
    url.searchParams.get("from") ?? "base",
    url.searchParams.get("to") ?? "",
  );
  if (!points.ok) return refused(points.refusal);
  return Response.json(await classesOf(lens, folder, points.value, url.searchParams.get("path") ?? ""));
});
