import { sql } from "kysely";
import type { ReviewEvent } from "@/core/review/events";
import { evolve } from "@/core/review/evolve";
import type { ChangeSet } from "@/core/review/state";
import type { Queries } from "./database";
import { dropAllBut, project } from "./project";
import type { EventsTable } from "./schema";

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

/** The whole of a change set, from the log; null when there is none. Throws {@link BrokenLog} where an entry cannot be read. */
export async function loadChangeSet(db: Queries, id: string): Promise<ChangeSet | null> {
  let change: ChangeSet | null = null;
  for (const row of await rowsOf(db, [id])) change = next(change, row);
  return change;
}

/** Everything that happened to a change set, in order. Throws {@link BrokenLog}. */
export async function eventsOf(db: Queries, id: string): Promise<ReviewEvent[]> {
  return (await rowsOf(db, [id])).map(readEvent);
}

/** Several at once, in the order of the ids; ids without events, and those of which an entry cannot be read, are left out. */
export async function loadChangeSets(db: Queries, ids: readonly string[]): Promise<ChangeSet[]> {
  const byStream = new Map<string, ChangeSet | null>();
  const broken = new Set<string>();
  for (let at = 0; at < ids.length; at += 500) {
    for (const row of await rowsOf(db, ids.slice(at, at + 500))) {
      if (broken.has(row.stream)) continue;
      try {
        byStream.set(row.stream, next(byStream.get(row.stream) ?? null, row));
      } catch {
        broken.add(row.stream);
        byStream.delete(row.stream);
      }
    }
  }
  return ids.flatMap((id) => byStream.get(id) ?? []);
}

function rowsOf(db: Queries, streams: readonly string[]): Promise<EventsTable[]> {
  return db.selectFrom("events").selectAll().where("stream", "in", streams).orderBy("id").execute();
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

/** The id of the last event of a change set: as long as it is the same, so is the change set. Null when there is none. */
export async function lastEventOf(db: Queries, stream: string): Promise<string | null> {
  const row = await db
    .selectFrom("events")
    .select("id")
    .where("stream", "=", stream)
    .orderBy("id", "desc")
    .limit(1)
    .executeTakeFirst();
  return row?.id ?? null;
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
