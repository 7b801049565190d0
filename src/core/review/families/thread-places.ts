import type { Thread } from "../state";

/**
 * Where threads stand in a list, by their ids. A list of a change set only grows and none changes its place, so what is known of one holds for those that are made
 * of it: a history of thousands of threads is gone through without looking for each. What is remembered is held against the list each time.
 */
const PLACES = new WeakMap<readonly Thread[], Map<string, number>>();

/** The place of a thread, 0-based; -1 where there is none. */
export function placeOf(threads: readonly Thread[], id: string): number {
  let places = PLACES.get(threads);
  if (!places) {
    places = new Map(threads.map((thread, at) => [thread.id, at]));
    PLACES.set(threads, places);
  }
  const at = places.get(id);
  if (at === undefined || threads[at]?.id === id) return at ?? -1;
  // Two histories that part here have put it at different places.
  return threads.findIndex((thread) => thread.id === id);
}

/** The same list with one thread changed. */
export function withOne(threads: readonly Thread[], id: string, edit: (thread: Thread) => Thread): Thread[] {
  const at = placeOf(threads, id);
  const next = threads.slice();
  if (at >= 0) next[at] = edit(threads[at]);
  PLACES.set(next, PLACES.get(threads)!);
  return next;
}

/** The same list with further threads behind those that it has. */
export function withMore(threads: readonly Thread[], more: readonly Thread[]): Thread[] {
  const next = [...threads, ...more];
  const places = PLACES.get(threads);
  if (!places) return next;
  for (const [n, { id }] of more.entries()) places.set(id, threads.length + n);
  PLACES.set(next, places);
  return next;
}
