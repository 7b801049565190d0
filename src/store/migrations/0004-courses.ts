import type { Kysely } from "kysely";

export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("courses")
    .addColumn("thread", "text", (c) => c.primaryKey())
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("follower", "integer", (c) => c.notNull())
    .addColumn("result", "text", (c) => c.notNull())
    .execute();
  await db.schema.createIndex("courses_of_change").on("courses").column("change_set").execute();
}
