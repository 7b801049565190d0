import type { Kysely } from "kysely";

/** When it was said in the ledgers that a key is revoked; null while that has to be done. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema.alterTable("clone_keys").addColumn("told_at", "integer").execute();
}
