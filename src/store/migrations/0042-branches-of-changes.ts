import type { Kysely } from "kysely";

/** Which change sets offer a branch, and which are offered to one, each page of a change set asks: of ten thousand that is found at once. */
export async function up(db: Kysely<unknown>): Promise<void> {
  for (const side of ["source", "target"])
    await db.schema.createIndex(`change_sets_by_${side}`).on("change_sets").columns([side, "repository"]).execute();
}
