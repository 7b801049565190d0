import { type Kysely, sql } from "kysely";

/** What lists can be asked for, the words of change sets, and lists that people keep. The lists are made again from the log after it. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .alterTable("change_sets")
    .addColumn("turn", "text", (c) => c.notNull().defaultTo("nobody"))
    .execute();
  await db.schema
    .alterTable("change_sets")
    .addColumn("checks", "text", (c) => c.notNull().defaultTo("none"))
    .execute();
  for (const column of ["asked", "moves"])
    await db.schema
      .alterTable("change_set_people")
      .addColumn(column, "integer", (c) => c.notNull().defaultTo(0))
      .execute();
  // Rows of the index of words have numbers, which stay when the file is packed.
  await db.schema
    .createTable("change_words_of")
    .addColumn("id", "integer", (c) => c.primaryKey())
    .addColumn("change_set", "text", (c) => c.notNull().unique())
    .execute();
  await sql`create virtual table change_words using fts5(title, description, talk, tokenize = "unicode61 remove_diacritics 2")`.execute(
    db,
  );
  await db.schema
    .createTable("lists")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("person", "text", (c) => c.notNull())
    .addColumn("name", "text", (c) => c.notNull())
    .addColumn("query", "text", (c) => c.notNull())
    .addColumn("position", "integer", (c) => c.notNull())
    .execute();
  await db.schema.createIndex("lists_of_person").on("lists").columns(["person", "position"]).execute();
}
