import type { ChangeLine, DeskView } from "@/core/desk-view";
import { type DeskPlace, deskPlace } from "@/core/review/desk";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import { evaluateGate, type Gate } from "@/core/rules/gate";
import { loadChangeSets } from "@/store/log";
import { anyOf } from "@/store/project";
import { namesOf } from "../access/people";
import type { Person } from "../access/person";
import { folderOf, type Repository, repositoriesOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { freshTo } from "../reading/sizes";
import { factsFor, Look } from "../rules/facts";
import { historiesInPatience } from "./views";

const LATELY = 12;
/** So many change sets are asked about at the same time. */
const AT_ONCE = 8;
const LISTS = { me: "forMe", them: "forThem", could: "couldBe", none: "elsewhere" } as const;
/** So many are looked at with which somebody has nothing to do so far, those that changed last. */
const MOST_BESIDES = 100;
/** So many of those that they have to do with, and of those in which they may be needed as a steward. */
const MOST_OWN = 2_000;

interface Wanted {
  /** Those of one repository alone. */
  only?: Repository;
  /** Those that one person offers. */
  author?: string;
  /** Also those with which the person has nothing to do, however many. */
  whole?: boolean;
}

/** Where a person starts: what waits for them and why, what they wait for, what was settled lately. */
export async function desk(app: AppContext, person: Person, wanted: Wanted = {}): Promise<DeskView> {
  const { only } = wanted;
  const repositories = (await repositoriesOf(app, person)).filter(({ id }) => !only || id === only.id);
  const view: DeskView = { forMe: [], forThem: [], couldBe: [], elsewhere: [], settled: [], more: 0 };
  if (repositories.length === 0) return view;
  const nameOf = new Map(repositories.map(({ id, name }) => [id, name]));
  const look = new Look(app.db);
  const { ids, more } = await openIds(app, person, repositories, look, wanted);
  view.more = more;
  const settled = await app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "in", [...nameOf.keys()])
    .where("state", "in", ["merged", "withdrawn"])
    .orderBy("settled_at", "desc")
    .limit(LATELY)
    .execute();
  const changes = await loadChangeSets(app.db, [...ids, ...settled.map(({ id }) => id)]);
  const fullName = await namesOf(app.db);
  const name = (id: string) => fullName.get(id) ?? "someone";
  const placed: (Placed | null)[] = [];
  // Few at a time: what is not known yet is asked of git, which is a process for each question.
  for (let at = 0; at < changes.length; at += AT_ONCE) {
    const some = changes.slice(at, at + AT_ONCE);
    placed.push(
      ...(await Promise.all(some.map((change) => (goesOn(change) ? placeOf(app, person, change, name, look) : null)))),
    );
  }
  for (const [i, change] of changes.entries()) {
    const line = lineOf(change, nameOf.get(change.repository) ?? "", name);
    const found = placed[i];
    if (found) view[LISTS[found.place.waits]].push({ ...line, gate: found.gate, reasons: found.place.reasons });
    else view.settled.push({ ...line, reasons: [endOf(change, name)] });
  }
  return view;
}

/**
 * The open change sets that are worth a look, the one that changed last first: all that somebody has to do with, all in which they may
 * be needed as a steward, and some of the others. And how many of those were left out.
 */
