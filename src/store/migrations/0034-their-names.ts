import type { Kysely } from "kysely";

/** Tables get the names that their rows have everywhere else. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema.alterTable("letters").renameTo("messages").execute();
  await db.schema.alterTable("courses").renameTo("anchor_histories").execute();
}
