import type { Kysely } from "kysely";

/** Other servers that hold the reviews of the same repository, and what they sign with. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("neighbours")
    .addColumn("repository", "text", (c) => c.notNull())
    .addColumn("name", "text", (c) => c.notNull())
    .addColumn("key", "text", (c) => c.notNull())
    .addColumn("address", "text", (c) => c.notNull())
    .addColumn("account", "text", (c) => c.notNull())
    .addColumn("secret", "text", (c) => c.notNull())
    .addColumn("bell", "text", (c) => c.notNull())
    .addColumn("every", "integer", (c) => c.notNull())
    .addColumn("asked_at", "integer")
    .addColumn("problem", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("neighbours_key", ["repository", "name"])
    .execute();
}
