import type { Kysely } from "kysely";

/** Files that a person has opened to their end, with the newest revision in which they did. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("looks")
    .addColumn("change_set", "text", (column) => column.notNull().references("change_sets.id").onDelete("cascade"))
    .addColumn("person", "text", (column) => column.notNull().references("people.id").onDelete("cascade"))
    .addColumn("path", "text", (column) => column.notNull())
    .addColumn("revision", "integer", (column) => column.notNull())
    .addColumn("at", "integer", (column) => column.notNull())
    .addPrimaryKeyConstraint("looks_key", ["change_set", "person", "path"])
    .execute();
}
