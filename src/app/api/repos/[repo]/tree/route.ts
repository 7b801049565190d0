import { answer, signedIn } from "@/server/app/http";
import { filesAt } from "@/server/reading/files-at";

/** The paths of all files of a commit, with their blobs: to open one that did not change. */
export const GET = signedIn<{ repo: string }>(async ({ url, parts, lens, person }) =>
  answer(await filesAt(lens, person, parts.repo, url.searchParams.get("at") ?? "")),
);
