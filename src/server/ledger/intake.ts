import { decodeTime } from "ulid";
import { type LedgerEntry, provenEntries, wrongFormat } from "@/core/doors/ledger/ledger";
import { counted, listed } from "@/core/plain/words";
import type { ReviewEvent } from "@/core/review/events";
import { ledgerFiles } from "@/git/ledger";
import type { Queries } from "@/store/database";
import { eventsOf, loadChangeSet, takeIn } from "@/store/log";
import { folderOf } from "../access/repositories";
import { type AppContext, MOST_AHEAD } from "../app/context";
import { asPerson, type LedgerPerson, ledgerProver, person, readKeys, readNamed } from "./brought";
import { ledgerKey, proverOf } from "./keys";
import { mismeasuredAmong, missingCommit } from "./offerings";
import {
  addLedgerPerson,
  beganElsewhere,
  bind,
  type Elsewhere,
  type Place,
  wrongOfNeighbour,
  wrongSpeaker,
} from "./people-elsewhere";

/** An entry that was not taken in, and why. */
export interface NotTaken {
  id: string;
  why: string;
}

/** A key that nobody here has said to believe, and whom it speaks for. */
export interface UnknownKey {
  key: string;
  people: string[];
  entries: number;
}

/** What came of taking ledgers in. */
export interface TakenIn {
  /** By change set: its number here, its title, and how many entries came. */
  changes: { number: number; title: string; came: number }[];
  notTaken: NotTaken[];
  unknown: UnknownKey[];
  /** The change sets of which nothing was left out. */
  whole: string[];
}

/**
 * Takes in what the ledgers of a repository have and its log has not: entries that a believed key signed, for people whom that key speaks for, about commits
 * that are here. They come into the log under their own ids, so that it tells the same wherever all of them have come. `believed` are ids of keys,
 * `streams` those of the change sets that are looked at.
 */
export async function takeInLedgers(
  app: AppContext,
  repository: { id: string },
  believed: ReadonlySet<string>,
  { streams, elsewhere }: { streams: Iterable<string>; elsewhere?: Elsewhere },
): Promise<TakenIn> {
  const folder = folderOf(app, repository);
  const own = await ledgerKey(app);
  const taken: TakenIn = { changes: [], notTaken: [], unknown: [], whole: [] };
  const unknown = new Map<string, { people: Set<string>; entries: number }>();
  for (const stream of streams) {
    await app.inTurn(`ledger ${stream}`, async () => {
      const before = taken.notTaken.length;
      const read = await readStream(folder, stream, new Set([...believed, own.id]), unknown);
      taken.notTaken.push(...read.leftOut);
      const came = await takeStream(app, repository.id, folder, stream, own.id, read, taken.notTaken, elsewhere);
      if (came) taken.changes.push(came);
      if (taken.notTaken.length === before && !read.strangers) taken.whole.push(stream);
    });
  }
  taken.unknown = [...unknown].map(([key, { people, entries }]) => ({ key, people: [...people], entries }));
  if (taken.changes.length > 0) app.bell.ring();
  return taken;
}

/** So far ahead may another clock be, in milliseconds, of what is taken in by a clone; a server takes {@link MOST_AHEAD}. */
const AHEAD = 86_400_000;

/** An entry, and the key that speaks for whom it names: the one that signed it, or one that vouches for that. */
type Spoken = LedgerEntry & { speaker: string };

interface Read {
  proven: Spoken[];
  leftOut: NotTaken[];
  /** Whether there are entries of keys that are not believed. */
  strangers: boolean;
  people: ReadonlyMap<string, LedgerPerson>;
}

async function readStream(
  folder: string,
  stream: string,
  believed: ReadonlySet<string>,
  unknown: Map<string, { people: Set<string>; entries: number }>,
): Promise<Read> {
  const files = await ledgerFiles(folder, stream);
  const people = readNamed(files, "people/", person);
  const wrong = wrongFormat(files.get("format"));
  if (wrong !== null) return { proven: [], leftOut: [{ id: stream, why: wrong }], strangers: false, people };
  const { proves: prover, vouches } = ledgerProver(files, believed);
  const events = [...files].filter(([path]) => path.startsWith("events/"));
  const { proven, leftOut } = provenEntries(stream, events, prover);
  // What an unknown key signed well is told of by its key, once; not entry by entry.
  const strangers = provenEntries(stream, events, proverOf([...readKeys(files).values()])).proven.filter(
    ({ signature }) => !believed.has(signature.key) && !vouches.has(signature.key),
  );
  for (const { event, signature } of strangers) {
    const of = unknown.get(signature.key) ?? { people: new Set<string>(), entries: 0 };
    unknown.set(signature.key, of);
    of.entries++;
    of.people.add(people.get(event.by)?.fullName ?? event.by);
  }
  const told = new Set(strangers.map(({ event }) => event.id));
  const spoken = proven.map((entry): Spoken => {
    const vouched = vouches.get(entry.signature.key);
    if (!vouched) return { ...entry, speaker: entry.signature.key };
    return { ...entry, event: asPerson(entry.event, vouched.person), speaker: vouched.by };
  });
  return { proven: spoken, leftOut: leftOut.filter(({ id }) => !told.has(id)), strangers: told.size > 0, people };
}

