import type { CommandRequest, CommitView } from "@/core/api";
import { done, type Outcome, refuse } from "@/core/outcome";
import { type Command, decideOpening } from "@/core/review/decide";
import type { Kind, RevisionFacts, Verdict } from "@/core/review/events";
import { type ChangeSet, goesOn, newest, type Revision } from "@/core/review/state";
import {
  branchCommit,
  commitsBetween,
  countCommits,
  isAncestor,
  keepRevision,
  mergeBase,
  resolveCommit,
} from "@/git/repository";
import { isStraight, sameSeries } from "@/git/series";
import type { Queries } from "@/store/database";
import { append, loadChangeSet, loadChangeSets } from "@/store/log";
import { fixSuggestions } from "./anchors";
import { commit, stamp, transact, wasCarriedOut } from "./deciding";
import { filesBetween } from "./files-between";
import type { Lens } from "./lens";
import { merge } from "./merging";
import type { Person } from "./people";
import { isOfChange } from "./points";
import { enter, folderOf, type Repository } from "./repositories";
import { carriedTo } from "./since";
import { takePicked } from "./taking";
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

/** How many change sets are asked, the newest first, whether a commit is theirs. */
const MOST_ASKED = 100;

/** The newest change set that a commit is part of; its id may be given by its first characters. */
export async function changeOfCommit(
  lens: Lens,
  person: Person,
  repositoryName: string,
  id: string,
): Promise<Outcome<{ number: number; commit: string }>> {
  const entered = await enter(lens, person, repositoryName);
  if (!entered.ok) return entered;
  const { repository, folder } = entered.value;
  const commit = /^[0-9a-f]{7,64}$/.test(id) ? await resolveCommit(folder, id) : null;
  if (!commit) return refuse("missing", "There is no such commit.");
  const rows = await lens.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", repository.id)
    .orderBy("number", "desc")
    .limit(MOST_ASKED)
    .execute();
  const changes = await loadChangeSets(
    lens.db,
    rows.map((row) => row.id),
  );
  for (const change of changes)
    if (await isOfChange(change, folder, commit)) return done({ number: change.number, commit });
  return refuse("missing", "That commit is in no change set.");
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
  draft?: boolean;
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
  const { key, ...asked } = request;
  if (key && (await wasCarriedOut(lens.db, person, key))) return done(change);
  const carry = (command: Command) => transact(lens, person, change.id, command, key);
  switch (asked.kind) {
    case "open-again": {
      const other = await openFor(lens.db, { id: change.repository }, change.source, change.target);
      if (other !== null && other !== change.number)
        return refuse("conflict", `Change set ${other} is open from ${change.source} into ${change.target} meanwhile.`);
      if (!(await branchCommit(folder, change.source)))
        return refuse("conflict", `The branch ${change.source} is gone: push it again first.`);
      return carry(asked);
    }
    case "merge":
      return merge(lens, person, change, folder, asked);
    case "revise": {
      const revision = await readRevision(folder, change.source, change.target);
      if (!revision.ok) return revision;
      return revise(lens, person, change, folder, revision.value);
    }
    case "take":
      return takePicked(lens, person, change, folder, asked.message);
    case "send-review":
      return sendReview(lens, person, change, asked, key);
    case "send-one": {
      const revision = newest(change).number;
      return sendReview(lens, person, change, { revision, verdict: "none", remark: "" }, key, asked.note);
    }
    case "reply":
    case "resolve":
      return carry({ ...asked, comment: lens.newId() });
    case "edit": {
      const { suggestions, ...rest } = asked;
      if (!suggestions) return carry(rest);
      const thread = change.threads.find(({ id }) => id === asked.thread);
      if (!thread) return refuse("missing", "There is no such thread in this change set.");
      const fixed = await fixSuggestions(folder, thread.anchor, suggestions);
      return fixed.ok ? carry({ ...rest, suggestions: fixed.value }) : fixed;
    }
    default:
      return carry(asked);
  }
}

/** Sends what a person has not sent as one event; `only` one of their notes, where it is named. */
function sendReview(
  lens: Lens,
  person: Person,
  change: ChangeSet,
  review: { revision: number; verdict: Verdict; remark: string },
  key: string | undefined,
  only: string | null = null,
): Promise<Outcome<ChangeSet>> {
  return lens.db.transaction().execute(async (tx) => {
    const gathered = await gatherReview(lens, tx, person, change.id, only);
    const { revision, verdict, remark } = review;
    const sent = await commit(
      lens,
      tx,
      person,
      change.id,
      { kind: "send-review", revision, verdict, remark, ...gathered },
      key,
    );
    if (!sent.ok) return sent;
    let drop = tx.deleteFrom("unsent").where("change_set", "=", change.id).where("person", "=", person.id);
    if (only !== null) drop = drop.where("id", "=", only);
    await drop.execute();
    return sent;
  });
}

/**
 * How a revision came of the one before, and whether the author's work in it is the same: a rewritten history that leads to the same and
 * holds nothing besides. New commits are new work, also when what they lead to is the same: one may put in what the next takes out.
 */
async function tellRevision(
  lens: Lens,
  folder: string,
  before: Revision,
  after: RevisionFacts,
): Promise<{ how: Kind; same: boolean; resultSame: boolean }> {
  const forward = await isAncestor(folder, before.head, after.head);
  const how = forward ? "forward" : before.base === after.base ? "rewritten" : "rebased";
  const { id, conflicts } = await carriedTo(lens, folder, before, after);
  const differ = await filesBetween(lens, folder, { from: id, to: after.head });
  const resultSame = conflicts.length === 0 && differ.length === 0;
  const same =
    resultSame &&
    !forward &&
    ((await sameSeries(folder, before, after)) || (await isStraight(folder, after.base, after.head)));
  return { how, same, resultSame: resultSame && !same };
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
  const told = await tellRevision(lens, folder, newest(change), revision);
  return transact(lens, person, change.id, { kind: "revise", revision, ...told });
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

async function nextNumber(db: Queries, repository: Repository): Promise<number> {
  const row = await db
    .selectFrom("change_sets")
    .select((select) => select.fn.max("number").as("last"))
    .where("repository", "=", repository.id)
    .executeTakeFirst();
  return (row?.last ?? 0) + 1;
}

async function openFor(
  db: Queries,
  repository: { id: string },
  source: string,
  target: string,
): Promise<number | null> {
  const row = await db
    .selectFrom("change_sets")
    .select("number")
    .where("repository", "=", repository.id)
    .where("source", "=", source)
    .where("target", "=", target)
    .where("state", "in", ["open", "draft"])
    .executeTakeFirst();
  return row?.number ?? null;
}
