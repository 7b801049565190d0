import { answer, signedIn } from "@/server/app/http";
import { previewChange } from "@/server/changes/changes";

/** What opening a change set from `source` into `target` would give. */
export const GET = signedIn<{ repo: string }>(async ({ url, parts, lens, person }) => {
  const point = (name: string) => url.searchParams.get(name) ?? "";
  return answer(await previewChange(lens, person, parts.repo, point("source"), point("target")));
});
