import { type Kysely, sql } from "kysely";

/** The number that a change set has in the index of words stands in its row: what is found there is counted without a way by a third table. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema.alterTable("change_sets").addColumn("words", "integer").execute();
  await sql`update change_sets set words = (select id from change_words_of where change_set = change_sets.id)`.execute(
    db,
  );
  await db.schema
    .createIndex("change_sets_by_words")
    .unique()
    .on("change_sets")
    .columns(["words", "repository"])
    .execute();
  // A page of what was found is had by going through what changed last until it is full; what asks for no words goes other ways.
  await sql`create index change_sets_with_words on change_sets (repository, changed_at, id, words, state) where words is not null`.execute(
    db,
  );
  await sql`delete from change_words where rowid not in (select words from change_sets where words is not null)`.execute(
    db,
  );
  await db.schema.dropTable("change_words_of").execute();
}
