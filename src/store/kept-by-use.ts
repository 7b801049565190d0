import { type Insertable, sql } from "kysely";
import { DEFINITIONS_ENGINE } from "@/core/definitions/definitions";
import { ENGINE } from "@/core/diff/compare";
import { READING_ENGINE } from "@/core/quiet/kinds/kinds";
import type { Database } from "./database";
import type { Schema } from "./schema";

/** Tables of what was worked out and can be again, with the version that still counts. */
const KEPT = { comparisons: ENGINE, readings: READING_ENGINE, left_alone: DEFINITIONS_ENGINE } as const;
type KeptTable = keyof typeof KEPT;
const TABLES = Object.keys(KEPT) as KeptTable[];

/** A row without what is noted of it here. */
type Result<Table extends KeptTable> = Omit<Insertable<Schema[Table]>, "size" | "used_at">;

/** What was kept for a row of these values; null where nothing is. */
export async function keptResult<Table extends KeptTable>(
  db: Database,
  now: number,
  table: Table,
  of: Partial<Result<Table>>,
): Promise<string | null> {
  const columns = Object.entries(of).map(([column, value]) => sql<boolean>`${sql.ref(column)} = ${value}`);
  const row = await db
    .selectFrom(table as KeptTable)
    .select(["result", "used_at"])
    .where(({ and }) => and(columns))
    .executeTakeFirst();
  if (!row) return null;
  if (now - row.used_at > NOTED_EVERY)
    await db
      .updateTable(table as KeptTable)
      .set({ used_at: now })
      .where(({ and }) => and(columns))
      .execute()
      // Where nothing can be written, reading goes on: who writes hears of it.
      .catch(() => undefined);
  return row.result;
}

/** Keeps what was worked out, as JSON. What is there already stays. */
export async function keepResults<Table extends KeptTable>(
  db: Database,
  now: number,
  table: Table,
  results: (Result<Table> & { result: string })[],
): Promise<void> {
  const rows = results.map((row) => ({ size: row.result.length, used_at: now, ...row }));
  if (rows.length === 1) {
    await db
      .insertInto(table as KeptTable)
      .values(rows[0] as unknown as Insertable<Schema[KeptTable]>)
      .onConflict((conflict) => conflict.doNothing())
      .execute();
  } else if (rows.length > 1) await keepSeveral(db, table, rows);
}

/** Several rows as one value: a statement with one for each column of each would be made, read and prepared anew for every number of them. */
async function keepSeveral(db: Database, table: KeptTable, rows: readonly object[]): Promise<void> {
  const columns = Object.keys(rows[0]);
  const values = columns.map((column) => sql`value->>${sql.lit(`$.${column}`)}`);
  await sql`insert into ${sql.table(table)} (${sql.join(columns.map((column) => sql.ref(column)))})
    select ${sql.join(values)} from json_each(${JSON.stringify(rows)}) where true on conflict do nothing`.execute(db);
}

/** That something was used is noted once in so long, in milliseconds: a read shall not cost a write. */
export const NOTED_EVERY = 24 * 3_600_000;

/** So many rows are let go of at once, so that nobody waits long for it. */
const AT_ONCE = 500;

/**
 * Lets go of what other versions worked out, and then of what was not used for the longest time, until all of it together has no more than
 * `limit` characters. Gives how many rows went. What goes is worked out again when it is asked for.
 */
export async function forgetUnused(db: Database, limit: number): Promise<number> {
  let gone = 0;
  for (const table of TABLES) {
    const { numDeletedRows } = await db.deleteFrom(table).where("engine", "!=", KEPT[table]).executeTakeFirst();
    gone += Number(numDeletedRows);
  }
  for (;;) {
    const over = (await held(db)) - limit;
    if (over <= 0) return gone;
    gone += await forgetOldest(db, over);
  }
}

async function held(db: Database): Promise<number> {
  let sum = 0;
  for (const table of TABLES) {
    const { size } = await db
      .selectFrom(table)
      .select(({ fn }) => fn.sum<number | null>("size").as("size"))
      .executeTakeFirstOrThrow();
    sum += Number(size ?? 0);
  }
  return sum;
}

/** Lets go of some rows, those used longest ago, but of no more than have `over` characters and one row beyond. */
async function forgetOldest(db: Database, over: number): Promise<number> {
  const rows: { table: KeptTable; id: number; size: number; used: number }[] = [];
  for (const table of TABLES) {
    const oldest = await db
      .selectFrom(table)
      .select([sql<number>`rowid`.as("id"), "size", "used_at as used"])
      .orderBy("used_at")
      .limit(AT_ONCE)
      .execute();
    rows.push(...oldest.map((row) => ({ ...row, table })));
  }
  rows.sort((a, b) => a.used - b.used);
  let size = 0;
  const gone = rows.slice(0, AT_ONCE).filter((row) => {
    const goes = size < over;
    size += row.size;
    return goes;
  });
  for (const table of TABLES) {
    const ids = gone.filter((row) => row.table === table).map(({ id }) => id);
    if (ids.length > 0) await db.deleteFrom(table).where(sql<number>`rowid`, "in", ids).execute();
  }
  return gone.length;
}
