import type { Kysely } from "kysely";

/** When the address that a message is answered at became known to more than its reader: with the first answer. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema.alterTable("messages").addColumn("answered_at", "integer").execute();
}
