import { type ChangeSet, newest } from "@/core/review/state";
import { guardOf } from "@/core/rules/rule";
import { deleteBranch } from "@/git/merge";
import { branchCommit } from "@/git/repository";
import type { Lens } from "../app/lens";
import { forgetShown } from "../reading/shown";
import { ruleFor, rulesOf } from "../rules/rules";
import { noteMove } from "./moves";

/**
 * Deletes the branch of a merged change set where the rule says so. Never one that a rule guards, the default branch, one that others
 * offer or are offered to, nor one to which something came after the merge.
 */
export async function tidy(lens: Lens, change: ChangeSet, folder: string): Promise<void> {
  const { repository, source } = change;
  if (!(await ruleFor(lens.db, repository, change.target)).deleteSource) return;
  if (guardOf(await rulesOf(lens.db, repository), source)) return;
  const home = await lens.db
    .selectFrom("repositories")
    .select("id")
    .where("id", "=", repository)
    .where("default_branch", "=", source)
    .executeTakeFirst();
  if (home) return;
  const others = await lens.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", repository)
    .where((where) => where.or([where("source", "=", source), where("target", "=", source)]))
    .where("state", "in", ["open", "draft"])
    .execute();
  const { head } = newest(change);
  if (others.length > 0 || (await branchCommit(folder, source)) !== head) return;
  if (await deleteBranch(folder, source, head)) {
    forgetShown(lens, folder);
    const move = { ref: `refs/heads/${source}`, old: head, next: "0".repeat(head.length) };
    await noteMove(lens, lens.db, { ...move, repository, person: change.settled?.by ?? null, way: "tidied" });
  }
}
