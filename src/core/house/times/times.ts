import { addTo, groupedBy } from "../../plain/grouped";
import { type ChangeSet, goesOn, newest } from "../../review/state";
import type { ConditionKey } from "../../rules/condition";
import type { Gate } from "../../rules/gate";

/** How long things take, by week. Nobody is counted by name: each figure is of change sets, and leads to them. */

/** A change set, as a page names it. */
export interface ChangeRef {
  repository: string;
  number: number;
  title: string;
}

/** A value that a change set has, and when. `at` is in milliseconds since 1970. */
export interface Sample {
  change: ChangeRef;
  at: number;
  value: number;
}

/** The values of one week: the middle one, and between which half of them lie. */
export interface Week {
  /** When it began: Monday, 00:00 UTC, in milliseconds since 1970. */
  from: number;
  median: number;
  low: number;
  high: number;
  changes: ChangeRef[];
}

const DAY = 86_400_000;
const WEEK = 7 * DAY;
/** The first Monday of 1970. */
const MONDAY = 4 * DAY;

/** When the week of a time began. */
export function weekOf(at: number): number {
  return Math.floor((at - MONDAY) / WEEK) * WEEK + MONDAY;
}

/**
 * The value below which a share of the others lies, between the two nearest where none is just there (the method of R's type 7).
 *
 * @example quantile([1, 2, 3, 4], 0.5) // 2.5
 */
export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  const place = (sorted.length - 1) * share;
  const below = Math.floor(place);
  const next = sorted[Math.min(below + 1, sorted.length - 1)];
  return sorted[below] + (next - sorted[below]) * (place - below);
}

/** Samples by the week in which they are, the first first; weeks without any are left out. */
export function byWeek(samples: readonly Sample[]): Week[] {
  return [...groupedBy(samples, ({ at }) => weekOf(at))]
    .sort(([a], [b]) => a - b)
    .map(([from, of]) => {
      const values = of.map(({ value }) => value);
      const at = (share: number) => quantile(values, share);
      return { from, median: at(0.5), low: at(0.25), high: at(0.75), changes: of.map(({ change }) => change) };
    });
}

/** Who did not make the change set and is no machine. */
type IsOther = (person: string) => boolean;

/** When somebody else first said something to a change set: a review, or an answer in a thread; null while nobody did. */
export function firstAnswerAt(change: ChangeSet, isOther: IsOther): number | null {
  const said = [
    ...change.reviews.filter(({ by }) => isOther(by)).map(({ at }) => at),
    ...change.threads.flatMap(({ comments }) => comments.filter(({ by }) => isOther(by)).map(({ at }) => at)),
    ...(change.state === "merged" && change.settled && isOther(change.settled.by) ? [change.settled.at] : []),
  ];
  return said.length > 0 ? Math.min(...said) : null;
}

/** When one person first said something to a change set of another's. */
export function answeredByAt(change: ChangeSet, person: string): number | null {
  return person === change.author ? null : firstAnswerAt(change, (by) => by === person);
}

/** How long a change set took to be merged, and how much there was to read in it. */
export interface Load {
  change: ChangeRef;
  load: number;
  /** In milliseconds. */
  took: number;
}

/** A condition that is not met, and the change sets that it keeps from merging now. */
export interface Hindrance {
  key: ConditionKey;
  changes: ChangeRef[];
}

/** What keeps open change sets from merging, what keeps most first. */
export function hindrances(open: readonly { change: ChangeRef; gate: Gate }[]): Hindrance[] {
  const found = new Map<ConditionKey, ChangeRef[]>();
  for (const { change, gate } of open) {
    // One condition may be there several times, once for each path or check.
    for (const key of new Set(gate.conditions.filter(({ met }) => !met).map((condition) => condition.key)))
      addTo(found, key, change);
  }
  return [...found]
    .map(([key, changes]) => ({ key, changes }))
    .sort((a, b) => b.changes.length - a.changes.length || (a.key < b.key ? -1 : 1));
}

/** What is asked about some change sets together. */
export interface Times {
  /** How long until somebody else said something, by the week in which it was offered; in milliseconds. */
  answered: Week[];
  /** Those that go on and wait for a first answer, the oldest first. `value` is for how long, in milliseconds. */
  waiting: Sample[];
  /** How many revisions it took, by the week in which it was merged. */
  rounds: Week[];
  loads: Load[];
}

/** Works all of it out; `loadOf` gives the lines to read of a change set, where they are known. Pure. */
export function timesOf(
  changes: readonly { change: ChangeSet; ref: ChangeRef }[],
  isMachine: (person: string) => boolean,
  loadOf: (id: string) => number | null,
  now: number,
): Times {
  const answered: Sample[] = [];
  const waiting: Sample[] = [];
  const rounds: Sample[] = [];
  const loads: Load[] = [];
  for (const { change, ref } of changes) {
    if (change.state === "draft") continue;
    const at = firstAnswerAt(change, (person) => person !== change.author && !isMachine(person));
    const { readyAt } = change;
    if (at !== null) answered.push({ change: ref, at: readyAt, value: Math.max(0, at - readyAt) });
    else if (goesOn(change)) waiting.push({ change: ref, at: readyAt, value: now - readyAt });
    if (change.state !== "merged" || !change.settled) continue;
    rounds.push({ change: ref, at: change.settled.at, value: newest(change).number });
    const load = loadOf(change.id);
    if (load !== null) loads.push({ change: ref, load, took: change.settled.at - readyAt });
  }
  waiting.sort((a, b) => b.value - a.value);
  return { answered: byWeek(answered), waiting, rounds: byWeek(rounds), loads };
}
