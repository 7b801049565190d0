import { checksSay } from "@/core/house/lists/listed";
import { type DeskPlace, deskPlace } from "@/core/review/desk";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import { evaluateGate, type Gate } from "@/core/rules/gate";
import type { ChangeLine } from "@/core/views/desk-view";
import { loadChangeSets } from "@/store/log";
import { madeOnce } from "@/store/made-once";
import { namesOf } from "../access/people";
import type { Person } from "../access/person";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { heldLabels } from "../house/labels/labels";
import { keptHere } from "../ledger/kept-here";
import { freshIn, loadsOf } from "../reading/change-facts";
import { freshTo } from "../reading/sizes";
import { factsFor, Look } from "../rules/facts";
import { historiesInPatience } from "./views";

/** So many change sets are asked about at the same time. */
const AT_ONCE = 8;

/** A change set as it stands in a list of somebody's, and where it stands for them; null for one that is settled. */
export interface PlacedLine {
  line: ChangeLine;
  place: DeskPlace | null;
  /** Something that it depends on is being counted or followed yet: it may say more in a moment. */
  counting: boolean;
}

/** Change sets as they stand in a list of somebody's, in the order in which they are given. Those that cannot be read are left out. */
export async function linesOf(
  app: AppContext,
  person: Person,
  ids: readonly string[],
  repositories: ReadonlyMap<string, string>,
  look = new Look(app.db),
): Promise<PlacedLine[]> {
  // In this order: what comes in between ends what was told, and places of what is newer are kept beside what nobody is told any more.
  const told = await toldOf(app, person, ids, repositories);
  const changes = await loadChangeSets(app.db, [...ids]);
  const kept = await keptHere(app, changes);
  const around = await surroundings(app, changes.filter(goesOn), look);
  const before = kept ? undefined : PLACED.get(told);
  if (before?.stamp === around.stamp) return before.lines;
  const name = (id: string) => told.names.get(id) ?? "someone";
  const lines: PlacedLine[] = [];
  // Few at a time: what is not known yet is asked of git, which is a process for each question.
  for (let at = 0; at < changes.length; at += AT_ONCE)
    lines.push(
      ...(await Promise.all(
        changes.slice(at, at + AT_ONCE).map(async (change): Promise<PlacedLine> => {
          const line = told.lines.get(change.id) ?? lineOf(change, repositories.get(change.repository) ?? "", name);
          const here = kept && (kept.get(change.id)?.length ?? 0);
          if (!goesOn(change))
            return {
              line: { ...line, keptHere: here, reasons: [endOf(change, name)] },
              place: null,
              counting: false,
            };
          const { gate, place, counting } = await placeOf(app, person, change, { name, look, around });
          return { line: { ...line, keptHere: here, gate, reasons: place.reasons }, place, counting };
        }),
      )),
    );
  // Whose fresh lines come from a comparison, or who waits for one, is looked at again each time.
  const isWhole = changes.every((change, at) => !lines[at].counting && !isAskedAgain(change, person));
  if (!kept && isWhole) PLACED.set(told, { stamp: around.stamp, lines });
  return lines;
}

/** What the store tells of some change sets for one person. */
interface Told {
  lines: ReadonlyMap<string, ChangeLine>;
  /** Full names of everyone. */
  names: ReadonlyMap<string, string>;
}

/** Where change sets stood when they were placed last, as long as what the store tells of them is the same. */
const PLACED = new WeakMap<Told, { stamp: string; lines: PlacedLine[] }>();

function toldOf(
  app: AppContext,
  person: Person,
  ids: readonly string[],
  repositories: ReadonlyMap<string, string>,
): Promise<Told> {
  const named = [...repositories].flat().join(" ");
  return madeOnce(app.db, `lines for ${person.id} in ${named}: ${ids.join(" ")}`, async () => {
    const changes = await loadChangeSets(app.db, [...ids]);
    const names = await namesOf(app.db);
    const name = (id: string) => names.get(id) ?? "someone";
    const loads = await loadsOf(app, changes);
    const fresh = await freshIn(app, person, changes, loads);
    const labels = await heldLabels(
      app.db,
      changes.map(({ id }) => id),
    );
    const lines = changes.map((change): [string, ChangeLine] => {
      const line = lineOf(change, repositories.get(change.repository) ?? "", name);
      line.load = loads.get(change.id) ?? null;
      line.labels = labels.get(change.id) ?? [];
      line.fresh = fresh.get(change.id) ?? null;
      return [change.id, line];
    });
    return { lines: new Map(lines), names };
  });
}

