import { AsyncLocalStorage } from "node:async_hooks";

type Outside = <T>(work: () => T) => T;
const KEY = Symbol.for("earnest-lens.outside");
const shared = globalThis as { [KEY]?: Outside };
// Where a server starts there is no request yet. What is bundled apart, and loaded by a request, finds this one.
shared[KEY] ??= AsyncLocalStorage.snapshot() as Outside;

/**
 * Begins what outlives the request that first needs it: a process, a thread, a timer. Each of them holds what the request in which it was made
 * is about, as long as it lives, and by way of that the requests that were answered beside it, and so on.
 *
 * @example
 * const child = outside(() => spawn("git", ["cat-file", "--batch-command"]));
 */
export function outside<T>(work: () => T): T {
  return shared[KEY]!(work);
}
