import type { Kysely } from "kysely";

/** Readings depend on whose settings count. All are made anew: those that are there were made with the author's. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema.dropTable("readings").execute();
  await db.schema
    .createTable("readings")
    .addColumn("engine", "integer", (column) => column.notNull())
    .addColumn("from_commit", "text", (column) => column.notNull())
    .addColumn("to_commit", "text", (column) => column.notNull())
    .addColumn("settings_commit", "text", (column) => column.notNull())
    .addColumn("result", "text", (column) => column.notNull())
    .addPrimaryKeyConstraint("readings_key", ["from_commit", "to_commit", "settings_commit", "engine"])
    .execute();
}
