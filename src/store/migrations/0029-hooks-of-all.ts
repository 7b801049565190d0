import type { Kysely } from "kysely";

/** A webhook can be of all repositories: of none in particular. SQLite makes a column no longer necessary by making its table anew. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema
    .createTable("hooks_of_all")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("repository", "text", (c) => c.references("repositories.id"))
    .addColumn("url", "text", (c) => c.notNull())
    .addColumn("secret", "text", (c) => c.notNull())
    .addColumn("kinds", "text", (c) => c.notNull())
    .addColumn("made_at", "integer", (c) => c.notNull())
    .execute();
  await db.schema
    .createTable("deliveries_of_all")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("hook", "text", (c) => c.notNull().references("hooks_of_all.id").onDelete("cascade"))
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
  const hooks = ["id", "repository", "url", "secret", "kinds", "made_at"];
  const deliveries = [
    "id",
    "hook",
    "change_set",
    "event",
    "kind",
    "body",
    "at",
    "tries",
    "due_at",
    "done_at",
    "answer",
  ];
  for (const [table, columns] of [
    ["hooks", hooks],
    ["deliveries", deliveries],
  ] as const) {
    const old = db as Kysely<Record<string, Record<string, unknown>>>;
    await old
      .insertInto(`${table}_of_all`)
      .columns([...columns])
      .expression((make) => make.selectFrom(table).select([...columns]))
      .execute();
  }
  await db.schema.dropTable("deliveries").execute();
  await db.schema.dropTable("hooks").execute();
  await db.schema.alterTable("hooks_of_all").renameTo("hooks").execute();
  await db.schema.alterTable("deliveries_of_all").renameTo("deliveries").execute();
  await db.schema.createIndex("deliveries_due").on("deliveries").columns(["due_at"]).execute();
}
