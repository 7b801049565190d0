import { done, type Outcome, refuse } from "@/core/outcome";
import { type ChangeSet, newest } from "@/core/review/state";
import { evaluateGate } from "@/core/rules/gate";
import { guardOf, type Rules } from "@/core/rules/rule";
import { branchCommit, branches, isAncestor, mergeBase, resolveCommit } from "@/git/repository";
import { loadChangeSet } from "@/store/log";
import { openChange, revise } from "./changes";
import { coursesOf } from "./courses";
import { factsFor } from "./facts";
import type { Lens } from "./lens";
import { findPerson, type Person } from "./people";
import { enter, type Repository } from "./repositories";
import { rulesOf } from "./rules";

/** A push, as its hooks tell of it. */
export interface Push {
  person: string;
  repository: string;
  updates: { old: string; next: string; ref: string }[];
  options: string[];
}

const NOTHING = /^0+$/;

interface Pusher {
  person: Person;
  repository: Repository;
  folder: string;
}

async function pusher(lens: Lens, push: Push): Promise<Outcome<Pusher>> {
  const person = await findPerson(lens.db, push.person);
  if (!person) return refuse("forbidden", "Nobody of that name can push here.");
  const entered = await enter(lens, person, push.repository);
  return entered.ok ? done({ person, ...entered.value }) : entered;
}

/** Why a push may not be, in lines for the terminal; null when it may. All of it is refused or none. */
export async function beforePush(lens: Lens, push: Push): Promise<string | null> {
  const who = await pusher(lens, push);
  if (!who.ok) return who.refusal.reason;
  const { repository, folder } = who.value;
  const rules = await rulesOf(lens.db, repository.id);
  const reasons: string[] = [];
  for (const { old, next, ref } of push.updates) {
    const [, branch] = /^refs\/heads\/(.+)$/.exec(ref) ?? [];
    if (!branch) {
      if (!ref.startsWith("refs/tags/")) reasons.push(`${ref}: only branches and tags can be pushed here.`);
      continue;
    }
    const rule = guardOf(rules, branch);
    if (rule && !(await mayBegin(folder, rules, branch, next, old))) {
      const why = NOTHING.test(next)
        ? "this branch cannot be deleted"
        : "changes reach this branch by a change set only";
      reasons.push(
        `${branch}: ${why} (the rule for ${rule.branches}). Push your work to a branch of its own, and offer it:\n  git push -o title="What it does" -o target=${branch} origin HEAD:my-branch`,
      );
    }
    const open = await openFrom(lens, repository, branch);
    if (NOTHING.test(next) && open.length > 0) {
      const [{ number }] = open;
      reasons.push(`${branch}: change set ${number} offers this branch. Withdraw or merge it, then delete the branch.`);
    } else if (!NOTHING.test(old) && !NOTHING.test(next) && open.length > 0) {
      const [{ number, target }] = open;
      const targetHead = await branchCommit(folder, target);
      if (targetHead && next === targetHead)
        reasons.push(`${branch}: that would leave nothing of change set ${number}: it is what ${target} has already.`);
    }
  }
  return reasons.length > 0 ? reasons.join("\n") : null;
}

/**
 * Whether a branch that a rule guards may come into being by a push: the first branch of a repository, and one that brings nothing that is
 * not in another guarded branch already, such as a release made from the main branch.
 */
async function mayBegin(folder: string, rules: Rules, branch: string, next: string, old: string): Promise<boolean> {
  if (!NOTHING.test(old) || NOTHING.test(next)) return false;
  const known = await branches(folder);
  if (known.length === 0) return true;
  // What is being pushed is not in the repository yet: a commit that is unknown there is new.
  if ((await resolveCommit(folder, next)) === null) return false;
  for (const { name, commit } of known) {
    if (name !== branch && guardOf(rules, name) && (await isAncestor(folder, next, commit))) return true;
  }
  return !known.some(({ name }) => guardOf(rules, name));
}

