import type { Kysely } from "kysely";

/** Keys of clones, each of one person: what they sign is taken in as theirs. One that was revoked stays, so that nobody makes it theirs again. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("clone_keys")
    .addColumn("key", "text", (c) => c.primaryKey())
    .addColumn("public", "text", (c) => c.notNull())
    .addColumn("person", "text", (c) => c.notNull())
    .addColumn("label", "text", (c) => c.notNull())
    .addColumn("added_at", "integer", (c) => c.notNull())
    .addColumn("used_at", "integer")
    .addColumn("revoked_at", "integer")
    .execute();
}
