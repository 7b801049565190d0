import { type KeptTable, keepResults, type Result } from "@/store/kept-by-use";
import type { AppContext } from "../app/context";

/**
 * Keeps what was worked out, so that it need not be again. Where it cannot be kept, as on a full disk, whoever reads has it all the same: that is logged,
 * and it is worked out again the next time.
 */
export async function keepWorkedOut<Table extends KeptTable>(
  app: AppContext,
  table: Table,
  results: (Result<Table> & { result: string })[],
): Promise<void> {
  await keepResults(app.db, app.now(), table, results).catch((error: unknown) => {
    app.log.error({ err: error, table }, "what was worked out could not be kept");
  });
}
