import { isObjectId } from "@/core/diff/tree";
import { refuse } from "@/core/outcome";
import { enter } from "@/server/access/repositories";
import { readyJson, refused, signedIn } from "@/server/app/http";
import { mayServe } from "@/server/reading/shown";

/** The syntax colours of a blob, in the language that its path tells. */
export const GET = signedIn<{ repo: string }>(async ({ url, parts, lens, person }) => {
  const entered = await enter(lens, person, parts.repo);
  if (!entered.ok) return refused(entered.refusal);
  const id = url.searchParams.get("id") ?? "";
  const path = url.searchParams.get("path") ?? "";
  if (!isObjectId(id)) return refused(refuse("invalid", "Give the object id of a blob.").refusal);
  const may = await mayServe(lens, entered.value.folder, [id]);
  if (!may.ok) return refused(may.refusal);
  return readyJson(await lens.workers.colour({ folder: entered.value.folder, id, path }), true);
});
