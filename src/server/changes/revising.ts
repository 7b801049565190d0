import { done, type Outcome, refuse } from "@/core/outcome";
import type { Kind, RevisionFacts } from "@/core/review/events";
import { type ChangeSet, goesOn, newest, type Revision } from "@/core/review/state";
import { branchCommit, countCommits, isAncestor, keepRevision, mergeBase } from "@/git/repository";
import { isStraight, sameSeries } from "@/git/series";
import type { Person } from "../access/people";
import { folderOf } from "../access/repositories";
import type { Lens } from "../app/lens";
import { filesBetween } from "../reading/files-between";
import { carriedTo } from "../reading/since";
import { pusherOf } from "../refs/moves";
import { transact } from "./deciding";

/** What a branch offers to another: the commits a revision is made of, and how it stands to the target. */
export async function readRevision(folder: string, source: string, target: string): Promise<Outcome<RevisionFacts>> {
  const head = await branchCommit(folder, source);
  if (!head) return refuse("missing", `There is no branch “${source}”.`);
  const targetCommit = await branchCommit(folder, target);
  if (!targetCommit) return refuse("missing", `There is no branch “${target}”.`);
  const base = await mergeBase(folder, targetCommit, head);
  if (!base) return refuse("conflict", `${source} and ${target} have no history in common.`);
  return done({ head, target: targetCommit, base });
}

/**
 * How a revision came of the one before, and whether the author's work in it is the same: a rewritten history that leads to the same and
 * holds nothing besides. New commits are new work, also when what they lead to is the same: one may put in what the next takes out.
 */
export async function tellRevision(
  lens: Lens,
  folder: string,
  before: Revision,
  after: RevisionFacts,
): Promise<{ how: Kind; same: boolean; resultSame: boolean }> {
  const forward = await isAncestor(folder, before.head, after.head);
  const back = !forward && (await isAncestor(folder, after.head, before.head));
  const how = forward ? "forward" : back ? "back" : before.base === after.base ? "rewritten" : "rebased";
  const { id, conflicts } = await carriedTo(lens, folder, before, after);
  const differ = await filesBetween(lens, folder, { from: id, to: after.head });
  const resultSame = conflicts.length === 0 && differ.length === 0;
  const same =
    resultSame &&
    !forward &&
    ((await sameSeries(folder, before, after)) || (await isStraight(folder, after.base, after.head)));
  return { how, same, resultSame: resultSame && !same };
}

/** Records what a branch points at now as the next revision; whose it is, is who pushed it, whoever records it. */
export async function revise(
  lens: Lens,
  person: Person,
  change: ChangeSet,
  folder: string,
  revision: RevisionFacts,
): Promise<Outcome<ChangeSet>> {
  const number = newest(change).number + 1;
  await keepRevision(folder, change.id, number, revision.head, revision.target);
  const told = await tellRevision(lens, folder, newest(change), revision);
  const pusher = await pusherOf(lens.db, change.repository, change.source, revision.head);
  return transact(lens, person, change.id, { kind: "revise", revision, pusher, ...told });
}

/** Whether the source branch has moved on from the newest revision; null when it has not, or is gone. */
export async function movedAhead(lens: Lens, change: ChangeSet): Promise<{ head: string; commits: number } | null> {
  if (!goesOn(change)) return null;
  const folder = folderOf(lens, { id: change.repository });
  const head = await branchCommit(folder, change.source);
  const { head: known } = newest(change);
  if (!head || head === known) return null;
  const commits = (await isAncestor(folder, known, head)) ? await countCommits(folder, known, head) : 0;
  return { head, commits };
}
