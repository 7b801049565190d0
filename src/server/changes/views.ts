import type { AroundPart, ChangeAnswer, ChangePart, GatePart, MinePart } from "@/core/doors/endpoints/change-parts";
import { linkedItems } from "@/core/house/work/trailers";
import { done, type Outcome } from "@/core/plain/outcome";
import { decide } from "@/core/review/decide";
import { canLookAgain } from "@/core/review/families/asking";
import type { Facts } from "@/core/review/families/family";
import { mayLabel } from "@/core/review/families/labels";
import { mayMerge, mayPass } from "@/core/review/families/merging";
import { mayLift } from "@/core/review/families/reviews";
import { mayTake } from "@/core/review/families/revisions";
import { authorOrKeeper, notOpen } from "@/core/review/guards";
import type { Role } from "@/core/review/roles";
import { type ChangeSet, newest, peopleOf } from "@/core/review/state";
import { reviewersAmong } from "@/core/rules/facts";
import { evaluateGate } from "@/core/rules/gate";
import type { May, PersonView, Unsent } from "@/core/views/api";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import type { Person } from "../access/person";
import { portraitsOf } from "../access/portraits";
import { folderOf, type Repository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { historiesOf, unsentHistoriesOf } from "../following/anchor-histories";
import { heldLabels, labelsIn } from "../house/labels/labels";
import { commentsIn, keptHere } from "../ledger/kept-here";
import { isSourceLeft } from "../refs/tidy";
import { factsFor, seriesOf } from "../rules/facts";
import { chainOf } from "./chains";
import { movedAhead } from "./revisions/revising";
import { messageOfPicked, pickedOf } from "./revisions/taking";
import { unsentOf } from "./unsent";

/** A change set as one person sees it, in its parts. What its log tells is left out for who `has` it up to the last event. */
export async function changeParts(
  app: AppContext,
  person: Person,
  repository: Repository,
  change: ChangeSet,
  have?: string,
): Promise<ChangeAnswer> {
  const facts = await factsFor(app, app.db, change, person);
  const mine = await minePart(app, person, change, facts);
  return {
    change: stampOf(change) === have ? null : changePart(change, repository.name),
    mine,
    gate: gatePart(change, facts),
    around: await aroundPart(app, person, repository, change, { people: facts.people, unsent: mine.unsent }),
  };
}

/** Tells one state of a change set from another; of two, the later one sorts behind. */
function stampOf({ last, entries }: ChangeSet): string {
  return `${last}.${String(entries).padStart(7, "0")}`;
}

function changePart(change: ChangeSet, repository: string): ChangePart {
  const { id, number, title, description, source, target, state, author, openedAt, changedAt, settled } = change;
  const { revisions, threads, reviews, tasks, asked, again, lifts, checks, links, labels, leftOut } = change;
  const { mergeAsked, mergeFailed } = change;
  const { wordings, describedBy } = change;
  return {
    last: stampOf(change),
    id,
    repository,
    number,
    title,
    description,
    source,
    target,
    state,
    author,
    openedAt,
    changedAt,
    settled,
    revisions,
    threads,
    reviews,
    tasks,
    asked,
    again,
    lifts,
    checks,
    links,
    labels,
    leftOut,
    wordings: wordings.length,
    describedBy,
    mergeAsked,
    mergeFailed,
    lookAgain: canLookAgain(change),
  };
}

async function minePart(app: AppContext, person: Person, change: ChangeSet, facts: Facts): Promise<MinePart> {
  const picked = await pickedOf(app.db, person, change);
  return {
    me: { id: person.id, role: facts.actor.role as Role, ...rightsIn(change, facts) },
    unsent: await unsentOf(app.db, person, change.id),
    picked: picked.map(({ suggestion }) => suggestion.id),
    pickMessage: picked.length > 0 ? messageOfPicked(picked) : "",
  };
}

/** What a person may do with a change set, or why not: asked of the same decisions that carry it out. */
function rightsIn(change: ChangeSet, facts: Facts): Omit<MinePart["me"], "id" | "role"> {
  const { actor, rule, people } = facts;
  const may = (outcome: Outcome<unknown>): May =>
    outcome.ok ? { may: true } : { may: false, why: outcome.refusal.reason };
  const unless = (refused: Outcome<never> | null) => may(refused ?? done(null));
  const current = newest(change);
  const review = { kind: "send-review" as const, revision: current.number, remark: "…", remarks: [] };
  return {
    verdict: may(decide(change, { ...review, verdict: "approve" }, facts)),
    remark: may(decide(change, { ...review, verdict: "none" }, facts)),
    merge: may(mayMerge(change, actor)),
    retarget: unless(notOpen(change) ?? authorOrKeeper(change, actor, "offer it to another branch")),
    describe: may(decide(change, { kind: "describe", title: "…", description: "" }, facts)),
    revise: may(decide(change, { kind: "revise", revision: { ...current, head: "another" } }, facts)),
    withdraw: may(decide(change, { kind: "withdraw" }, facts)),
    take: unless(notOpen(change) ?? mayTake(change, actor)),
    ask: unless(notOpen(change) ?? authorOrKeeper(change, actor, "ask for a review")),
    ready: may(decide(change, { kind: "ready" }, facts)),
    draft: may(decide(change, { kind: "draft" }, facts)),
    openAgain: may(decide(change, { kind: "open-again" }, facts)),
    pass: may(mayPass(change, rule, actor)),
    link: unless(notOpen(change) ?? authorOrKeeper(change, actor, "link work items")),
    label: unless(mayLabel(change, actor)),
    lift: unless(mayLift(change, actor, people)),
  };
}

function gatePart(change: ChangeSet, { rule, gate, people }: Facts): GatePart {
  return { gate: evaluateGate(change, rule, gate), rule, reviewers: reviewersAmong(people) };
}

async function aroundPart(
  app: AppContext,
  person: Person,
  repository: Repository,
  change: ChangeSet,
  { people, unsent }: Pick<Facts, "people"> & Pick<MinePart, "unsent">,
): Promise<AroundPart> {
  const folder = folderOf(app, repository);
  const { named } = await seriesOf(app, folder, change);
  const allLabels = await labelsIn(app.db, repository.id);
  const held = allLabels.length > 0 ? await heldLabels(app.db, [change.id]) : null;
  return {
    people: await peopleByIds(app.db, [...namedIn(change).add(person.id), ...reviewersAmong(people)]),
    chain: await chainOf(app, change),
    allLabels,
    pathLabels: (held?.get(change.id) ?? []).flatMap(({ name, byPath }) => (byPath ? [name] : [])),
    workItems: linkedItems(change.links, change.description, named),
    branchLeft: await isSourceLeft(change, folder),
    keptHere: await commentsKeptHere(app, change),
    ahead: await movedAhead(app, change),
    ...(await historiesInPatience(app, folder, change, unsent)),
  };
}

async function commentsKeptHere(app: AppContext, change: ChangeSet): Promise<string[] | null> {
  const kept = await keptHere(app, [change]);
  return kept && commentsIn(kept.get(change.id) ?? []);
}

/** Ids of everyone whose name is shown beside a change set. */
function namedIn(change: ChangeSet): Set<string> {
  const ids = peopleOf(change);
  for (const { resolved } of change.threads) if (resolved) ids.add(resolved.by);
  for (const { done } of change.tasks) if (done) ids.add(done.by);
  for (const { by, pusher } of change.revisions) ids.add(by).add(pusher);
  for (const { by } of change.wordings) ids.add(by);
  ids.add(change.describedBy);
  if (change.mergeFailed) ids.add(change.mergeFailed.asker);
  if (change.settled) ids.add(change.settled.by);
  for (const { by } of change.leftOut) ids.add(by);
  return ids;
}

/** How long a page waits for threads to be followed through a very large push; after that it is shown, and asks again. */
const PATIENCE = 1_200;

/** What became of the lines of threads, and of what is not sent, or that they are being followed still. */
export async function historiesInPatience(
  app: AppContext,
  folder: string,
  change: ChangeSet,
  unsent: readonly Unsent[] = [],
): Promise<Pick<AroundPart, "histories" | "following">> {
  let clock: NodeJS.Timeout | undefined;
  const late = new Promise<null>((resolve) => {
    clock = setTimeout(() => resolve(null), PATIENCE).unref();
  });
  const all = Promise.all([historiesOf(app, folder, change), unsentHistoriesOf(app, folder, change, unsent)]);
  const told = await Promise.race([all, late]).finally(() => clearTimeout(clock));
  return { histories: told ? { ...told[0], ...told[1] } : {}, following: told === null };
}

function peopleByIds(db: Queries, ids: Iterable<string>): Promise<Record<string, PersonView>> {
  const some = [...new Set(ids)].sort();
  return madeOnce(db, `people ${some.join(" ")}`, () => peopleShown(db, some));
}

async function peopleShown(db: Queries, ids: string[]): Promise<Record<string, PersonView>> {
  const rows = await db
    .selectFrom("people")
    .leftJoin("ledger_people", "ledger_people.person", "people.id")
    .leftJoin("people as here", "here.id", "ledger_people.joined")
    .select(["people.id", "people.name", "people.full_name", "people.machine"])
    .select(["here.id as joined", "here.name as joined_name", "here.full_name as joined_full_name"])
    .where("people.id", "in", ids)
    .execute();
  // Who is somebody of another installation, and was joined with one of this, is shown as that one.
  const shown = rows.map((row) => ({
    of: row.id,
    id: row.joined ?? row.id,
    name: row.joined_name ?? row.name,
    fullName: row.joined_full_name ?? row.full_name,
    machine: row.machine === 1,
  }));
  const portraits = await portraitsOf(db, shown);
  return Object.fromEntries(
    shown.map(({ of, id, name, fullName, machine }) => [
      of,
      { id: of, name, fullName, machine, ...portraits.get(id)! },
    ]),
  );
}
