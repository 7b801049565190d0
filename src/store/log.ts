import { sql } from "kysely";
import { LRUCache } from "lru-cache";
import type { ReviewEvent } from "@/core/review/events";
import { evolve } from "@/core/review/evolve";
import type { ChangeSet } from "@/core/review/state";
import { among } from "./among";
import type { Queries } from "./database";
import { madeOnce } from "./made-once";
import { dropAllBut, project } from "./project";
import type { EventsTable } from "./tables/log";

/** An entry of the log that cannot be read: its change set cannot be shown, and all others can. */
export class BrokenLog extends Error {
  constructor(
    readonly stream: string,
    readonly event: string,
    why: unknown,
  ) {
    super(
      `The record of this change set is damaged: its entry ${event} cannot be read (${why instanceof Error ? why.message : why}). Whoever keeps the installation finds it with “lens check”; a backup has it whole.`,
    );
  }
}

/**
 * What the log has made of change sets that were looked at lately. The log only grows, and an id is used once: as long as its last entry
 * is the one that a kept state knows, whichever database or transaction that is read in, so is everything before it. Bounded by entries.
 */
const known = new LRUCache<string, { change: ChangeSet; entries: number }>({
  maxSize: 200_000,
  sizeCalculation: ({ entries }) => entries,
});

/** What is read next is read from the log itself: for who looks whether that is whole, or changed it by another way than {@link append}. */
export function forgetStates(): void {
  known.clear();
}

/** The whole of a change set, from the log; null when there is none. Throws {@link BrokenLog} where an entry cannot be read. */
export async function loadChangeSet(db: Queries, id: string): Promise<ChangeSet | null> {
  const kept = known.get(id);
  if (!kept) return grown(id, null, await rowsFrom(db, id, ""), 0);
  const { last, entries } = kept.change;
  const end = await endOf(db, id);
  if (end.last === last && end.many === entries) return kept.change;
  // From the entry that is known on, that one among them: where it is not there (a transaction took it back), all is read anew.
  const rows = await rowsFrom(db, id, last);
  // And as many before it as there were: some may have come in between, from elsewhere.
  const isGrown = rows[0]?.id === last && entries + rows.length - 1 === end.many;
  return isGrown ? grown(id, kept.change, rows.slice(1), kept.entries) : grown(id, null, await rowsFrom(db, id, ""), 0);
}

/** The last entry of a change set, and how many it has. */
function endOf(db: Queries, id: string): Promise<{ last: string | null; many: number }> {
  return madeOnce(db, `end of ${id}`, () =>
    db
      .selectFrom("events")
      .select([({ fn }) => fn.max("id").as("last"), ({ fn }) => fn.countAll<number>().as("many")])
      .where("stream", "=", id)
      .executeTakeFirstOrThrow(),
  );
}

function grown(id: string, before: ChangeSet | null, rows: readonly EventsTable[], entries: number): ChangeSet | null {
  let change = before;
  for (const row of rows) change = next(change, row);
  if (change && rows.length > 0) known.set(id, { change, entries: entries + rows.length });
  return change;
}

/** The entries of a change set from one on. */
function rowsFrom(db: Queries, id: string, from: string): Promise<EventsTable[]> {
  return db.selectFrom("events").selectAll().where("stream", "=", id).where("id", ">=", from).orderBy("id").execute();
}

/** Everything that happened to a change set, in order. Throws {@link BrokenLog}. */
export async function eventsOf(db: Queries, id: string): Promise<ReviewEvent[]> {
  return (await rowsOf(db, [id])).map(readEvent);
}

/** Several at once, in the order of the ids; ids without events, and those of which an entry cannot be read, are left out. */
export async function loadChangeSets(db: Queries, ids: readonly string[]): Promise<ChangeSet[]> {
  const found = new Map<string, ChangeSet | null>();
  for (let at = 0; at < ids.length; at += 500) {
    const some = ids.slice(at, at + 500);
    const lasts = await madeOnce(db, `ends of ${some.join(" ")}`, () =>
      db
        .selectFrom("events")
        .select(["stream", (select) => select.fn.max("id").as("last"), ({ fn }) => fn.countAll<number>().as("many")])
        .where("stream", "in", among(some))
        .groupBy("stream")
        .execute(),
    );
    for (const { stream, last, many } of lasts) {
      const kept = known.get(stream);
      if (kept?.change.last === last && kept.change.entries === many) found.set(stream, kept.change);
    }
    const unknown = some.filter((id) => !found.has(id));
    const rows = unknown.length > 0 ? await rowsOf(db, unknown) : [];
    const byStream = new Map<string, EventsTable[]>();
    for (const row of rows) {
      const own = byStream.get(row.stream);
      if (own) own.push(row);
      else byStream.set(row.stream, [row]);
    }
    for (const [stream, own] of byStream) {
      try {
        found.set(stream, grown(stream, null, own, 0));
      } catch {
        found.set(stream, null);
      }
    }
  }
  return ids.flatMap((id) => found.get(id) ?? []);
}

