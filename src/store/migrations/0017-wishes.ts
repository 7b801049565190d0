import type { Kysely } from "kysely";

/** What each person wants to hear, as JSON; those without a row want what is usual. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("wishes")
    .addColumn("person", "text", (c) => c.primaryKey().references("people.id"))
    .addColumn("wishes", "text", (c) => c.notNull())
    .execute();
}
