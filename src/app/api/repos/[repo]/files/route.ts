import { readContentKey } from "@/core/diff/tree";
import { refuse } from "@/core/plain/outcome";
import { enter } from "@/server/access/repositories";
import { readyJson } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";
import { fileView } from "@/server/reading/reading";
import { mayServe } from "@/server/reading/shown";

/** The id of the blob in a key; null for a pointer, whose commit is in another repository. */
function blobOf(key: string | null): string | null {
  const read = key === null ? null : readContentKey(key);
  return read && read.kind !== "pointer" ? read.id : null;
}

export const GET = serve("GET /api/repos/{repo}/files", async ({ query, parts, app, person }) => {
  const entered = await enter(app, person, parts.repo);
  if (!entered.ok) return entered;
  const { folder } = entered.value;
  const [oldKey, newKey] = [query.old || null, query.new || null];
  const wrong =
    [oldKey, newKey].some((key) => key !== null && !readContentKey(key)) || (oldKey === null && newKey === null);
  if (wrong) return refuse("invalid", "Give the contents of one side or of both: the id of a blob, or pointer-ID.");
  const may = await mayServe(app, folder, [blobOf(oldKey), blobOf(newKey)]);
  if (!may.ok) return may;
  return readyJson(await fileView(app, folder, oldKey, newKey), true);
});
