import type { Kysely } from "kysely";

/** The change sets that somebody has to do with are looked for by who that is. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createIndex("change_sets_of_person")
    .on("change_set_people")
    .columns(["person", "change_set"])
    .execute();
}
