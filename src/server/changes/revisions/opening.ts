import { done, type Outcome } from "@/core/plain/outcome";
import { decide } from "@/core/review/decide";
import type { NewEvent } from "@/core/review/events";
import { evolve } from "@/core/review/evolve";
import { decideOpening } from "@/core/review/families/lifecycle";
import type { Role } from "@/core/review/roles";
import type { RevisionFacts } from "@/core/review/shapes";
import type { ChangeSet } from "@/core/review/state";
import { proposedStewards } from "@/core/rules/approvals";
import { reviewersAmong } from "@/core/rules/facts";
import { commitsBetween } from "@/git/history/commits";
import { blobAt, keepRevision, objectSize, readObject } from "@/git/repository";
import type { Queries } from "@/store/database";
import { append } from "@/store/log";
import { namesOf, peopleIn } from "../../access/people";
import type { Person } from "../../access/person";
import { enter } from "../../access/repositories";
import type { AppContext } from "../../app/context";
import { comparable, filesBetween } from "../../reading/files-between";
import { pusherOf } from "../../refs/moves";
import { ruleFor } from "../../rules/rules";
import { stamp } from "../deciding";
import { openFor } from "../open-changes";
import { readRevision } from "./revising";

export interface OpenRequest {
  title: string;
  description: string;
  source: string;
  target: string;
  draft?: boolean;
  /** Ids of people who are asked to review it. */
  invited?: readonly string[];
}

/** Opens a change set and records r1: what its source offers, or what is given where that is no branch. */
export async function openChange(
  app: AppContext,
  person: Person,
  repositoryName: string,
  request: OpenRequest,
  offered: RevisionFacts | null = null,
): Promise<Outcome<ChangeSet>> {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  const { repository, role, folder } = entered.value;
  const revision = offered ? done(offered) : await readRevision(folder, request.source, request.target);
  if (!revision.ok) return revision;
  const enough = await comparable(app, folder, revision.value);
  if (!enough.ok) return enough;
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
    const opening = stamp(app, { id }, person, decision.value);
    const asking = await askedAtOnce(tx, evolve(null, opening), person, role, request.invited ?? []);
    if (!asking.ok) return asking;
    const change = await append(tx, null, opening);
    return done(asking.value ? await append(tx, change, stamp(app, change, person, asking.value)) : change);
  });
  if (opened.ok) app.bell.ring();
  return opened;
}

/** That people are asked to review it, in one with its opening; null for nobody. */
async function askedAtOnce(
  db: Queries,
  change: ChangeSet,
  person: Person,
  role: Role,
  asked: readonly string[],
): Promise<Outcome<NewEvent | null>> {
  if (asked.length === 0) return done(null);
  const actor = { id: person.id, role, machine: person.machine };
  const invited = asked.map((one) => ({ person: one }));
  return decide(change, { kind: "ask", invited }, { actor, people: await peopleIn(db, change.repository) });
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
  const enough = await comparable(app, folder, revision.value);
  if (!enough.ok) return enough;
  const { base, head } = revision.value;
  const [commits, template, files, people, rule, names] = await Promise.all([
    commitsBetween(folder, base, head, 200),
    templateOf(folder, revision.value.target),
    filesBetween(app, folder, { from: base, to: head }),
    peopleIn(app.db, repository.id),
    ruleFor(app.db, repository.id, target),
    namesOf(app.db),
  ]);
  const stewards = proposedStewards(
    rule,
    files.map(({ path }) => path),
    people,
  );
  return done({
    commits: [...commits],
    revision: revision.value,
    // One commit says itself why; several need a word that is about all of them.
    description: commits.length === 1 ? commits[0].body : template,
    reviewers: reviewersAmong(people)
      .filter((id) => id !== person.id)
      .map((id) => ({ id, fullName: names.get(id) ?? "", steward: stewards.get(id) ?? null })),
  });
}

/** The number of the next change set that is opened. */
export async function nextNumber(db: Queries, repository: { id: string }): Promise<number> {
  const row = await db
    .selectFrom("change_sets")
    .select((select) => select.fn.max("number").as("last"))
    .where("repository", "=", repository.id)
    .executeTakeFirst();
  return (row?.last ?? 0) + 1;
}

/** Where a repository says what a reason for a change should speak of, and how long that may be, in bytes. */
const TEMPLATE = ".lens/reason.md";
const LONGEST_TEMPLATE = 20_000;

/** The words that a new description begins with, as the target has them; empty where it has none. */
async function templateOf(folder: string, commit: string): Promise<string> {
  const blob = await blobAt(folder, commit, TEMPLATE);
  if (!blob || ((await objectSize(folder, blob)) ?? Number.POSITIVE_INFINITY) > LONGEST_TEMPLATE) return "";
  return (await readObject(folder, blob)).toString("utf8");
}
