import type { Kysely } from "kysely";

/** What this installation signs with, by what it is for. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("secrets")
    .addColumn("name", "text", (c) => c.primaryKey())
    .addColumn("value", "text", (c) => c.notNull())
    .execute();
}
