import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { authorOrKeeper } from "@/core/review/guards";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import { guardOf } from "@/core/rules/rule";
import { deleteBranch } from "@/git/merge";
import { branchCommit } from "@/git/repository";
import { roleOf } from "../access/people";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { forgetShown } from "../reading/shown";
import { ruleFor, rulesOf } from "../rules/rules";
import { noteMove } from "./moves";

/** Deletes the branch of a merged change set where the rule says so, and nothing speaks against it. */
export async function tidy(app: AppContext, change: ChangeSet, folder: string): Promise<void> {
  if (!(await ruleFor(app.db, change.repository, change.target)).deleteSource) return;
  if ((await whyKept(app, change, folder)) === null) await remove(app, change, folder, change.settled?.by ?? null);
}

/** Deletes the branch of a settled change set for someone who asks for it. */
export async function removeSource(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
): Promise<Outcome<null>> {
  const role = await roleOf(app.db, person.id, change.repository);
  const wrong = authorOrKeeper(change, { id: person.id, role }, "remove its branch");
  if (wrong) return wrong;
  if (goesOn(change)) return refuse("conflict", "It is not settled yet: its branch is still needed.");
  const why = await whyKept(app, change, folder);
  if (why !== null) return refuse("conflict", why);
  await remove(app, change, folder, person.id);
  return done(null);
}

/** The branch of a settled change set is still there, as its newest revision left it. */
export async function isSourceLeft(change: ChangeSet, folder: string): Promise<boolean> {
  return !goesOn(change) && (await branchCommit(folder, change.source)) === newest(change).head;
}

/**
 * Why the branch of a settled change set stays, in a sentence; null where it can go. It stays where a rule guards it, where it is the
 * default branch or one that others offer or are offered to, and when something came to it since.
 */
async function whyKept(app: AppContext, { repository, source, ...change }: ChangeSet, folder: string) {
  if (guardOf(await rulesOf(app.db, repository), source)) return `A rule guards ${source}.`;
  const home = await app.db
    .selectFrom("repositories")
    .select("id")
    .where("id", "=", repository)
    .where("default_branch", "=", source)
    .executeTakeFirst();
  if (home) return `${source} is the branch that people begin with here.`;
  const other = await app.db
    .selectFrom("change_sets")
    .select("number")
    .where("repository", "=", repository)
    .where((where) => where.or([where("source", "=", source), where("target", "=", source)]))
    .where("state", "in", ["open", "draft"])
    .executeTakeFirst();
  if (other) return `Change set ${other.number} is about ${source}, too.`;
  const tip = await branchCommit(folder, source);
  if (tip === null) return `${source} is gone already.`;
  return tip === newest(change).head ? null : `Something came to ${source} since: that would be lost.`;
}

async function remove(app: AppContext, change: ChangeSet, folder: string, person: string | null): Promise<void> {
  const { head } = newest(change);
  if (!(await deleteBranch(folder, change.source, head))) return;
  forgetShown(app, folder);
  const move = { ref: `refs/heads/${change.source}`, old: head, next: "0".repeat(head.length) };
  await noteMove(app, app.db, { ...move, repository: change.repository, person, way: "tidied" });
}
