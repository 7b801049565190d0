import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { type Points, readPoints } from "@/core/reading/points";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import { firstParent, isAncestor } from "@/git/history/commits";
import { branchCommit, namedCommits, resolveCommit } from "@/git/repository";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { baseOf, carriedTo, seenBy } from "./since";

/** The two states that a reading compares: commits, or trees. */
export interface ReadStates {
  from: string;
  to: string;
  /** The commit whose settings count, such as what it takes for generated: the target's, so that no author decides what is read of them. */
  settings: string;
}

/** Points, and what had to be done to come to them. */
export interface FoundStates extends ReadStates {
  /** Files in which an earlier revision and what came from the target could not be brought together: compared as they were. */
  conflicts: string[];
  /** How many files hold nothing new to who asks; null where the reading is not theirs alone. */
  leftOut: number | null;
  /** In how many files something was left out that is in the target already, made alike there. */
  merged?: number;
}

/**
 * From the names of points to states. A reading from the base compares with the merge base of its own revision; one between revisions
 * leaves out what came from the target in between.
 */
export async function statesOf(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  from: string,
  to: string,
): Promise<Outcome<FoundStates>> {
  const named = readPoints({ from, to });
  const found = named && (await STATES[named.kind]({ app, person, change, folder }, named as never));
  if (found) return done(found);
  return refuse(
    "missing",
    `There is nothing to compare from “${from}” to “${to}”: points are base, r1, r2 and so on, or commits of the change set.`,
  );
}

interface Looking {
  app: AppContext;
  person: Person;
  change: ChangeSet;
  folder: string;
}

/** The states that each kind of points means; null where there are none. */
const STATES: {
  [K in Points["kind"]]: (at: Looking, points: Extract<Points, { kind: K }>) => Promise<FoundStates | null>;
} = {
  revision: async ({ app, person, change, folder }, { from, to }) => {
    const end = change.revisions[to - 1];
    if (!end) return null;
    const settings = end.target;
    if (from === "base") {
      const now = goesOn(change) ? await branchCommit(folder, change.target) : null;
      const { id, files } = await baseOf(app, folder, end, now);
      return { from: id, to: end.head, settings, conflicts: [], leftOut: null, merged: files };
    }
    if (from === "read") {
      if (end !== newest(change)) return null;
      const { id, conflicts, files } = await seenBy(app, folder, person, change);
      return { from: id, to: end.head, settings, conflicts, leftOut: files };
    }
    const start = change.revisions[from - 1];
    if (!start) return null;
    const { id, conflicts } = await carriedTo(app, folder, start, end);
    return { from: id, to: end.head, settings, conflicts, leftOut: null };
  },
  yardstick: async ({ change, folder }, { name, to }) => {
    const end = change.revisions[to - 1];
    const commit = end && (await namedCommits(folder)).find((one) => one.name === name)?.commit;
    return commit ? { from: commit, to: end.head, settings: end.target, conflicts: [], leftOut: null } : null;
  },
  commits: async ({ change, folder }, { first, last }) => {
    const within = await Promise.all([first, last].map((id) => isOfChange(change, folder, id)));
    const parent = within.every(Boolean) ? await firstParent(folder, first) : null;
    const settings = newest(change).target;
    return parent ? { from: parent, to: last, settings, conflicts: [], leftOut: null } : null;
  },
};

/** Whether a commit is part of some revision: in the history of its head, and not in that of its base. */
export async function isOfChange(change: ChangeSet, folder: string, id: string): Promise<boolean> {
  if ((await resolveCommit(folder, id)) === null) return false;
  for (const { head, base } of change.revisions) {
    if ((await isAncestor(folder, id, head)) && !(await isAncestor(folder, id, base))) return true;
  }
  return false;
}
