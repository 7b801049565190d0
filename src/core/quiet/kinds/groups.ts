import { groupedBy } from "../../plain/grouped";

/**
 * Those of a list that have the same full key, in groups of two or more, each in the order of the list. What is alone by a cheap key is never asked for
 * its full one, so that must not tell apart what the full one holds for the same.
 *
 * @example groupsOf(["ab", "cd", "ab"], (s) => s.length, (s) => s) // [["ab", "ab"]]
 */
export function groupsOf<T>(list: Iterable<T>, cheap: (one: T) => string | number, full: (one: T) => string): T[][] {
  return several(list, cheap).flatMap((some) => several(some, full));
}

function several<T>(list: Iterable<T>, keyOf: (one: T) => string | number): T[][] {
  return [...groupedBy(list, keyOf).values()].filter((group) => group.length > 1);
}
