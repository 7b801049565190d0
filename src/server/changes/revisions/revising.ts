import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { RevisionFacts } from "@/core/review/shapes";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import { countCommits, isAncestor, mergeBase } from "@/git/history/commits";
import { branchCommit, keepRevision } from "@/git/repository";
import { loadChangeSet } from "@/store/log";
import { personById } from "../../access/people";
import type { Person } from "../../access/person";
import { folderOf } from "../../access/repositories";
import type { AppContext } from "../../app/context";
import { comparable } from "../../reading/files-between";
import { pusherOf } from "../../refs/moves";
import { transact } from "../deciding";
import { tellRevision } from "./tell-revision";

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
 * Keeps the commits of what is to be the next revision alive, and then records it; refused where more differs in it than can be compared. What came to nothing, or came later than another's, must
 * not stand in the place of what the log has: so the revisions from there on are kept once more, as they were recorded.
 */
export async function keptAlive(
  app: AppContext,
  change: ChangeSet,
  folder: string,
  revision: RevisionFacts,
  record: () => Promise<Outcome<ChangeSet>>,
): Promise<Outcome<ChangeSet>> {
  const enough = await comparable(app, folder, revision);
  if (!enough.ok) return enough;
  const { head, target } = revision;
  const { length } = change.revisions;
  // A ref that nothing names does no harm, commits that are gone would.
  await keepRevision(folder, change.id, length + 1, head, target);
  const outcome = await record();
  const now = outcome.ok ? outcome.value : await loadChangeSet(app.db, change.id);
  for (const one of now?.revisions.slice(length) ?? [])
    if (one.number !== length + 1 || one.head !== head || one.target !== target)
      await keepRevision(folder, change.id, one.number, one.head, one.target);
  return outcome;
}

/** How often it is begun anew when another revision came in between. */
const MOST_TRIES = 5;

/** Records what a branch points at now as the next revision; whose it is, is who pushed it, whoever records it. */
export async function revise(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  revision: RevisionFacts,
): Promise<Outcome<ChangeSet>> {
  for (let known = change, n = 1; ; n++) {
    const number = newest(known).number + 1;
    const before = newest(known);
    const outcome = await keptAlive(app, known, folder, revision, async () => {
      const told = await tellRevision(app, folder, before, revision);
      const pusher = await pusherOf(app.db, change.repository, change.source, revision.head);
      return transact(app, person, change.id, { kind: "revise", revision, number, pusher, ...told });
    });
    const now = outcome.ok || n === MOST_TRIES ? null : await loadChangeSet(app.db, change.id);
    if (!now || newest(now).number < number) return outcome;
    known = now;
  }
}

/** Records what the source branch stands at, where it is known who pushed it; answers whether it did. */
export async function recordTip(app: AppContext, change: ChangeSet, folder: string, tip: string): Promise<boolean> {
  const person = await personById(app.db, await pusherOf(app.db, change.repository, change.source, tip));
  const revision = person && (await readRevision(folder, change.source, change.target));
  return revision?.ok === true && (await revise(app, person!, change, folder, revision.value)).ok;
}

/** Whether the source branch has moved on from the newest revision; null when it has not, or is gone. */
export async function movedAhead(
  app: AppContext,
  change: ChangeSet,
): Promise<{ head: string; commits: number } | null> {
  if (!goesOn(change)) return null;
  const folder = folderOf(app, { id: change.repository });
  const head = await branchCommit(folder, change.source);
  const { head: known } = newest(change);
  if (!head || head === known) return null;
  const commits = (await isAncestor(folder, known, head)) ? await countCommits(folder, known, head) : 0;
  return { head, commits };
}
