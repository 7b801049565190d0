/**
 * Things by what they have in common, each group in the order of the things; in time that grows with their number alone.
 *
 * @example groupedBy(["tide", "quay", "tow"], ([first]) => first) // Map { "t" => ["tide", "tow"], "q" => ["quay"] }
 */
export function groupedBy<Thing, Key>(things: Iterable<Thing>, keyOf: (thing: Thing) => Key): Map<Key, Thing[]> {
  const groups = new Map<Key, Thing[]>();
  for (const thing of things) addTo(groups, keyOf(thing), thing);
  return groups;
}

/** Adds a thing to the group of a key, which is made where there is none. */
export function addTo<Thing, Key>(groups: Map<Key, Thing[]>, key: Key, thing: Thing): void {
  const group = groups.get(key);
  if (group) group.push(thing);
  else groups.set(key, [thing]);
}
