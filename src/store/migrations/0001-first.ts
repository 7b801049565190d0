import type { Kysely } from "kysely";

export async function up(db: Kysely<unknown>): Promise<void> {
  const { schema } = db;
  await schema
    .createTable("people")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("name", "text", (c) => c.notNull().unique())
    .addColumn("full_name", "text", (c) => c.notNull())
    .addColumn("email", "text", (c) => c.notNull())
    .addColumn("password", "text", (c) => c.notNull())
    .addColumn("administrator", "integer", (c) => c.notNull())
    .addColumn("demo", "integer", (c) => c.notNull())
    .addColumn("about", "text", (c) => c.notNull())
    .addColumn("created_at", "integer", (c) => c.notNull())
    .execute();
  await schema
    .createTable("sessions")
    .addColumn("token_hash", "text", (c) => c.primaryKey())
    .addColumn("person", "text", (c) => c.notNull().references("people.id"))
    .addColumn("created_at", "integer", (c) => c.notNull())
    .addColumn("expires_at", "integer", (c) => c.notNull())
    .execute();
  await schema
    .createTable("repositories")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("name", "text", (c) => c.notNull().unique())
    .addColumn("default_branch", "text", (c) => c.notNull())
    .addColumn("created_at", "integer", (c) => c.notNull())
    .execute();
  await schema
    .createTable("roles")
    .addColumn("person", "text", (c) => c.notNull().references("people.id"))
    .addColumn("repository", "text", (c) => c.notNull().references("repositories.id"))
    .addColumn("role", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("roles_key", ["person", "repository"])
    .execute();
  await schema
    .createTable("rules")
    .addColumn("repository", "text", (c) => c.notNull().references("repositories.id"))
    .addColumn("branch", "text", (c) => c.notNull())
    .addColumn("approvals", "integer", (c) => c.notNull())
    .addPrimaryKeyConstraint("rules_key", ["repository", "branch"])
    .execute();
  await schema
    .createTable("events")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("stream", "text", (c) => c.notNull())
    .addColumn("kind", "text", (c) => c.notNull())
    .addColumn("version", "integer", (c) => c.notNull())
    .addColumn("by", "text", (c) => c.notNull())
    .addColumn("at", "integer", (c) => c.notNull())
    .addColumn("data", "text", (c) => c.notNull())
    .execute();
  await schema.createIndex("events_of_stream").on("events").columns(["stream", "id"]).execute();
  await schema
    .createTable("change_sets")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("repository", "text", (c) => c.notNull())
    .addColumn("number", "integer", (c) => c.notNull())
    .addColumn("title", "text", (c) => c.notNull())
    .addColumn("author", "text", (c) => c.notNull())
    .addColumn("state", "text", (c) => c.notNull())
    .addColumn("source", "text", (c) => c.notNull())
    .addColumn("target", "text", (c) => c.notNull())
    .addColumn("revision", "integer", (c) => c.notNull())
    .addColumn("head", "text", (c) => c.notNull())
    .addColumn("open_threads", "integer", (c) => c.notNull())
    .addColumn("opened_at", "integer", (c) => c.notNull())
    .addColumn("changed_at", "integer", (c) => c.notNull())
    .addColumn("settled_at", "integer")
    .addUniqueConstraint("change_sets_number", ["repository", "number"])
    .execute();
  await schema
    .createIndex("change_sets_by_state")
    .on("change_sets")
    .columns(["state", "repository", "changed_at"])
    .execute();
  await schema
    .createTable("change_set_people")
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("person", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("change_set_people_key", ["change_set", "person"])
    .execute();
  await schema
    .createTable("unsent")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("person", "text", (c) => c.notNull())
    .addColumn("anchor", "text")
    .addColumn("body", "text", (c) => c.notNull())
    .addColumn("created_at", "integer", (c) => c.notNull())
    .addColumn("changed_at", "integer", (c) => c.notNull())
    .execute();
  await schema.createIndex("unsent_of_person").on("unsent").columns(["change_set", "person"]).execute();
  await schema
    .createTable("read_marks")
    .addColumn("person", "text", (c) => c.notNull())
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("path", "text", (c) => c.notNull())
    .addColumn("old_id", "text", (c) => c.notNull())
    .addColumn("new_id", "text", (c) => c.notNull())
    .addColumn("revision", "integer", (c) => c.notNull())
    .addColumn("at", "integer", (c) => c.notNull())
    .addPrimaryKeyConstraint("read_marks_key", ["change_set", "person", "path"])
    .execute();
  await schema
    .createTable("comparisons")
    .addColumn("engine", "integer", (c) => c.notNull())
    .addColumn("old_id", "text", (c) => c.notNull())
    .addColumn("new_id", "text", (c) => c.notNull())
    .addColumn("added", "integer", (c) => c.notNull())
    .addColumn("removed", "integer", (c) => c.notNull())
    .addColumn("result", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("comparisons_key", ["old_id", "new_id", "engine"])
    .execute();
  await schema
    .createTable("merge_intents")
    .addColumn("change_set", "text", (c) => c.primaryKey())
    .addColumn("event", "text", (c) => c.notNull())
    .addColumn("by", "text", (c) => c.notNull())
    .addColumn("at", "integer", (c) => c.notNull())
    .addColumn("branch", "text", (c) => c.notNull())
    .addColumn("from_commit", "text", (c) => c.notNull())
    .addColumn("to_commit", "text", (c) => c.notNull())
    .addColumn("revision", "integer", (c) => c.notNull())
    .addColumn("message", "text", (c) => c.notNull())
    .execute();
}
