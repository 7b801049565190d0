import type { Kysely } from "kysely";
import { sql } from "kysely";

export async function up(db: Kysely<unknown>): Promise<void> {
  for (const [table, column, type, otherwise] of [
    ["unsent", "kind", "text", "remark"],
    ["unsent", "weight", "text", "settle"],
    ["unsent", "suggestions", "text", "[]"],
    ["rules", "settled", "integer", 1],
    ["people", "machine", "integer", 0],
  ] as const) {
    await db.schema
      .alterTable(table)
      .addColumn(column, type, (c) => c.notNull().defaultTo(otherwise))
      .execute();
  }
  await db.schema.alterTable("unsent").addColumn("assignee", "text").execute();
  // Until now a note without an anchor was the closing word.
  await sql`update unsent set kind = 'closing' where anchor is null`.execute(db);
  await db.schema
    .createTable("picks")
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("person", "text", (c) => c.notNull())
    .addColumn("thread", "text", (c) => c.notNull())
    .addColumn("suggestion", "text", (c) => c.notNull())
    .addColumn("at", "integer", (c) => c.notNull())
    .addPrimaryKeyConstraint("picks_key", ["change_set", "person", "suggestion"])
    .execute();
  await db.schema
    .createTable("carried")
    .addColumn("key", "text", (c) => c.primaryKey())
    .addColumn("person", "text", (c) => c.notNull())
    .addColumn("at", "integer", (c) => c.notNull())
    .execute();
  await db.schema
    .createTable("images")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("repository", "text", (c) => c.notNull())
    .addColumn("person", "text", (c) => c.notNull())
    .addColumn("type", "text", (c) => c.notNull())
    .addColumn("bytes", "blob", (c) => c.notNull())
    .addColumn("at", "integer", (c) => c.notNull())
    .execute();
  await db.schema
    .createTable("tokens")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("token_hash", "text", (c) => c.notNull().unique())
    .addColumn("person", "text", (c) => c.notNull())
    .addColumn("label", "text", (c) => c.notNull())
    .addColumn("created_at", "integer", (c) => c.notNull())
    .addColumn("used_at", "integer")
    .execute();
  await db.schema
    .createTable("followers")
    .addColumn("name", "text", (c) => c.primaryKey())
    .addColumn("position", "text", (c) => c.notNull())
    .execute();
  await db.schema
    .createTable("letters")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("person", "text", (c) => c.notNull())
    .addColumn("events", "text", (c) => c.notNull())
    .addColumn("due_at", "integer", (c) => c.notNull())
    .addColumn("tries", "integer", (c) => c.notNull().defaultTo(0))
    .addColumn("sent_at", "integer")
    .addColumn("problem", "text")
    .execute();
  await db.schema.createIndex("letters_due").on("letters").columns(["sent_at", "due_at"]).execute();
  await db.schema
    .createTable("unfollowed")
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("person", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("unfollowed_key", ["change_set", "person"])
    .execute();
}
