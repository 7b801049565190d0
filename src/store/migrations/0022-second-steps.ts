import type { Kysely } from "kysely";

/** What people show beside their password when they sign in, and by which other providers they are known. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("second_steps")
    .addColumn("person", "text", (c) => c.primaryKey())
    .addColumn("secret", "text", (c) => c.notNull())
    .addColumn("on_since", "integer")
    .addColumn("last_step", "integer", (c) => c.notNull().defaultTo(0))
    .addColumn("words", "text", (c) => c.notNull())
    .execute();
  await db.schema
    .createTable("identities")
    .addColumn("issuer", "text", (c) => c.notNull())
    .addColumn("subject", "text", (c) => c.notNull())
    .addColumn("person", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("identities_key", ["issuer", "subject"])
    .execute();
}
