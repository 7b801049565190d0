import { done, type Outcome, refuse } from "@/core/outcome";
import { type ChangeSet, newest } from "@/core/review/state";
import { firstParent, isAncestor, namedCommits, resolveCommit } from "@/git/repository";
import type { Person } from "../access/people";
import type { Lens } from "../app/lens";
import { baseOf, carriedTo, seenBy } from "./since";

/** The two states that a reading compares: commits, or trees. */
export interface Points {
  from: string;
  to: string;
  /** The commit whose settings count, such as what it takes for generated: the target's, so that no author decides what is read of them. */
  settings: string;
}

/** Points, and what had to be done to come to them. */
export interface FoundPoints extends Points {
  /** Files in which an earlier revision and what came from the target could not be brought together: compared as they were. */
  conflicts: string[];
  /** How many files hold nothing new to who asks; null where the reading is not theirs alone. */
  leftOut: number | null;
  /** In how many files something was left out that is in the target already, made alike there. */
  merged?: number;
}

/**
 * From names to states: "base", "r1", "r2" …, "read" for what the person who asks has seen, and for single commits of the change set
 * "before:ID" (the state its first parent left) and "at:ID"; "live:NAME" for a branch or tag as a yardstick. A reading from the base compares with the merge base of its own revision; one
 * between revisions leaves out what came from the target in between.
 */
export async function pointsOf(
  lens: Lens,
  person: Person,
  change: ChangeSet,
  folder: string,
  from: string,
  to: string,
): Promise<Outcome<FoundPoints>> {
  const settings = (change.revisions.find(({ number }) => `r${number}` === to) ?? newest(change)).target;
  const end = change.revisions.find(({ number }) => `r${number}` === to);
  const start = change.revisions.find(({ number }) => `r${number}` === from);
  if (end && from === "base") {
    const { id, files } = await baseOf(lens, folder, end);
    return done({ from: id, to: end.head, settings, conflicts: [], leftOut: null, merged: files });
  }
  if (end && from === "read" && end === newest(change)) {
    const { id, conflicts, files } = await seenBy(lens, folder, person, change);
    return done({ from: id, to: end.head, settings, conflicts, leftOut: files });
  }
  if (end && start) {
    const { id, conflicts } = await carriedTo(lens, folder, start, end);
    return done({ from: id, to: end.head, settings, conflicts, leftOut: null });
  }
  const [, yardstick] = /^live:(.{1,300})$/.exec(from) ?? [];
  if (end && yardstick) {
    const commit = (await namedCommits(folder)).find(({ name }) => name === yardstick)?.commit;
    if (commit) return done({ from: commit, to: end.head, settings, conflicts: [], leftOut: null });
  }
  const [, first] = /^before:([0-9a-f]{40,64})$/.exec(from) ?? [];
  const [, last] = /^at:([0-9a-f]{40,64})$/.exec(to) ?? [];
  if (first && last) {
    const within = await Promise.all([first, last].map((id) => isOfChange(change, folder, id)));
    const parent = within.every(Boolean) ? await firstParent(folder, first) : null;
    if (parent) return done({ from: parent, to: last, settings, conflicts: [], leftOut: null });
  }
  return refuse(
    "missing",
    `There is nothing to compare from “${from}” to “${to}”: points are base, r1, r2 and so on, or commits of the change set.`,
  );
}

/** Whether a commit is part of some revision: in the history of its head, and not in that of its base. */
export async function isOfChange(change: ChangeSet, folder: string, id: string): Promise<boolean> {
  if ((await resolveCommit(folder, id)) === null) return false;
  for (const { head, base } of change.revisions) {
    if ((await isAncestor(folder, id, head)) && !(await isAncestor(folder, id, base))) return true;
  }
  return false;
}
