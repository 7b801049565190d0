import type { AppContext } from "../app/context";

/**
 * Waits until something that was worked out is kept, so that it need not be again. Where it cannot be, as on a full disk, whoever reads has it all the
 * same: that is logged, and it is worked out again the next time.
 */
export async function tryToKeep(app: AppContext, what: string, keeping: Promise<unknown>): Promise<void> {
  await keeping.catch((error: unknown) => {
    app.log.error({ err: error, what }, "what was worked out could not be kept");
  });
}
