import type { ChangeView, May, PersonView } from "@/core/api";
import type { ChangeLine, DeskView } from "@/core/desk-view";
import { done, type Outcome } from "@/core/outcome";
import { canLookAgain } from "@/core/review/asking";
import { decide } from "@/core/review/decide";
import { deskPlace } from "@/core/review/desk";
import { authorOrKeeper, notOpen } from "@/core/review/guards";
import { mayMerge, mayPass } from "@/core/review/merging";
import { mayTake } from "@/core/review/revisions";
import type { Role } from "@/core/review/roles";
import { type ChangeSet, goesOn, newest, peopleOf } from "@/core/review/state";
import { reviewersIn } from "@/core/rules/facts";
import { evaluateGate } from "@/core/rules/gate";
import { linkedItems } from "@/core/work/trailers";
import type { Queries } from "@/store/database";
import { loadChangeSets } from "@/store/log";
import { namesOf, type Person } from "../access/people";
import { folderOf, type Repository, repositoriesOf } from "../access/repositories";
import type { Lens } from "../app/lens";
import { coursesOf } from "../following/courses";
import { freshTo } from "../reading/sizes";
import { factsFor, Look, shapesOf } from "../rules/facts";
import { chainOf } from "./chains";
import { movedAhead } from "./revising";
import { messageFor, pickedOf } from "./taking";
import { unsentOf } from "./unsent";

/** A change set as one person sees it, with what they may do and what they have not sent. */
export async function changeView(
  lens: Lens,
  person: Person,
  repository: Repository,
  change: ChangeSet,
): Promise<ChangeView> {
  const facts = await factsFor(lens, lens.db, change, person);
  const gate = evaluateGate(change, facts.rule, facts.gate);
  const reviewers = reviewersIn(facts.gate);
  const ids = new Set([person.id, change.author, ...reviewers]);
  for (const { by } of change.reviews) ids.add(by);
  for (const id of peopleOf(change)) ids.add(id);
  for (const { resolved } of change.threads) if (resolved) ids.add(resolved.by);
  for (const { done } of change.tasks) if (done) ids.add(done.by);
  for (const { by, pusher } of change.revisions) ids.add(by).add(pusher);
  if (change.mergeFailed) ids.add(change.mergeFailed.asker);
  if (change.settled) ids.add(change.settled.by);
  const picked = await pickedOf(lens.db, person, change);
  const may = (outcome: Outcome<unknown>): May =>
    outcome.ok ? { may: true } : { may: false, why: outcome.refusal.reason };
  const review = (verdict: "approve" | "none") =>
    may(
      decide(
        change,
        { kind: "send-review", revision: newest(change).number, verdict, remark: "…", remarks: [] },
        facts,
      ),
    );
  const unmoved = newest(change);
  return {
    ...change,
    repository: repository.name,
    reviewers,
    people: await peopleByIds(lens.db, [...ids]),
    gate,
    rule: facts.rule,
    me: {
      id: person.id,
      role: facts.actor.role as Role,
      verdict: review("approve"),
      remark: review("none"),
      merge: may(mayMerge(change, facts.actor)),
      retarget: may(notOpen(change) ?? authorOrKeeper(change, facts.actor, "offer it to another branch") ?? done(null)),
      describe: may(decide(change, { kind: "describe", title: "…", description: "" }, facts)),
      revise: may(decide(change, { kind: "revise", revision: { ...unmoved, head: "another" } }, facts)),
      withdraw: may(decide(change, { kind: "withdraw" }, facts)),
      take: may(notOpen(change) ?? mayTake(change, facts.actor) ?? done(null)),
      ask: may(notOpen(change) ?? authorOrKeeper(change, facts.actor, "ask for a review") ?? done(null)),
      ready: may(decide(change, { kind: "ready" }, facts)),
      draft: may(decide(change, { kind: "draft" }, facts)),
      openAgain: may(decide(change, { kind: "open-again" }, facts)),
      pass: may(mayPass(change, facts.rule, facts.actor)),
      link: may(notOpen(change) ?? authorOrKeeper(change, facts.actor, "link work items") ?? done(null)),
    },
    lookAgain: canLookAgain(change),
    workItems: linkedItems(
      change.links,
      change.description,
      (await shapesOf(lens, folderOf(lens, repository), change)).map(({ message }) => message),
    ),
    picked: picked.map(({ suggestion }) => suggestion.id),
    pickMessage: picked.length > 0 ? messageFor(picked) : "",
    unsent: await unsentOf(lens.db, person, change.id),
    ahead: await movedAhead(lens, change),
    chain: await chainOf(lens, change),
    ...(await inPatience(coursesOf(lens, folderOf(lens, repository), change))),
  };
}