/** Takes in what is new of one change set: the number under which it is known here, its title, and how much came; null where nothing did. */
async function takeStream(
  app: AppContext,
  repository: string,
  folder: string,
  stream: string,
  own: string,
  { proven, people }: Read,
  notTaken: NotTaken[],
  elsewhere?: Elsewhere,
): Promise<TakenIn["changes"][number] | null> {
  const log = await eventsOf(app.db, stream);
  const known = new Set(log.map(({ id }) => id));
  const fresh = proven.filter(({ event }) => !known.has(event.id));
  if (fresh.length === 0) return null;
  // Without its beginning nothing of it can be told; without a later revision, all but that.
  const first = (proven.find(({ event }) => event.kind === "opened") ?? proven[0]).event;
  if (known.size === 0 && first.kind !== "opened") {
    notTaken.push({ id: first.id, why: "how its change set began is not proven" });
    return null;
  }
  const began = known.size > 0 ? [...known].sort()[0] : first.id;
  const place: Place = { repository, now: app.now(), elsewhere };
  const change = await loadChangeSet(app.db, stream);
  const here = change !== null && !(await beganElsewhere(app.db, change));
  const bound = new Map<string, string>();
  const wrong = new Map<string, string>();
  for (const { event, speaker } of fresh) {
    const missing = await missingCommit(folder, event as unknown as ReviewEvent);
    const why =
      wrongTime(event, began, app.now(), elsewhere ? MOST_AHEAD : AHEAD) ??
      (missing === null ? null : `its commit ${missing} is not here`) ??
      (elsewhere && speaker !== own ? await wrongOfNeighbour(app.db, event as unknown as ReviewEvent, here) : null) ??
      (await wrongSpeaker(app.db, event.by, speaker, own, people, bound));
    if (why !== null) wrong.set(event.id, why);
  }
  const good = fresh.filter(({ event }) => !wrong.has(event.id)).map(({ event }) => event as unknown as ReviewEvent);
  // What another server says of its own is shown as its word.
  const mismeasured = elsewhere ? [] : await mismeasuredAmong(app, folder, log, good);
  for (const [id, why] of mismeasured) wrong.set(id, why);
  const notBegun = known.size === 0 ? wrong.get(first.id) : undefined;
  for (const { event } of notBegun === undefined ? fresh : [{ event: first }]) {
    const why = wrong.get(event.id);
    if (why !== undefined) notTaken.push({ id: event.id, why });
  }
  if (notBegun !== undefined) return null;
  return app.db.transaction().execute(async (tx) => {
    const taken: ReviewEvent[] = [];
    for (const event of good) {
      if (wrong.has(event.id)) continue;
      const key = bound.get(event.by);
      if (key !== undefined) await bind(tx, event.by, key, people, place);
      bound.delete(event.by);
      taken.push(await asHere(tx, repository, event));
    }
    // Whom an entry names and nobody has spoken for yet is known by name alone.
    for (const one of people.values()) await addLedgerPerson(tx, one, place);
    if (taken.length === 0) return null;
    await takeIn(tx, taken);
    const row = await tx
      .selectFrom("change_sets")
      .select(["number", "title"])
      .where("id", "=", stream)
      .executeTakeFirstOrThrow();
    return { ...row, came: taken.length };
  });
}

/**
 * Why an entry cannot be of the time that it says, by its own word and by its id; null where it can. `began` is the id of the entry that opened the change set. Ids
 * are the order of things: one from a day to come would have the last word for as long.
 */
export function wrongTime({ id, at }: LedgerEntry["event"], began: string, now: number, ahead = AHEAD): string | null {
  if (id < began || at < decodeTime(began) - AHEAD) return "it comes before the change set was opened";
  return Math.max(at, decodeTime(id)) > now + ahead ? "it is of a time that has not come: whose clock is wrong?" : null;
}

/** An entry as the log here has it: of the repository here, under a number that is free here. */
async function asHere(tx: Queries, repository: string, event: ReviewEvent): Promise<ReviewEvent> {
  if (event.kind !== "opened") return event;
  const taken = await tx.selectFrom("change_sets").select("number").where("repository", "=", repository).execute();
  const numbers = new Set(taken.map(({ number }) => number));
  let { number } = event.data;
  if (numbers.has(number)) number = Math.max(...numbers) + 1;
  return { ...event, data: { ...event.data, repository, number } };
}

/** What came of it, in sentences for a terminal. */
export function takenWords({ changes, notTaken, unknown }: TakenIn): string[] {
  return [
    ...changes.map(
      ({ number, title, came }) => `Change set ${number}, “${title}”: ${counted(came, "entry", "entries")} came.`,
    ),
    ...notTaken.map(({ id, why }) => `Left out ${id}: ${why}.`),
    ...unknown.map(
      ({ key, people, entries }) =>
        `Not believed: ${counted(entries, "entry", "entries")} of ${listed(people)}, signed by ${key}. If that is who they say: lens sync --accept ${key}`,
    ),
  ];
}
