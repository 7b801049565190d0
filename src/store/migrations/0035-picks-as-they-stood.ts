import type { Kysely } from "kysely";

/** A pick is of a suggestion as it stood. What was picked before is to be picked again: nobody knows how it stood then. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .alterTable("picks")
    .addColumn("content", "text", (column) => column.notNull().defaultTo(""))
    .execute();
}
