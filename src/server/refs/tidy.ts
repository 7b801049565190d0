import { type ChangeSet, newest } from "@/core/review/state";
import { guardOf } from "@/core/rules/rule";
import { deleteBranch } from "@/git/merge";
import { branchCommit } from "@/git/repository";
import type { AppContext } from "../app/context";
import { forgetShown } from "../reading/shown";
import { ruleFor, rulesOf } from "../rules/rules";
import { noteMove } from "./moves";

/**
 * Deletes the branch of a merged change set where the rule says so. Never one that a rule guards, the default branch, one that others
 * offer or are offered to, nor one to which something came after the merge.
 */
export async function tidy(app: AppContext, change: ChangeSet, folder: string): Promise<void> {
  const { repository, source } = change;
  if (!(await ruleFor(app.db, repository, change.target)).deleteSource) return;
  if (guardOf(await rulesOf(app.db, repository), source)) return;
  const home = await app.db
    .selectFrom("repositories")
    .select("id")
    .where("id", "=", repository)
    .where("default_branch", "=", source)
    .executeTakeFirst();
  if (home) return;
  const others = await app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", repository)
    .where((where) => where.or([where("source", "=", source), where("target", "=", source)]))
    .where("state", "in", ["open", "draft"])
    .execute();
  const { head } = newest(change);
  if (others.length > 0 || (await branchCommit(folder, source)) !== head) return;
  if (await deleteBranch(folder, source, head)) {
    forgetShown(app, folder);
    const move = { ref: `refs/heads/${source}`, old: head, next: "0".repeat(head.length) };
    await noteMove(app, app.db, { ...move, repository, person: change.settled?.by ?? null, way: "tidied" });
  }
}
