import type { ChangeSet } from "@/core/review/state";
import { type Brought, broughtTo } from "@/git/history/brought";
import { firstParent, isAncestor } from "@/git/history/commits";
import { among } from "@/store/among";
import { loadChangeSets } from "@/store/log";
import type { AppContext } from "../app/context";

/**
 * The change sets that brought some commits into the history of `to`: of those that messages on their way name, the ones that really did. Commits of
 * which none is known are not in the answer.
 */
export async function agreedIn(
  app: AppContext,
  folder: string,
  repository: string,
  commits: readonly string[],
  to: string,
  signal?: AbortSignal,
): Promise<Map<string, ChangeSet>> {
  const brought = await broughtTo(folder, new Set(commits), to, signal);
  const changes = await mergedOf(app, repository, [...brought.values()].flat());
  const result = new Map<string, ChangeSet>();
  for (const [commit, candidates] of brought)
    for (const { by, numbers } of candidates)
      for (const number of numbers) {
        const change = result.has(commit) ? undefined : changes.get(number);
        if (change && (await isBroughtBy(folder, change, commit, by))) result.set(commit, change);
      }
  return result;
}

/** The merged change sets of a repository that are named, by their numbers. */
async function mergedOf(
  app: AppContext,
  repository: string,
  brought: readonly Brought[],
): Promise<Map<number, ChangeSet>> {
  const numbers = [...new Set(brought.flatMap((one) => one.numbers))];
  if (numbers.length === 0) return new Map();
  const rows = await app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", repository)
    .where("number", "in", among(numbers))
    .where("state", "=", "merged")
    .execute();
  const changes = await loadChangeSets(
    app.db,
    rows.map(({ id }) => id),
  );
  return new Map(changes.map((change) => [change.number, change]));
}

/** A message may say anything: a commit came with a change set when its merging has it and what was there before has not. */
async function isBroughtBy(folder: string, change: ChangeSet, commit: string, by: string): Promise<boolean> {
  const merged = change.settled?.commit;
  if (!merged) return false;
  // That a merge brought it was seen in the history itself.
  if (merged === commit || merged === by) return true;
  return (
    (await isAncestor(folder, commit, merged)) && !(await isAncestor(folder, commit, await firstParent(folder, merged)))
  );
}
