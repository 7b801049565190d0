import type { Kysely } from "kysely";

/** How much there is to read in each path, and in which state: so that lists know how much of it somebody has read. Found out anew for all. */
export async function up(db: Kysely<{ change_loads: object }>): Promise<void> {
  const add = (name: string, type: "integer" | "text", value: number | string) =>
    db.schema
      .alterTable("change_paths")
      .addColumn(name, type, (c) => c.notNull().defaultTo(value))
      .execute();
  await add("to_read", "integer", 0);
  await add("old_id", "text", "");
  await add("new_id", "text", "");
  await db.deleteFrom("change_loads").execute();
}
