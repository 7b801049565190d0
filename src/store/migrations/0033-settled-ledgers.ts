import type { Kysely } from "kysely";

/** Ledgers of which all is in the log and all of the log is in them, and how both stood then: nothing has to be looked at while they stand so. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("settled_ledgers")
    .addColumn("stream", "text", (c) => c.primaryKey())
    .addColumn("stand", "text", (c) => c.notNull())
    .execute();
}
