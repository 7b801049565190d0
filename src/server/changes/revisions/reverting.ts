import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { listed } from "@/core/plain/words";
import { atLeast, type Role } from "@/core/review/roles";
import type { ChangeSet } from "@/core/review/state";
import { guardOf } from "@/core/rules/rule";
import { deleteBranch, makeBranch, mergeWithBase, writeCommit } from "@/git/merge";
import { branchCommit } from "@/git/repository";
import { eventsOf } from "@/store/log";
import type { Person } from "../../access/person";
import type { AppContext } from "../../app/context";
import { announceMoves, confirmMoves } from "../../refs/moves";
import { rulesOf } from "../../rules/rules";
import { openChange } from "./opening";

/** Offers a new change set that takes a merged one back: a commit on a branch of its own that undoes all that the merge brought. */
export async function takeBack(
  app: AppContext,
  person: Person,
  role: Role,
  repositoryName: string,
  change: ChangeSet,
  folder: string,
): Promise<Outcome<ChangeSet>> {
  if (!atLeast(role, "contributor"))
    return refuse("forbidden", "Only contributors and keepers can take a change set back.");
  const merged = (await eventsOf(app.db, change.id)).findLast(({ kind }) => kind === "merged");
  if (merged?.kind !== "merged") return refuse("conflict", "Only what was merged can be taken back.");
  const { commit, target: before } = merged.data;
  const tip = await branchCommit(folder, change.target);
  if (!tip) return refuse("missing", `There is no branch “${change.target}” any more.`);
  const by = { name: person.fullName, email: person.email, at: app.now() };
  const undone = await mergeWithBase(folder, commit, tip, before);
  if (!undone.clean)
    return refuse(
      "conflict",
      `Later changes touch the same lines in ${listed(undone.paths.slice(0, 5))}: it has to be taken back by hand.`,
    );
  const title = `Take back change set ${change.number}: ${change.title}`.slice(0, 200);
  const message = `${title}\n\nThis reverts ${commit}.\n`;
  const made = await writeCommit(folder, { tree: undone.tree, parents: [tip], message, by });
  const rules = await rulesOf(app.db, change.repository);
  const moveOf = (branch: string) => [{ ref: `refs/heads/${branch}`, old: "0".repeat(made.length), next: made }];
  const announced = (branch: string) => announceMoves(app, change.repository, person.id, moveOf(branch), "take-back");
  const name = `take-back-${change.number}`;
  if (guardOf(rules, name))
    return refuse("conflict", `A rule guards branches such as ${name}: it has to be taken back by hand.`);
  const source = await freeBranch(folder, name, made, announced);
  const opened = await openChange(app, person, repositoryName, {
    source,
    target: change.target,
    title,
    description: `Undoes what change set ${change.number} brought (commit ${commit.slice(0, 12)}).`,
  });
  // A branch that nothing offers is of no use to anyone. What is cut short here is tidied later: see dropUnoffered.
  if (opened.ok) await confirmMoves(app, change.repository, person.id, moveOf(source));
  else await deleteBranch(folder, source, made);
  return opened.ok ? done(opened.value) : opened;
}

/** A branch of this name, or with a number behind it where that is taken; who makes it is noted before. */
async function freeBranch(
  folder: string,
  name: string,
  at: string,
  announce: (branch: string) => Promise<void>,
): Promise<string> {
  for (let n = 1; ; n++) {
    const branch = n === 1 ? name : `${name}-${n}`;
    await announce(branch);
    if (await makeBranch(folder, branch, at)) return branch;
    if (n > 100) throw new Error(`No branch of the name ${name} could be made.`);
  }
}
