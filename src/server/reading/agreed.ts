import type { ChangeSet } from "@/core/review/state";
import { trailersIn } from "@/core/work/trailers";
import { messagesTowards } from "@/git/blame";
import { firstParent, isAncestor } from "@/git/repository";
import { loadChangeSet } from "@/store/log";
import type { AppContext } from "../app/context";

/**
 * The change set that brought a commit into the history of `to`: one of those that messages on its way name, and that really did. Null where none
 * is known.
 */
export async function agreedIn(
  app: AppContext,
  folder: string,
  repository: string,
  commit: string,
  to: string,
): Promise<ChangeSet | null> {
  const numbers = (await messagesTowards(folder, commit, to)).flatMap((message) =>
    trailersIn(message).flatMap(({ key, value }) => (key.toLowerCase() === "change-set" ? [Number(value)] : [])),
  );
  for (const number of new Set(numbers)) {
    if (!Number.isSafeInteger(number)) continue;
    const row = await app.db
      .selectFrom("change_sets")
      .select("id")
      .where("repository", "=", repository)
      .where("number", "=", number)
      .where("state", "=", "merged")
      .executeTakeFirst();
    const change = row && (await loadChangeSet(app.db, row.id));
    if (change && (await broughtBy(folder, change, commit))) return change;
  }
  return null;
}

/** A message may say anything: a commit came with a change set when its merging has it and what was there before has not. */
async function broughtBy(folder: string, change: ChangeSet, commit: string): Promise<boolean> {
  const merged = change.settled?.commit;
  if (!merged) return false;
  if (merged === commit) return true;
  return (
    (await isAncestor(folder, commit, merged)) && !(await isAncestor(folder, commit, await firstParent(folder, merged)))
  );
}
