import { AsyncLocalStorage } from "node:async_hooks";

type Outside = <T>(work: () => T) => T;
const KEY = Symbol.for("earnest-lens.outside");
const shared = globalThis as { [KEY]?: Outside };

/**
 * Begins what outlives the request that first needs it: a process, a thread, a timer. Each of them holds what the request in which it was made
 * is about, as long as it lives, and by way of that the requests that were answered beside it, and so on. The first call is made where the server starts, outside of
 * any request; bundles share it.
 *
 * @example
 * const child = outside(() => spawn("git", ["cat-file", "--batch-command"]));
 */
export function outside<T>(work: () => T): T {
  shared[KEY] ??= AsyncLocalStorage.snapshot() as Outside;
  return shared[KEY](work);
}