/** Whether somebody was asked to look again, at what a comparison tells. */
function isAskedAgain({ again }: ChangeSet, person: Person): boolean {
  return again.some((one) => one.person === person.id);
}

/** What is known of an open change set for one person, as long as nothing of what it depends on has changed. */
interface Placed {
  gate: Gate;
  place: DeskPlace;
  counting: boolean;
}

/** What the places of several change sets are worked out with. */
interface Known {
  name: (id: string) => string;
  look: Look;
  around: Surroundings;
}

/** How many are kept: a few thousand, for some tens of people. */
const KEPT = 20_000;

const PLACES = shelf<Placed & { whole: boolean }>("places", KEPT);

/**
 * Where an open change set stands for a person. It depends on its log, on where its two branches are, on the rule and on the people of
 * the repository; as long as all these are the same, so is the place. What is still being counted or followed is not kept.
 */
async function placeOf(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  { name, look, around }: Known,
): Promise<Placed> {
  const key = [change.last, change.entries, person.id, around.of(change), around.hour].join("\0");
  const kept = PLACES(app);
  const found = await kept.get(key, async () => {
    const facts = await factsFor(app, app.db, change, person, look);
    const { histories, following } = await historiesInPatience(app, folderOf(app, { id: change.repository }), change);
    const again = isAskedAgain(change, person);
    const fresh = again ? await freshTo(app, folderOf(app, { id: change.repository }), person, change) : null;
    const counting = following || (facts.rule.mostToRead !== null && facts.gate.toRead === null);
    return {
      gate: evaluateGate(change, facts.rule, facts.gate),
      place: deskPlace(change, facts.actor, { ...facts, name, histories, fresh }),
      counting,
      whole: !counting && !again,
    };
  });
  if (!found.whole) kept.forget(key);
  return found;
}

/** What the places of open change sets depend on beside their logs, in words that differ when it does. */
interface Surroundings {
  of: (change: ChangeSet) => string;
  /** What people are called and where their mail goes may change, too, and is looked at anew now and then. */
  hour: number;
  /** All of it. */
  stamp: string;
}

/** Each thing is asked for once, and all branches of a repository together. */
async function surroundings(app: AppContext, changes: readonly ChangeSet[], look: Look): Promise<Surroundings> {
  const branches = new Map<string, Set<string>>();
  const targets = new Map<string, [repository: string, target: string]>();
  for (const { repository, source, target } of changes) {
    const some = branches.get(repository) ?? new Set();
    branches.set(repository, some.add(source).add(target));
    targets.set(`${repository} ${target}`, [repository, target]);
  }
  const tips = new Map<string, string>();
  for (const [repository, some] of branches) {
    const names = [...some];
    const found = await look.tipsOf(folderOf(app, { id: repository }), names);
    for (const [at, tip] of found.entries()) tips.set(`${repository} ${names[at]}`, tip ?? "");
  }
  const rules = new Map<string, string>();
  for (const [key, [repository, target]] of targets) {
    const { freezes } = await look.rule(repository, target);
    const frozen = freezes.findIndex(
      ({ from, until }) => app.now() >= Date.parse(from) && app.now() < Date.parse(until),
    );
    const states = [await look.stateOfPeople(repository), await look.stateOfRule(repository, target)];
    rules.set(key, `${states.join(" ")} ${frozen}`);
  }
  const hour = Math.floor(app.now() / 3_600_000);
  return {
    of: ({ repository, source, target }) =>
      `${tips.get(`${repository} ${source}`)} ${tips.get(`${repository} ${target}`)} ${rules.get(`${repository} ${target}`)}`,
    hour,
    stamp: [hour, ...tips.values(), ...rules.values()].join(" "),
  };
}

function lineOf(change: ChangeSet, repository: string, name: (id: string) => string): ChangeLine {
  return {
    repository,
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
    load: null,
    fresh: null,
    keptHere: null,
    gate: null,
    labels: [],
    checks: checksSay(change),
    reasons: [],
  };
}

function endOf({ settled, state }: ChangeSet, name: (id: string) => string): string {
  return `${state === "merged" ? "Merged" : "Withdrawn"}${settled ? ` by ${name(settled.by)}` : ""}.`;
}
