import type { Kysely } from "kysely";

/** Who somebody of another installation is here, where that was said. */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema.alterTable("ledger_people").addColumn("joined", "text").execute();
}