function rowsOf(db: Queries, streams: readonly string[]): Promise<EventsTable[]> {
  return db.selectFrom("events").selectAll().where("stream", "in", among(streams)).orderBy("id").execute();
}

/** The state after one more row. */
function next(change: ChangeSet | null, row: EventsTable): ChangeSet {
  const event = readEvent(row);
  try {
    return evolve(change, event);
  } catch (error) {
    throw new BrokenLog(row.stream, row.id, error);
  }
}

/** Adds one event to the log and brings the list tables along. Call it inside the transaction in which it was decided. */
export async function append(db: Queries, before: ChangeSet | null, event: ReviewEvent): Promise<ChangeSet> {
  await db
    .insertInto("events")
    .values({ ...event, data: JSON.stringify(event.data) })
    .execute();
  const after = evolve(before, event);
  await project(db, after);
  return after;
}

/**
 * Makes the list tables again from the log, and takes out what is not in it; gives how many change sets there are. A change set of which an
 * entry cannot be read keeps the rows it has. Call it in a transaction.
 */
export async function rebuild(db: Queries): Promise<number> {
  const streams = await db.selectFrom("events").select("stream").distinct().orderBy("stream").execute();
  for (const { stream } of streams) {
    const [change] = await loadChangeSets(db, [stream]);
    if (change) await project(db, change);
  }
  await dropAllBut(db);
  return streams.length;
}

/** Events after a place in the log, in the order they were written. The place is a matter of this database alone: followers keep it. */
export async function eventsAfter(
  db: Queries,
  position: number,
  most: number,
): Promise<{ position: number; event: ReviewEvent }[]> {
  const rows = await db
    .selectFrom("events")
    .selectAll()
    .select(sql<number>`rowid`.as("position"))
    .where(sql<number>`rowid`, ">", position)
    .orderBy(sql`rowid`)
    .limit(most)
    .execute();
  // One that cannot be read holds up nobody who follows.
  return rows.flatMap(({ position: at, ...row }) => {
    try {
      return [{ position: at, event: readEvent(row) }];
    } catch {
      return [];
    }
  });
}

/** Where an event stands in the log of this database; null for one that is not in it. */
export async function positionOf(db: Queries, id: string): Promise<number | null> {
  const row = await db
    .selectFrom("events")
    .select(sql<number>`rowid`.as("position"))
    .where("id", "=", id)
    .executeTakeFirst();
  return row?.position ?? null;
}

/** How far someone who follows the log has come; null when they have not begun. */
export async function placeOf(db: Queries, follower: string): Promise<number | null> {
  const row = await db.selectFrom("followers").select("position").where("name", "=", follower).executeTakeFirst();
  return row ? Number(row.position) : null;
}

/** Notes how far someone who follows the log has come. */
export async function keepPlace(db: Queries, follower: string, place: number): Promise<void> {
  const position = String(place);
  await db
    .insertInto("followers")
    .values({ name: follower, position })
    .onConflict((conflict) => conflict.column("name").doUpdateSet({ position }))
    .execute();
}

/** Where the log ends now; 0 when it is empty. */
export async function lastEvent(db: Queries): Promise<number> {
  const row = await db.selectFrom("events").select(sql<number | null>`max(rowid)`.as("last")).executeTakeFirst();
  return row?.last ?? 0;
}

/** The last event of a change set, and how many there are: as long as that is the same, so is the change set. Null when there is none. */
export async function standOf(db: Queries, stream: string): Promise<string | null> {
  const { last, many } = await db
    .selectFrom("events")
    .select(({ fn }) => [fn.max("id").as("last"), fn.countAll<number>().as("many")])
    .where("stream", "=", stream)
    .executeTakeFirstOrThrow();
  return last && `${last} ${many}`;
}

/** Adds events that were written elsewhere, in whatever order they come, and makes the lists again of what they are about. */
export async function takeIn(db: Queries, events: readonly ReviewEvent[]): Promise<void> {
  for (const event of events)
    await db
      .insertInto("events")
      .values({ ...event, data: JSON.stringify(event.data) })
      .execute();
  for (const change of await loadChangeSets(db, [...new Set(events.map(({ stream }) => stream))]))
    await project(db, change);
}

/** The greatest id in the log; null when it is empty. */
export async function lastId(db: Queries): Promise<string | null> {
  const row = await db.selectFrom("events").select("id").orderBy("id", "desc").limit(1).executeTakeFirst();
  return row?.id ?? null;
}

/** Events by their ids, in the order of the log. */
export async function eventsByIds(db: Queries, ids: readonly string[]): Promise<ReviewEvent[]> {
  const rows = await db.selectFrom("events").selectAll().where("id", "in", ids).orderBy(sql`rowid`).execute();
  return rows.map(readEvent);
}

function readEvent(row: EventsTable): ReviewEvent {
  try {
    const data: unknown = JSON.parse(row.data);
    if (typeof data !== "object" || data === null) throw new Error("it is empty");
    return { ...row, data } as ReviewEvent;
  } catch (error) {
    throw new BrokenLog(row.stream, row.id, error);
  }
}