/** Records what a push means for change sets, and gives the lines for the terminal. */
export async function afterPush(lens: Lens, push: Push): Promise<string[]> {
  const who = await pusher(lens, push);
  if (!who.ok) return [who.refusal.reason];
  // One push of a repository after the other, so that revisions come in the order of the pushes.
  return lens.inTurn(`push ${who.value.repository.id}`, () => record(lens, push, who.value));
}

async function record(lens: Lens, push: Push, { person, repository, folder }: Pusher): Promise<string[]> {
  const said: string[] = [];
  const address = lens.settings.address ?? `http://localhost:${lens.settings.port}`;
  for (const { next, ref } of push.updates) {
    const [, branch] = /^refs\/heads\/(.+)$/.exec(ref) ?? [];
    if (!branch || NOTHING.test(next)) continue;
    const open = await openFrom(lens, repository, branch);
    for (const { id, number, target } of open) {
      const change = await loadChangeSet(lens.db, id);
      const targetHead = await branchCommit(folder, target);
      const base = targetHead && (await mergeBase(folder, targetHead, next));
      if (!change || !targetHead || !base) {
        said.push(
          `${branch} and ${target} have no history in common: change set ${number} stays at its last revision.`,
        );
        continue;
      }
      const { head } = newest(change);
      // A later push may have been recorded first; this one is part of it then.
      if (next === head || (await isAncestor(folder, next, head))) continue;
      const revised = await revise(lens, person, change, folder, { head: next, target: targetHead, base });
      said.push(
        revised.ok
          ? `r${newest(revised.value).number} of change set ${number}: ${address}/r/${repository.name}/c/${number}`
          : `No new revision of change set ${number}: ${revised.refusal.reason}`,
      );
      // Followed now, so that the first who looks does not wait for it.
      if (revised.ok)
        coursesOf(lens, folder, revised.value).catch((error) =>
          lens.log.warn({ err: error }, "threads could not be followed"),
        );
      if (revised.ok) said.push(...(await stillNeeded(lens, person, revised.value)));
    }
    if (open.length > 0) continue;
    const options = readOptions(push.options);
    if (options.title === undefined) {
      if (branch !== repository.default_branch)
        said.push(
          `Offer ${branch} for review: ${address}/r/${repository.name}/open?source=${encodeURIComponent(branch)}`,
        );
      continue;
    }
    const opened = await openChange(lens, person, repository.name, {
      source: branch,
      target: options.target ?? repository.default_branch,
      title: options.title,
      description: options.description ?? "",
      draft: options.draft !== undefined,
    });
    said.push(
      opened.ok
        ? `${options.draft === undefined ? "Change set" : "Draft of change set"} ${opened.value.number}: ${address}/r/${repository.name}/c/${opened.value.number}`
        : `No change set was opened: ${opened.refusal.reason}`,
    );
  }
  return said;
}

/** What the gate still lacks, for the terminal. */
async function stillNeeded(lens: Lens, person: Person, change: ChangeSet): Promise<string[]> {
  const { rule, gate: facts } = await factsFor(lens, lens.db, change, person);
  const { conditions } = evaluateGate(change, rule, facts);
  return conditions.filter(({ met }) => !met).map(({ says }) => `  not met: ${says}`);
}

/** Push options of the form `name=value`; `draft` needs no value. */
function readOptions(
  options: readonly string[],
): Partial<Record<"title" | "target" | "description" | "draft", string>> {
  const known: Partial<Record<string, string>> = {};
  for (const option of options) {
    const [, name, value] =
      /^(title|target|description|draft)=([\s\S]*)$/.exec(option === "draft" ? "draft=" : option) ?? [];
    if (name) known[name] = value;
  }
  return known;
}

async function openFrom(lens: Lens, repository: Repository, branch: string) {
  return lens.db
    .selectFrom("change_sets")
    .select(["id", "number", "target"])
    .where("repository", "=", repository.id)
    .where("source", "=", branch)
    .where("state", "in", ["open", "draft"])
    .execute();
}
