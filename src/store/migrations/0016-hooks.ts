import type { Kysely } from "kysely";

/** Addresses that are told what happens, and the messages to them. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("hooks")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("repository", "text", (c) => c.notNull().references("repositories.id"))
    .addColumn("url", "text", (c) => c.notNull())
    .addColumn("secret", "text", (c) => c.notNull())
    .addColumn("kinds", "text", (c) => c.notNull())
    .addColumn("made_at", "integer", (c) => c.notNull())
    .execute();
  await db.schema
    .createTable("deliveries")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("hook", "text", (c) => c.notNull().references("hooks.id").onDelete("cascade"))
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("event", "text", (c) => c.notNull())
    .addColumn("kind", "text", (c) => c.notNull())
    .addColumn("body", "text", (c) => c.notNull())
    .addColumn("at", "integer", (c) => c.notNull())
    .addColumn("tries", "integer", (c) => c.notNull())
    .addColumn("due_at", "integer")
    .addColumn("done_at", "integer")
    .addColumn("answer", "text", (c) => c.notNull())
    .addUniqueConstraint("deliveries_once", ["hook", "event"])
    .execute();
  await db.schema.createIndex("deliveries_due").on("deliveries").columns(["due_at"]).execute();
}
