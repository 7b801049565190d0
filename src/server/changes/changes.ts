import type { CommitView } from "@/core/api";
import { done, type Outcome, refuse } from "@/core/outcome";
import { decideOpening } from "@/core/review/families/lifecycle";
import type { ChangeSet } from "@/core/review/state";
import { commitsBetween, keepRevision, resolveCommit } from "@/git/repository";
import type { Queries } from "@/store/database";
import { append, BrokenLog, loadChangeSet, loadChangeSets } from "@/store/log";
import type { Person } from "../access/person";
import { enter, type Repository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { isOfChange } from "../reading/states";
import { pusherOf } from "../refs/moves";
import { stamp } from "./deciding";
import { openFor } from "./open-changes";
import { readRevision } from "./revising";

/** Finds a change set by its address. Who may not see its repository is told the same as if it did not exist. */
export async function findChange(app: AppContext, person: Person, repositoryName: string, number: number) {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  const row = await app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", entered.value.repository.id)
    .where("number", "=", number)
    .executeTakeFirst();
  let change: ChangeSet | null = null;
  try {
    change = row ? await loadChangeSet(app.db, row.id) : null;
  } catch (error) {
    if (!(error instanceof BrokenLog)) throw error;
    app.log.error({ err: error }, "the record of a change set is damaged");
    return refuse("conflict", error.message);
  }
  if (!change) return refuse("missing", `There is no change set ${number} in ${repositoryName}.`);
  return done({ ...entered.value, change });
}

/** How many change sets are asked, the newest first, whether a commit is theirs. */
const MOST_ASKED = 100;

/** The newest change set that a commit is part of; its id may be given by its first characters. */
export async function changeOfCommit(
  app: AppContext,
  person: Person,
  repositoryName: string,
  id: string,
): Promise<Outcome<{ number: number; commit: string }>> {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  const { repository, folder } = entered.value;
  const commit = /^[0-9a-f]{7,64}$/.test(id) ? await resolveCommit(folder, id) : null;
  if (!commit) return refuse("missing", "There is no such commit.");
  const rows = await app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", repository.id)
    .orderBy("number", "desc")
    .limit(MOST_ASKED)
    .execute();
  const changes = await loadChangeSets(
    app.db,
    rows.map((row) => row.id),
  );
  for (const change of changes)
    if (await isOfChange(change, folder, commit)) return done({ number: change.number, commit });
  return refuse("missing", "That commit is in no change set.");
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
  app: AppContext,
  person: Person,
  repositoryName: string,
  request: OpenRequest,
): Promise<Outcome<ChangeSet>> {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  const { repository, role, folder } = entered.value;
  const revision = await readRevision(folder, request.source, request.target);
  if (!revision.ok) return revision;
  const pusher = await pusherOf(app.db, repository.id, request.source, revision.value.head);
  const id = app.newId();
  // Kept alive before it is told of: a ref that nothing names does no harm, commits that are gone would.
  await keepRevision(folder, id, 1, revision.value.head, revision.value.target);
  const opened = await app.db.transaction().execute(async (tx): Promise<Outcome<ChangeSet>> => {
    const decision = decideOpening({
      ...request,
      actor: { id: person.id, role, machine: person.machine },
      repository: repository.id,
      number: await nextNumber(tx, repository),
      revision: revision.value,
      pusher,
      answers: await whoAnswers(tx, person, pusher),
      alreadyOpen: await openFor(tx, repository, request.source, request.target),
    });
    if (!decision.ok) return decision;
    return done(await append(tx, null, stamp(app, id, person, decision.value)));
  });
  if (opened.ok) app.bell.ring();
  return opened;
}

/** The person whose work it is when this account opens a change set: itself, unless it is a machine. */
async function whoAnswers(db: Queries, person: Person, pusher: string | undefined): Promise<string | null> {
  if (!person.machine) return person.id;
  const row = await db
    .selectFrom("people")
    .select(["id", "machine", "owner"])
    .where("id", "=", pusher ?? person.id)
    .executeTakeFirst();
  return (row?.machine === 1 ? row.owner : row?.id) ?? person.owner;
}

/** The commits of one revision, the newest first; null when there is no such revision. */
export async function commitsOf(change: ChangeSet, folder: string, name: string): Promise<CommitView[] | null> {
  const revision = change.revisions.find(({ number }) => `r${number}` === name);
  return revision ? commitsBetween(folder, revision.base, revision.head) : null;
}

/** What opening would give, before it is asked for: the commits, or why it would be refused. */
export async function previewChange(
  app: AppContext,
  person: Person,
  repositoryName: string,
  source: string,
  target: string,
) {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  const { repository, role, folder } = entered.value;
  const revision = await readRevision(folder, source, target);
  if (!revision.ok) return revision;
  const decision = decideOpening({
    actor: { id: person.id, role, machine: person.machine },
    answers: person.owner,
    repository: repository.id,
    number: 0,
    title: "preview",
    description: "",
    source,
    target,
    revision: revision.value,
    alreadyOpen: await openFor(app.db, repository, source, target),
  });
  if (!decision.ok) return decision;
  return done({
    commits: await commitsBetween(folder, revision.value.base, revision.value.head, 200),
    revision: revision.value,
  });
}

async function nextNumber(db: Queries, repository: Repository): Promise<number> {
  const row = await db
    .selectFrom("change_sets")
    .select((select) => select.fn.max("number").as("last"))
    .where("repository", "=", repository.id)
    .executeTakeFirst();
  return (row?.last ?? 0) + 1;
}
