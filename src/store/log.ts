import { sql } from "kysely";
import type { ReviewEvent } from "@/core/review/events";
import { evolve, replay } from "@/core/review/evolve";
import type { ChangeSet } from "@/core/review/state";
import type { Queries } from "./database";
import { clearProjection, project } from "./project";
import type { EventsTable } from "./schema";

/** The whole of a change set, from the log; null when there is none. */
export async function loadChangeSet(db: Queries, id: string): Promise<ChangeSet | null> {
  return replay(await eventsOf(db, id));
}

/** Everything that happened to a change set, in order. */
export async function eventsOf(db: Queries, id: string): Promise<ReviewEvent[]> {
  const rows = await db.selectFrom("events").selectAll().where("stream", "=", id).orderBy("id").execute();
  return rows.map(readEvent);
}

/** Several at once, in the order of the ids; ids without events are left out. */
export async function loadChangeSets(db: Queries, ids: readonly string[]): Promise<ChangeSet[]> {
  const byStream = new Map<string, ChangeSet | null>();
  for (let at = 0; at < ids.length; at += 500) {
    const some = ids.slice(at, at + 500);
    const rows = await db.selectFrom("events").selectAll().where("stream", "in", some).orderBy("id").execute();
    for (const row of rows) byStream.set(row.stream, evolve(byStream.get(row.stream) ?? null, readEvent(row)));
  }
  return ids.flatMap((id) => byStream.get(id) ?? []);
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

/** Throws the list tables away and makes them again from the log; gives how many change sets there are. Call it in a transaction. */
export async function rebuild(db: Queries): Promise<number> {
  await clearProjection(db);
  const streams = await db.selectFrom("events").select("stream").distinct().orderBy("stream").execute();
  for (const { stream } of streams) {
    const change = await loadChangeSet(db, stream);
    if (change) await project(db, change);
  }
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
  return rows.map(({ position: at, ...row }) => ({ position: at, event: readEvent(row) }));
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
  return { ...row, data: JSON.parse(row.data) } as ReviewEvent;
}
