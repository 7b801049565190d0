import type { Kysely } from "kysely";

/** An edition of the rules may wait until a second keeper has agreed to it. Those that are there count, or did. */
export async function up(db: Kysely<unknown>): Promise<void> {
  const add = (name: string, type: "text" | "integer") => db.schema.alterTable("rule_sets").addColumn(name, type);
  await db.schema
    .alterTable("rule_sets")
    .addColumn("state", "text", (c) => c.notNull().defaultTo("agreed"))
    .execute();
  await add("second", "text").execute();
  await add("second_at", "integer").execute();
}
