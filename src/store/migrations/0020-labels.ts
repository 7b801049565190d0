import type { Kysely } from "kysely";

/** Labels of repositories, and which change sets have them: given by somebody, or by what they touch. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("labels")
    .addColumn("repository", "text", (c) => c.notNull())
    .addColumn("name", "text", (c) => c.notNull())
    .addColumn("flag", "text", (c) => c.notNull())
    .addColumn("about", "text", (c) => c.notNull())
    .addColumn("paths", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("labels_key", ["repository", "name"])
    .execute();
  await db.schema
    .createTable("change_labels")
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("label", "text", (c) => c.notNull())
    .addColumn("by_path", "integer", (c) => c.notNull())
    .addPrimaryKeyConstraint("change_labels_key", ["change_set", "label", "by_path"])
    .execute();
  await db.schema.createIndex("change_labels_by_label").on("change_labels").columns(["label", "change_set"]).execute();
}
