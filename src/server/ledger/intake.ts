import { decodeTime } from "ulid";
import { visible } from "@/core/cautions/visible";
import { type LedgerEntry, provenEntries, wrongFormat } from "@/core/doors/ledger/ledger";
import { counted, listed } from "@/core/plain/words";
import { wrongFromElsewhere } from "@/core/review/elsewhere";
import type { ReviewEvent } from "@/core/review/events";
import { ledgerFiles } from "@/git/ledger";
import type { Queries } from "@/store/database";
import { eventsOf, loadChangeSet, takeIn } from "@/store/log";
import { folderOf } from "../access/repositories";
import { type AppContext, MOST_AHEAD } from "../app/context";
import { asPerson, type LedgerPerson, ledgerProver, person, readKeys, readNamed } from "./brought";
import { ledgerKey, proverOf } from "./keys";
import { mismeasuredAmong, missingCommit } from "./offerings";

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

/** The server that entries come from, where they do not come from clones: its people have no role here, and each of the two decides on what began with it. */
export interface Elsewhere {
  name: string;
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
  const known = new Set((await eventsOf(app.db, stream)).map(({ id }) => id));
  const fresh = proven.filter(({ event }) => !known.has(event.id));
  if (fresh.length === 0) return null;
  const missing = new Map<string, string>();
  for (const { event } of fresh) {
    const commit = await missingCommit(folder, event as unknown as ReviewEvent);
    if (commit) missing.set(event.id, `its commit ${commit} is not here`);
  }
  // What another server says of its own is shown as its word.
  const entries = proven.map(({ event }) => event as unknown as ReviewEvent);
  const mismeasured = elsewhere ? new Map<string, string>() : await mismeasuredAmong(app, folder, entries, known);
  // Without its beginning nothing of it can be told; without a later revision, all but that.
  const first = proven[0].event;
  if (known.size === 0 && first.kind !== "opened") {
    notTaken.push({ id: first.id, why: "how its change set began is not proven" });
    return null;
  }
  const began = known.size > 0 ? [...known].sort()[0] : first.id;
  const notBegun = known.has(first.id) ? undefined : (missing.get(first.id) ?? mismeasured.get(first.id));
  if (notBegun !== undefined) {
    notTaken.push({ id: first.id, why: notBegun });
    return null;
  }
  return app.db.transaction().execute(async (tx) => {
    const taken: ReviewEvent[] = [];
    const place: Place = { repository, now: app.now(), elsewhere };
    const here = known.size > 0 && !(await beganElsewhere(tx, (await loadChangeSet(tx, stream))!));
    for (const { event, speaker } of fresh) {
      const why =
        wrongTime(event, began, app.now(), elsewhere ? MOST_AHEAD : AHEAD) ??
        missing.get(event.id) ??
        mismeasured.get(event.id) ??
        (elsewhere && speaker !== own ? await wrongOfNeighbour(tx, event as unknown as ReviewEvent, here) : null) ??
        (await wrongSpeaker(tx, event.by, speaker, own, people, place));
      if (why) notTaken.push({ id: event.id, why });
      else taken.push(await asHere(tx, repository, event as unknown as ReviewEvent));
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

/** Where entries are taken in. */
interface Place {
  repository: string;
  now: number;
  elsewhere?: Elsewhere;
}

/** Whether a change set is of somebody of another installation: what is decided of it is decided there. */
export async function beganElsewhere(db: Queries, { author }: { author: string }): Promise<boolean> {
  const row = await db.selectFrom("people").select("email").where("id", "=", author).executeTakeFirst();
  return row?.email.endsWith(ELSEWHERE) ?? false;
}

/** Why an entry of another server is not let in; null where it is. */
async function wrongOfNeighbour(tx: Queries, event: ReviewEvent, here: boolean): Promise<string | null> {
  const wrong = wrongFromElsewhere(event, here);
  if (wrong !== null || event.kind !== "opened") return wrong;
  const { author = event.by } = event.data;
  if (author === event.by) return null;
  const row = await tx.selectFrom("people").select("email").where("id", "=", author).executeTakeFirst();
  return row?.email.endsWith(ELSEWHERE) ? null : "its author is nobody whom that server speaks for";
}

/**
 * Why a key does not speak for somebody; null where it does. People of this installation are spoken for by its own key alone; of others the key that
 * spoke for them first.
 */
async function wrongSpeaker(
  tx: Queries,
  id: string,
  key: string,
  own: string,
  people: ReadonlyMap<string, LedgerPerson>,
  place: Place,
): Promise<string | null> {
  const bound = await tx.selectFrom("ledger_people").select("key").where("person", "=", id).executeTakeFirst();
  if (bound) return bound.key === key ? null : "another key speaks for whom it names";
  const here = await tx.selectFrom("people").select("email").where("id", "=", id).executeTakeFirst();
  if (here && !here.email.endsWith(ELSEWHERE))
    return key === own ? null : "it names somebody of this installation, and another key signed it";
  const named = people.get(id);
  if (!named || named.id !== id) return "nobody says who it names";
  await addLedgerPerson(tx, named, place);
  await tx.insertInto("ledger_people").values({ person: id, key, joined: null }).execute();
  // Two may call themselves the same: the key tells them apart, or the server.
  const where = place.elsewhere ? ` at ${place.elsewhere.name}` : ` (${key.slice(0, 8)})`;
  const fullName = `${visible(named.fullName).slice(0, 200)}${where}`;
  await tx.updateTable("people").set({ full_name: fullName }).where("id", "=", id).execute();
  return null;
}

/** What no password has as its hash. */
const NO_PASSWORD = "none";
/** People of other installations have no mail address here. */
const ELSEWHERE = "@elsewhere.invalid";

/** Somebody of another installation: they cannot sign in here, and take part in the repository by what they sign. */
async function addLedgerPerson(
  tx: Queries,
  { id, name, fullName }: LedgerPerson,
  { repository, now, elsewhere }: Place,
) {
  if (!/^[0-9A-HJKMNP-TV-Z]{26}$/.test(id)) return;
  const known = await tx.selectFrom("people").select("email").where("id", "=", id).executeTakeFirst();
  // What those may do who belong here is not for a ledger to say.
  if (known && !known.email.endsWith(ELSEWHERE)) return;
  if (!known) {
    const plain =
      name
        .toLowerCase()
        .replace(/[^a-z0-9.-]+/g, "-")
        .slice(0, 40) || "someone";
    let free = plain;
    for (let n = 2; await tx.selectFrom("people").select("id").where("name", "=", free).executeTakeFirst(); n++)
      free = `${plain}-${n}`;
    await tx
      .insertInto("people")
      .values({
        ...{
          id,
          name: free,
          full_name: `${visible(fullName).slice(0, 200)} (elsewhere)`,
          email: `${id.toLowerCase()}${ELSEWHERE}`,
        },
        ...{ password: NO_PASSWORD, administrator: 0, demo: 0, about: "", machine: 0, owner: null },
        ...{ created_at: now, disabled_at: null },
      })
      .execute();
  }
  if (elsewhere) return;
  await tx
    .insertInto("own_roles")
    .values({ person: id, repository, role: "contributor" })
    .onConflict((conflict) => conflict.doNothing())
    .execute();
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
