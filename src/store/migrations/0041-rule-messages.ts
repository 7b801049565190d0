import type { Kysely } from "kysely";

/** Mail to the keepers who are to agree to an edition of the rules. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("rule_messages")
    .addColumn("repository", "text", (column) => column.notNull().references("repositories.id").onDelete("cascade"))
    .addColumn("version", "integer", (column) => column.notNull())
    .addColumn("person", "text", (column) => column.notNull().references("people.id").onDelete("cascade"))
    .addColumn("due_at", "integer", (column) => column.notNull())
    .addColumn("tries", "integer", (column) => column.notNull())
    .addColumn("sent_at", "integer")
    .addColumn("problem", "text")
    .addPrimaryKeyConstraint("rule_messages_key", ["repository", "version", "person"])
    .execute();
}
