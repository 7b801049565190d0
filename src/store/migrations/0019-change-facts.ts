import type { Kysely } from "kysely";

/** What comparing the newest revision of a change set found, for lists: how much there is to read, and which paths it touches. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("change_loads")
    .addColumn("change_set", "text", (c) => c.primaryKey())
    .addColumn("head", "text", (c) => c.notNull())
    .addColumn("load", "integer", (c) => c.notNull())
    .execute();
  await db.schema
    .createTable("change_paths")
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("path", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("change_paths_key", ["change_set", "path"])
    .execute();
  await db.schema.createIndex("change_paths_by_path").on("change_paths").columns(["path", "change_set"]).execute();
}
