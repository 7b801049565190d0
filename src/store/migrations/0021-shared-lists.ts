import type { Kysely } from "kysely";

/** Lists that the keepers of a repository share with all who see it. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("shared_lists")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("repository", "text", (c) => c.notNull())
    .addColumn("name", "text", (c) => c.notNull())
    .addColumn("query", "text", (c) => c.notNull())
    .addUniqueConstraint("shared_lists_by_name", ["repository", "name"])
    .execute();
}
