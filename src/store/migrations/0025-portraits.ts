import type { Kysely } from "kysely";

/** How people are drawn: the colour of their initials, or a picture. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("portraits")
    .addColumn("person", "text", (c) => c.primaryKey())
    .addColumn("hue", "integer")
    .addColumn("type", "text")
    .addColumn("bytes", "blob")
    .addColumn("at", "integer", (c) => c.notNull())
    .execute();
}
