import type { Kysely } from "kysely";

/** Which entries of the log concern whom, and when they saw that. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("notices")
    .addColumn("person", "text", (c) => c.notNull())
    .addColumn("event", "text", (c) => c.notNull())
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("read_at", "integer")
    .addPrimaryKeyConstraint("notices_key", ["person", "event"])
    .execute();
  await db.schema.createIndex("notices_of_change").on("notices").columns(["person", "change_set"]).execute();
}
