import type { Kysely } from "kysely";

/** Whether the reviews of a repository are written into it. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .alterTable("repositories")
    .addColumn("ledger", "integer", (c) => c.notNull().defaultTo(1))
    .execute();
}
