import type { CommandRequest, CommitView } from "@/core/api";
import { done, type Outcome, refuse } from "@/core/outcome";
import { type Command, decide, decideOpening } from "@/core/review/decide";
import type { NewEvent, ReviewEvent, RevisionFacts } from "@/core/review/events";
import { type ChangeSet, newest } from "@/core/review/state";
import { branchCommit, commitsBetween, countCommits, isAncestor, keepRevision, mergeBase } from "@/git/repository";
import type { Queries } from "@/store/database";
import { append, loadChangeSet } from "@/store/log";
import { factsFor } from "./facts";
import type { Lens } from "./lens";
import { merge } from "./merging";
import type { Person } from "./people";
import { enter, folderOf, type Repository } from "./repositories";
import { gatherReview } from "./unsent";

/** Finds a change set by its address. Who may not see its repository is told the same as if it did not exist. */
export async function findChange(lens: Lens, person: Person, repositoryName: string, number: number) {
  const entered = await enter(lens, person, repositoryName);
  if (!entered.ok) return entered;
  const row = await lens.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", entered.value.repository.id)
    .where("number", "=", number)
    .executeTakeFirst();
  const change = row ? await loadChangeSet(lens.db, row.id) : null;
  if (!change) return refuse("missing", `There is no change set ${number} in ${repositoryName}.`);
  return done({ ...entered.value, change });
}

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

export interface OpenRequest {
  title: string;
  description: string;
  source: string;
  target: string;
}

/** Opens a change set and records r1. */
export async function openChange(
  lens: Lens,
  person: Person,
  repositoryName: string,
  request: OpenRequest,
): Promise<Outcome<ChangeSet>> {
  const entered = await enter(lens, person, repositoryName);
  if (!entered.ok) return entered;
  const { repository, role, folder } = entered.value;
  const revision = await readRevision(folder, request.source, request.target);
  if (!revision.ok) return revision;
  const id = lens.newId();
  // Kept alive before it is told of: a ref that nothing names does no harm, commits that are gone would.
  await keepRevision(folder, id, 1, revision.value.head, revision.value.target);
  return lens.db.transaction().execute(async (tx) => {
    const decision = decideOpening({
      ...request,
      actor: { id: person.id, role },
      repository: repository.id,
      number: await nextNumber(tx, repository),
      revision: revision.value,
      alreadyOpen: await openFor(tx, repository, request.source, request.target),
    });
    if (!decision.ok) return decision;
    return done(await append(tx, null, stamp(lens, id, person, decision.value)));
  });
}

/** The commits of one revision, the newest first; null when there is no such revision. */
export async function commitsOf(change: ChangeSet, folder: string, name: string): Promise<CommitView[] | null> {
  const revision = change.revisions.find(({ number }) => `r${number}` === name);
  return revision ? commitsBetween(folder, revision.base, revision.head) : null;
}

/** What opening would give, before it is asked for: the commits, or why it would be refused. */
export async function previewChange(
  lens: Lens,
  person: Person,
  repositoryName: string,
  source: string,
  target: string,
) {
  const entered = await enter(lens, person, repositoryName);
  if (!entered.ok) return entered;
  const { repository, role, folder } = entered.value;
  const revision = await readRevision(folder, source, target);
  if (!revision.ok) return revision;
  const decision = decideOpening({
    actor: { id: person.id, role },
    repository: repository.id,
    number: 0,
    title: "preview",
    description: "",
    source,
    target,
    revision: revision.value,
    alreadyOpen: await openFor(lens.db, repository, source, target),
  });
  if (!decision.ok) return decision;
  return done({
    commits: await commitsBetween(folder, revision.value.base, revision.value.head, 200),
    revision: revision.value,
  });
}

/** Carries a request about an existing change set out, or says why not. */
export async function carryOut(
  lens: Lens,
  person: Person,
  repositoryName: string,
  number: number,
  request: CommandRequest,
): Promise<Outcome<ChangeSet>> {
  const found = await findChange(lens, person, repositoryName, number);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  switch (request.kind) {
    case "merge":
      return merge(lens, person, change, folder, request.revision, request.message);
    case "revise": {
      const revision = await readRevision(folder, change.source, change.target);
      if (!revision.ok) return revision;
      return revise(lens, person, change, folder, revision.value);
    }
    case "send-review":
      return lens.db.transaction().execute(async (tx) => {
        const remarks = await gatherReview(lens, tx, person, change.id);
        const sent = await commit(lens, tx, person, change.id, { ...request, remarks });
        if (sent.ok)
          await tx.deleteFrom("unsent").where("change_set", "=", change.id).where("person", "=", person.id).execute();
        return sent;
      });
    case "reply":
      return transact(lens, person, change.id, { ...request, comment: lens.newId() });
    default:
      return transact(lens, person, change.id, request);
  }
}

/** Records what a branch points at now as the next revision. */
export async function revise(
  lens: Lens,
  person: Person,
  change: ChangeSet,
  folder: string,
  revision: RevisionFacts,
): Promise<Outcome<ChangeSet>> {
  const number = newest(change).number + 1;
  await keepRevision(folder, change.id, number, revision.head, revision.target);
  return transact(lens, person, change.id, { kind: "revise", revision });
}

/** Decides a command in a transaction of its own. */
export function transact(lens: Lens, person: Person, id: string, command: Command): Promise<Outcome<ChangeSet>> {
  return lens.db.transaction().execute((tx) => commit(lens, tx, person, id, command));
}

/** Loads, decides and appends: all in the transaction given, so that nothing can come in between. */
export async function commit(
  lens: Lens,
  tx: Queries,
  person: Person,
  id: string,
  command: Command,
): Promise<Outcome<ChangeSet>> {
  const change = await loadChangeSet(tx, id);
  if (!change) return refuse("missing", "There is no such change set.");
  const decision = decide(change, command, await factsFor(tx, change, person));
  if (!decision.ok) return decision;
  return done(await append(tx, change, stamp(lens, id, person, decision.value)));
}

/** Whether the source branch has moved on from the newest revision; null when it has not, or is gone. */
export async function movedAhead(lens: Lens, change: ChangeSet): Promise<{ head: string; commits: number } | null> {
  if (change.state !== "open") return null;
  const folder = folderOf(lens, { id: change.repository });
  const head = await branchCommit(folder, change.source);
  const { head: known } = newest(change);
  if (!head || head === known) return null;
  const commits = (await isAncestor(folder, known, head)) ? await countCommits(folder, known, head) : 0;
  return { head, commits };
}

export function stamp(lens: Lens, stream: string, person: { id: string }, event: NewEvent): ReviewEvent {
  return { ...event, id: lens.newId(), stream, version: 1, by: person.id, at: lens.now() } as ReviewEvent;
}

async function nextNumber(db: Queries, repository: Repository): Promise<number> {
  const row = await db
    .selectFrom("change_sets")
    .select((select) => select.fn.max("number").as("last"))
    .where("repository", "=", repository.id)
    .executeTakeFirst();
  return (row?.last ?? 0) + 1;
}

async function openFor(db: Queries, repository: Repository, source: string, target: string): Promise<number | null> {
  const row = await db
    .selectFrom("change_sets")
    .select("number")
    .where("repository", "=", repository.id)
    .where("source", "=", source)
    .where("target", "=", target)
    .where("state", "=", "open")
    .executeTakeFirst();
  return row?.number ?? null;
}
