import type { Kysely } from "kysely";

export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("readings")
    .addColumn("engine", "integer", (c) => c.notNull())
    .addColumn("from_commit", "text", (c) => c.notNull())
    .addColumn("to_commit", "text", (c) => c.notNull())
    .addColumn("result", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("readings_key", ["from_commit", "to_commit", "engine"])
    .execute();
}