async function openIds(
  app: AppContext,
  person: Person,
  repositories: Awaited<ReturnType<typeof repositoriesOf>>,
  look: Look,
  { author, whole }: Wanted,
): Promise<{ ids: string[]; more: number }> {
  const inThese = (these: readonly string[]) =>
    app.db
      .selectFrom("change_sets")
      .where("repository", "in", these)
      .where("state", "in", ["open", "draft"])
      .$if(author !== undefined, (query) => query.where("author", "=", author!));
  const all = repositories.map(({ id }) => id);
  const newestFirst = (these: readonly string[], most: number) =>
    inThese(these).select(["id", "changed_at"]).orderBy("changed_at", "desc").limit(most);
  const names = [person.id, anyOf("contributor"), anyOf("keeper")];
  const own = await newestFirst(all, MOST_OWN)
    .where("id", "in", (inner) =>
      inner.selectFrom("change_set_people").select("change_set").where("person", "in", names),
    )
    .execute();
  const stewarding: string[] = [];
  for (const { id } of repositories) if (await look.isSteward(person, id)) stewarding.push(id);
  const guarded = stewarding.length > 0 ? await newestFirst(stewarding, MOST_OWN).execute() : [];
  const most = whole ? MOST_OWN : MOST_BESIDES;
  const others = await newestFirst(all, most + own.length + guarded.length).execute();
  const found = new Map([...own, ...guarded].map((row) => [row.id, row.changed_at]));
  let besides = 0;
  for (const { id, changed_at } of others)
    if (!found.has(id) && besides < most) {
      found.set(id, changed_at);
      besides++;
    }
  const { many } = await inThese(all)
    .select((select) => select.fn.countAll<number>().as("many"))
    .executeTakeFirstOrThrow();
  const ids = [...found].sort(([, a], [, b]) => b - a).map(([id]) => id);
  return { ids, more: Math.max(0, many - ids.length) };
}

/** What is known of an open change set for one person, as long as nothing of what it depends on has changed. */
interface Placed {
  gate: Gate;
  place: DeskPlace;
}

/** How many are kept: a few thousand, for some tens of people. */
const KEPT = 20_000;

/**
 * Where an open change set stands for a person. It depends on its log, on where its two branches are, on the rule and on the people of
 * the repository; as long as all these are the same, so is the place. What is still being counted or followed is not kept.
 */
async function placeOf(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  name: (id: string) => string,
  look: Look,
): Promise<Placed> {
  const folder = folderOf(app, { id: change.repository });
  const [source, target, people, rule] = await Promise.all([
    look.tip(folder, change.source),
    look.tip(folder, change.target),
    look.stateOfPeople(change.repository),
    look.stateOfRule(change.repository, change.target),
  ]);
  const { freezes } = await look.rule(change.repository, change.target);
  const frozen = freezes.findIndex(({ from, until }) => app.now() >= Date.parse(from) && app.now() < Date.parse(until));
  // What people are called and where their mail goes may change, too, and is looked at anew now and then.
  const hour = Math.floor(app.now() / 3_600_000);
  const key = [change.last, person.id, source, target, people, rule, frozen, hour].join("\0");
  const shelf = app.kept<Placed & { whole: boolean }>("places", KEPT);
  const found = await shelf.get(key, async () => {
    const facts = await factsFor(app, app.db, change, person, look);
    const { histories, following } = await historiesInPatience(app, folder, change);
    const again = change.again.some((one) => one.person === person.id);
    const fresh = again ? await freshTo(app, folder, person, change) : null;
    return {
      gate: evaluateGate(change, facts.rule, facts.gate),
      place: deskPlace(change, facts.actor, { ...facts, name, histories, fresh }),
      whole: !following && !again && (facts.rule.mostToRead === null || facts.gate.toRead !== null),
    };
  });
  if (!found.whole) shelf.forget(key);
  return found;
}

function lineOf(change: ChangeSet, repository: string, name: (id: string) => string): ChangeLine {
  return {
    ...{ repository, number: change.number, title: change.title, state: change.state },
    ...{ author: name(change.author), authorId: change.author, source: change.source, target: change.target },
    ...{ revision: newest(change).number, changedAt: change.changedAt },
    openThreads: change.threads.filter(({ resolved }) => resolved === null).length,
    gate: null,
    reasons: [],
  };
}

function endOf({ settled, state }: ChangeSet, name: (id: string) => string): string {
  return `${state === "merged" ? "Merged" : "Withdrawn"}${settled ? ` by ${name(settled.by)}` : ""}.`;
}
