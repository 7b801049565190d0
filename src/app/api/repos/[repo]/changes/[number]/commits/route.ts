import { numberOf, refused, signedIn } from "@/server/app/http";
import { commitsOf, findChange } from "@/server/changes/changes";

/** The commits of a revision, the newest first. */
export const GET = signedIn<{ repo: string; number: string }>(async ({ url, parts, lens, person }) => {
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  const commits = await commitsOf(found.value.change, found.value.folder, url.searchParams.get("revision") ?? "");
  return commits ? Response.json(commits) : refused({ code: "missing", reason: "There is no such revision." });
});
