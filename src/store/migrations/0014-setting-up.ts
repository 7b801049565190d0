import type { Kysely } from "kysely";

/** What is needed to set an installation up in the browser: more about repositories, where they are fetched from, and invitations. */
export async function up(db: Kysely<unknown>): Promise<void> {
  const { schema } = db;
  await schema
    .alterTable("repositories")
    .addColumn("description", "text", (c) => c.notNull().defaultTo(""))
    .execute();
  await schema
    .alterTable("repositories")
    .addColumn("open_to_all", "integer", (c) => c.notNull().defaultTo(0))
    .execute();
  await schema.alterTable("repositories").addColumn("archived_at", "integer").execute();
  await schema.alterTable("repositories").addColumn("deleted_at", "integer").execute();
  await schema
    .createTable("origins")
    .addColumn("repository", "text", (c) => c.primaryKey().references("repositories.id"))
    .addColumn("account", "text", (c) => c.notNull())
    .addColumn("secret", "text", (c) => c.notNull())
    .addColumn("every", "integer", (c) => c.notNull())
    .addColumn("fetched_at", "integer")
    .addColumn("problem", "text", (c) => c.notNull())
    .execute();
  await schema
    .createTable("invites")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("word_hash", "text", (c) => c.notNull().unique())
    .addColumn("label", "text", (c) => c.notNull())
    .addColumn("roles", "text", (c) => c.notNull())
    .addColumn("made_by", "text", (c) => c.notNull())
    .addColumn("made_at", "integer", (c) => c.notNull())
    .addColumn("expires_at", "integer", (c) => c.notNull())
    .addColumn("used_by", "text")
    .execute();
}
