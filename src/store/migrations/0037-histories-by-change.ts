import type { Kysely } from "kysely";

/**
 * Where the lines of a thread went is kept by its change set, too: the id of a thread is the word of whoever wrote it, and may be that of one elsewhere. What was
 * kept is worked out anew.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema.dropTable("anchor_histories").execute();
  await db.schema
    .createTable("anchor_histories")
    .addColumn("thread", "text", (c) => c.notNull())
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("follower", "integer", (c) => c.notNull())
    .addColumn("result", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("anchor_histories_of_change", ["change_set", "thread"])
    .execute();
}
