import type { Kysely } from "kysely";

/** The end of what each check wrote of each commit, while it runs and for a while after. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("check_logs")
    .addColumn("repository", "text", (c) => c.notNull().references("repositories.id").onDelete("cascade"))
    .addColumn("commit", "text", (c) => c.notNull())
    .addColumn("name", "text", (c) => c.notNull())
    .addColumn("person", "text", (c) => c.notNull().references("people.id"))
    .addColumn("tail", "text", (c) => c.notNull())
    .addColumn("part", "real")
    .addColumn("at", "integer", (c) => c.notNull())
    .addPrimaryKeyConstraint("check_logs_key", ["repository", "commit", "name", "person"])
    .execute();
  await db.schema.createIndex("check_logs_at").on("check_logs").columns(["at"]).execute();
}
