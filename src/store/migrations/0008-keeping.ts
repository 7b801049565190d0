import { type Kysely, sql } from "kysely";

interface OldIntent {
  change_set: string;
  event: string;
  by: string;
  at: number;
  branch: string;
  from_commit: string;
  to_commit: string;
  revision: number;
  message: string;
  kind: string;
  passing: string | null;
}

/** Who moved which ref, moves that are under way, what tokens and sessions may do and how long, and who did what to the installation. */
export async function up(db: Kysely<unknown>): Promise<void> {
  const { schema } = db;
  await schema
    .createTable("ref_moves")
    .addColumn("id", "text", (column) => column.primaryKey())
    .addColumn("repository", "text", (column) => column.notNull().references("repositories.id"))
    .addColumn("ref", "text", (column) => column.notNull())
    .addColumn("old", "text", (column) => column.notNull())
    .addColumn("next", "text", (column) => column.notNull())
    .addColumn("person", "text", (column) => column.references("people.id"))
    .addColumn("way", "text", (column) => column.notNull())
    .addColumn("happened", "integer", (column) => column.notNull())
    .addColumn("at", "integer", (column) => column.notNull())
    .execute();
  await schema.createIndex("ref_moves_to").on("ref_moves").columns(["repository", "ref", "next"]).execute();

  await schema
    .createTable("ref_intents")
    .addColumn("id", "text", (column) => column.primaryKey())
    .addColumn("change_set", "text", (column) => column.notNull().unique())
    .addColumn("by", "text", (column) => column.notNull())
    .addColumn("at", "integer", (column) => column.notNull())
    .addColumn("branch", "text", (column) => column.notNull())
    .addColumn("from_commit", "text", (column) => column.notNull())
    .addColumn("to_commit", "text", (column) => column.notNull())
    .addColumn("event", "text", (column) => column.notNull())
    .execute();
  const { rows } = await sql<OldIntent>`select * from merge_intents`.execute(db);
  for (const { event: id, change_set, by, at, branch, from_commit, to_commit, ...rest } of rows) {
    const { revision, message, kind, passing } = rest;
    const data = { revision, commit: to_commit, target: from_commit, message, kind, ...(passing ? { passing } : {}) };
    const event = JSON.stringify({ kind: "merged", data });
    await sql`insert into ref_intents values (${id}, ${change_set}, ${by}, ${at}, ${branch}, ${from_commit}, ${to_commit}, ${event})`.execute(
      db,
    );
  }
  await schema.dropTable("merge_intents").execute();

  await schema
    .alterTable("people")
    .addColumn("owner", "text", (column) => column.references("people.id"))
    .execute();
  await schema.alterTable("people").addColumn("disabled_at", "integer").execute();
  await schema
    .alterTable("tokens")
    .addColumn("scopes", "text", (column) => column.notNull().defaultTo("read write git"))
    .execute();
  await schema.alterTable("tokens").addColumn("expires_at", "integer").execute();
  await schema
    .alterTable("sessions")
    .addColumn("id", "text", (column) => column.notNull().defaultTo(""))
    .execute();
  await schema.alterTable("sessions").addColumn("used_at", "integer").execute();
  await schema
    .alterTable("sessions")
    .addColumn("address", "text", (column) => column.notNull().defaultTo(""))
    .execute();
  await schema
    .alterTable("sessions")
    .addColumn("agent", "text", (column) => column.notNull().defaultTo(""))
    .execute();
  await sql`update sessions set id = substr(token_hash, 1, 26)`.execute(db);

  await schema
    .createTable("audit")
    .addColumn("id", "text", (column) => column.primaryKey())
    .addColumn("at", "integer", (column) => column.notNull())
    .addColumn("person", "text")
    .addColumn("what", "text", (column) => column.notNull())
    .addColumn("about", "text", (column) => column.notNull())
    .addColumn("address", "text", (column) => column.notNull())
    .execute();
}
