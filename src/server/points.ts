import { done, type Outcome, refuse } from "@/core/outcome";
import type { ChangeSet } from "@/core/review/state";
import { firstParent, isAncestor, resolveCommit } from "@/git/repository";

/** The two commits that a reading compares. */
export interface Points {
  from: string;
  to: string;
}

/**
 * From names to commits: "base", "r1", "r2" …, and for single commits of the change set "before:ID" (the state its first parent left)
 * and "at:ID". A reading from the base compares with the merge base of its own revision.
 */
export async function pointsOf(change: ChangeSet, folder: string, from: string, to: string): Promise<Outcome<Points>> {
  const end = change.revisions.find(({ number }) => `r${number}` === to);
  const start = from === "base" ? end?.base : change.revisions.find(({ number }) => `r${number}` === from)?.head;
  if (end && start) return done({ from: start, to: end.head });
  const [, first] = /^before:([0-9a-f]{40,64})$/.exec(from) ?? [];
  const [, last] = /^at:([0-9a-f]{40,64})$/.exec(to) ?? [];
  if (first && last) {
    const within = await Promise.all([first, last].map((id) => isOfChange(change, folder, id)));
    const parent = within.every(Boolean) ? await firstParent(folder, first) : null;
    if (parent) return done({ from: parent, to: last });
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
