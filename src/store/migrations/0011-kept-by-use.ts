import { type Kysely, sql } from "kysely";

/** What was worked out and can be again is kept as long as it is used and there is room. */
export async function up(db: Kysely<unknown>): Promise<void> {
  for (const table of ["comparisons", "readings"]) {
    for (const column of ["size", "used_at"])
      await db.schema
        .alterTable(table)
        .addColumn(column, "integer", (c) => c.notNull().defaultTo(0))
        .execute();
    await sql`update ${sql.table(table)} set size = length(result)`.execute(db);
  }
  await db.schema
    .createTable("left_alone")
    .addColumn("engine", "integer", (c) => c.notNull())
    .addColumn("from_commit", "text", (c) => c.notNull())
    .addColumn("to_commit", "text", (c) => c.notNull())
    .addColumn("settings_commit", "text", (c) => c.notNull())
    .addColumn("result", "text", (c) => c.notNull())
    .addColumn("size", "integer", (c) => c.notNull())
    .addColumn("used_at", "integer", (c) => c.notNull())
    .addPrimaryKeyConstraint("left_alone_key", ["from_commit", "to_commit", "settings_commit", "engine"])
    .execute();
  // Sizes are summed and the oldest found without reading what is kept.
  for (const table of ["comparisons", "readings", "left_alone"])
    await db.schema.createIndex(`${table}_by_use`).on(table).columns(["used_at", "size"]).execute();
}
