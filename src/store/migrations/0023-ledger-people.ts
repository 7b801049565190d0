import type { Kysely } from "kysely";

/** By which key the people of other installations are known: whoever else signs as one of them is not believed. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("ledger_people")
    .addColumn("person", "text", (c) => c.primaryKey())
    .addColumn("key", "text", (c) => c.notNull())
    .execute();
}
