import type { Kysely } from "kysely";

/** Answers in threads that wait, like remarks, to go out with the review. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema.alterTable("unsent").addColumn("thread", "text").execute();
  await db.schema
    .alterTable("unsent")
    .addColumn("resolves", "integer", (column) => column.notNull().defaultTo(0))
    .execute();
}
