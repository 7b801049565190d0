import type { Kysely } from "kysely";

/** What was read is kept with the commits that it was read of: where logs are joined, a revision can get another number. What is there already has its number alone. */
export async function up(db: Kysely<unknown>): Promise<void> {
  for (const table of ["read_marks", "looks"] as const)
    for (const column of ["head", "base"]) await db.schema.alterTable(table).addColumn(column, "text").execute();
}
