import { readContentKey } from "@/core/diff/tree";
import { refuse } from "@/core/outcome";
import { enter } from "@/server/access/repositories";
import { readyJson, refused, signedIn } from "@/server/app/http";
import { fileView } from "@/server/reading/reading";
import { mayServe } from "@/server/reading/shown";

/** The id of the blob in a key; null for a pointer, whose commit is in another repository. */
function blobOf(key: string | null): string | null {
  const read = key === null ? null : readContentKey(key);
  return read && read.kind !== "pointer" ? read.id : null;
}

/** The contents of two sides compared, with their text. Either may be left out, for a file that was added or deleted. */
export const GET = signedIn<{ repo: string }>(async ({ url, parts, lens, person }) => {
  const entered = await enter(lens, person, parts.repo);
  if (!entered.ok) return refused(entered.refusal);
  const oldKey = url.searchParams.get("old") || null;
  const newKey = url.searchParams.get("new") || null;
  const wrong =
    [oldKey, newKey].some((key) => key !== null && !readContentKey(key)) || (oldKey === null && newKey === null);
  if (wrong)
    return refused(
      refuse("invalid", "Give the contents of one side or of both: the id of a blob, or pointer-ID.").refusal,
    );
  const may = await mayServe(lens, entered.value.folder, [blobOf(oldKey), blobOf(newKey)]);
  if (!may.ok) return refused(may.refusal);
  return readyJson(await fileView(lens, entered.value.folder, oldKey, newKey), true);
});
