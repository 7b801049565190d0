import { isObjectId } from "@/core/diff/tree";
import { refuse } from "@/core/outcome";
import { readyJson, refused, signedIn } from "@/server/http";
import { fileView } from "@/server/reading";
import { enter } from "@/server/repositories";

/** Two blobs compared, with their text. Either may be left out, for a file that was added or deleted. */
export const GET = signedIn<{ repo: string }>(async ({ url, parts, lens, person }) => {
  const entered = await enter(lens, person, parts.repo);
  if (!entered.ok) return refused(entered.refusal);
  const oldId = url.searchParams.get("old") || null;
  const newId = url.searchParams.get("new") || null;
  const wrong = [oldId, newId].some((id) => id !== null && !isObjectId(id)) || (oldId === null && newId === null);
  if (wrong) return refused(refuse("invalid", "Give the object ids of one blob or of two.").refusal);
  return readyJson(await fileView(lens, entered.value.folder, oldId, newId), true);
});