/** How long a page waits for threads to be followed through a very large push; after that it is shown, and asks again. */
const PATIENCE = 1_200;

async function inPatience(following: ReturnType<typeof coursesOf>): Promise<Pick<ChangeView, "courses" | "following">> {
  const late = new Promise<null>((resolve) => setTimeout(() => resolve(null), PATIENCE));
  const courses = await Promise.race([following, late]);
  return { courses: courses ?? {}, following: courses === null };
}

async function peopleByIds(db: Queries, ids: string[]): Promise<Record<string, PersonView>> {
  const rows = await db
    .selectFrom("people")
    .select(["id", "name", "full_name", "machine"])
    .where("id", "in", ids)
    .execute();
  return Object.fromEntries(
    rows.map(({ id, name, full_name, machine }) => [id, { id, name, fullName: full_name, machine: machine === 1 }]),
  );
}

const LATELY = 12;

/** Where a person starts: what waits for them and why, what they wait for, what was settled lately. */
export async function desk(lens: Lens, person: Person, only?: Repository): Promise<DeskView> {
  const repositories = (await repositoriesOf(lens, person)).filter(({ id }) => !only || id === only.id);
  const view: DeskView = { forMe: [], forThem: [], elsewhere: [], settled: [] };
  if (repositories.length === 0) return view;
  const nameOf = new Map(repositories.map(({ id, name }) => [id, name]));
  const inMine = lens.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "in", [...nameOf.keys()]);
  const open = await inMine.where("state", "in", ["open", "draft"]).orderBy("changed_at", "desc").execute();
  const settled = await inMine
    .where("state", "in", ["merged", "withdrawn"])
    .orderBy("settled_at", "desc")
    .limit(LATELY)
    .execute();
  const changes = await loadChangeSets(
    lens.db,
    [...open, ...settled].map(({ id }) => id),
  );
  const fullName = await namesOf(lens.db);
  const look = new Look(lens.db);
  const name = (id: string) => fullName.get(id) ?? "someone";
  for (const change of changes) {
    const line: ChangeLine = {
      repository: nameOf.get(change.repository) ?? "",
      number: change.number,
      title: change.title,
      state: change.state,
      author: name(change.author),
      authorId: change.author,
      source: change.source,
      target: change.target,
      revision: newest(change).number,
      changedAt: change.changedAt,
      openThreads: change.threads.filter(({ resolved }) => resolved === null).length,
      gate: null,
      reasons: [],
    };
    if (!goesOn(change)) {
      const by = change.settled ? ` by ${name(change.settled.by)}` : "";
      view.settled.push({ ...line, reasons: [`${change.state === "merged" ? "Merged" : "Withdrawn"}${by}.`] });
      continue;
    }
    const facts = await factsFor(lens, lens.db, change, person, look);
    line.gate = evaluateGate(change, facts.rule, facts.gate);
    const { courses } = await inPatience(coursesOf(lens, folderOf(lens, { id: change.repository }), change));
    const again = change.again.some((one) => one.person === person.id);
    const fresh = again ? await freshTo(lens, folderOf(lens, { id: change.repository }), person, change) : null;
    const place = deskPlace(change, facts.actor, { ...facts, name, courses, fresh });
    const list = place.waits === "me" ? view.forMe : place.waits === "them" ? view.forThem : view.elsewhere;
    list.push({ ...line, reasons: place.reasons });
  }
  return view;
}
