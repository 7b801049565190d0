import { atLeast, type Role } from "@/core/review/roles";
import { wrongRefNames } from "@/core/rules/ref-name";
import { guardOf, type Rules } from "@/core/rules/rule";
import { isAncestor } from "@/git/history/commits";
import { handedFor } from "@/git/ledger";
import { branchCommit, branches, refNames, resolveCommit } from "@/git/repository";
import { roleOf } from "../../access/people";
import type { Repository } from "../../access/repositories";
import type { AppContext } from "../../app/context";
import { openWith } from "../../changes/open-changes";
import { announceMoves, type RefMove } from "../../refs/moves";
import { rulesOf } from "../../rules/rules";
import { readOptions } from "./options";
import { branchOf, isNone, ledgerOf, type Push, pusherIn } from "./push";

/** Why a push may not be, in lines for the terminal; null when it may. All of it is refused or none. */
export async function beforePush(app: AppContext, push: Push): Promise<string | null> {
  const who = await pusherIn(app, push);
  if (!who.ok) return who.refusal.reason;
  const { person, repository, folder } = who.value;
  const options = readOptions(push.options);
  if (!options.ok) return options.refusal.reason;
  const rules = await rulesOf(app.db, repository.id);
  const role = await roleOf(app.db, person.id, repository.id);
  const place = { app, repository, folder, rules, role };
  const reasons = await wrongNames(folder, push.updates);
  for (const move of push.updates) {
    const branch = branchOf(move.ref);
    if (move.ref.startsWith("refs/lens/")) {
      reasons.push(...wrongLedger(repository, move));
      continue;
    }
    const wrong = branch === null ? wrongTag(place, move) : await wrongBranch(place, branch, move);
    reasons.push(...wrong);
  }
  if (reasons.length > 0) return [...new Set(reasons)].join("\n");
  // From here on it is known who means to move them; whether git did is noted when it tells.
  await announceMoves(app, repository.id, person.id, push.updates);
  return null;
}

interface Place {
  app: AppContext;
  repository: Repository;
  folder: string;
  rules: Rules;
  role: Role | null;
}

/** A ledger grows, and is never taken away. What comes into it is looked at when it is here. */
function wrongLedger(repository: Repository, { ref, next }: RefMove): string[] {
  if (ledgerOf(ref) === null && (handedFor(ref) === null || isNone(next)))
    return [`${ref}: reviews are in refs/lens/ledger, each under the id of its change set.`];
  if (isNone(next)) return [`${ref}: the record of a review cannot be deleted.`];
  return repository.ledger ? [] : [`${ref}: reviews of ${repository.name} are not kept in the repository.`];
}

/** Names that something is made under; what is there already keeps its name, and can be deleted. */
async function wrongNames(folder: string, updates: readonly RefMove[]): Promise<string[]> {
  const known = await refNames(folder);
  const named = updates.filter(({ ref }) => !ref.startsWith("refs/lens/"));
  const made = named.filter(({ old }) => isNone(old)).map(({ ref }) => ref);
  // What comes with the same push is known too.
  const names = {
    branches: [...known.branches, ...made.flatMap((ref) => branchOf(ref) ?? [])],
    tags: [...known.tags, ...made.flatMap((ref) => /^refs\/tags\/(.+)$/s.exec(ref)?.[1] ?? [])],
  };
  const asked = named.filter(({ ref, old }) => isNone(old) || !/^refs\/(?:heads|tags)\//.test(ref));
  return wrongRefNames(
    asked.map(({ ref }) => ref),
    names,
  );
}

function wrongTag({ rules, role }: Place, { ref, old, next }: RefMove): string[] {
  if (!ref.startsWith("refs/tags/")) return [];
  const action = isNone(old) ? "create" : isNone(next) ? "delete" : "move";
  const needed = rules.tags[action];
  if (needed !== "nobody" && atLeast(role, needed)) return [];
  const name = ref.slice("refs/tags/".length);
  return [`${name}: tags are ${PAST[action]} here by ${needed === "nobody" ? "nobody" : `${needed}s only`}.`];
}

const PAST = { create: "made", move: "moved", delete: "deleted" };

async function wrongBranch(place: Place, branch: string, { old, next }: RefMove): Promise<string[]> {
  const { app, repository, folder, rules } = place;
  const reasons: string[] = [];
  const gone = isNone(next);
  const rule = guardOf(rules, branch);
  if (gone && branch === repository.defaultBranch) reasons.push(`${branch}: the default branch cannot be deleted.`);
  else if (rule && !(await mayBegin(place, branch, next, old))) {
    const why = gone ? "this branch cannot be deleted" : "changes reach this branch by a change set only";
    reasons.push(
      `${branch}: ${why} (the rule for ${rule.branches}). Push your work to a branch of its own, and offer it:\n  git push -o title="What it does" -o target=${branch} origin HEAD:my-branch`,
    );
  }
  const [offered] = await openWith(app.db, repository.id, "source", branch);
  const [aimed] = gone ? await openWith(app.db, repository.id, "target", branch) : [];
  if (gone && offered)
    reasons.push(
      `${branch}: change set ${offered.number} offers this branch. Withdraw or merge it, then delete the branch.`,
    );
  else if (aimed)
    reasons.push(
      `${branch}: change set ${aimed.number} is offered to this branch. Offer it to another or withdraw it, then delete the branch.`,
    );
  else if (!isNone(old) && !gone && offered) {
    const target = await branchCommit(folder, offered.target);
    if (target && next === target)
      reasons.push(
        `${branch}: that would leave nothing of change set ${offered.number}: it is what ${offered.target} has already.`,
      );
  }
  return reasons;
}

/**
 * Whether a branch that a rule guards may come into being by a push: the first branch of a repository, and one that brings nothing that is
 * not in another guarded branch already, such as a release made from the main branch.
 */
async function mayBegin({ folder, rules }: Place, branch: string, next: string, old: string): Promise<boolean> {
  if (!isNone(old) || isNone(next)) return false;
  const known = await branches(folder);
  if (known.length === 0) return true;
  // What is being pushed is not in the repository yet: a commit that is unknown there is new.
  if ((await resolveCommit(folder, next)) === null) return false;
  for (const { name, commit } of known) {
    if (name !== branch && guardOf(rules, name) && (await isAncestor(folder, next, commit))) return true;
  }
  return false;
}
