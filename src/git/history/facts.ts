import { existsSync } from "node:fs";
import { join } from "node:path";
import { LRUCache } from "lru-cache";
import { isObjectId } from "@/core/diff/tree";
import { frozen } from "@/core/plain/frozen";

/** So much is remembered of all repositories together, in characters as they are measured below. */
const MOST = 2_000_000;
/** What one fact costs by itself. */
const EACH = 200;

const facts = new LRUCache<string, { value: unknown; size: number }>({
  maxSize: MOST,
  sizeCalculation: ({ size }, key) => EACH + key.length + size,
});

/**
 * What commits are to each other, which git is asked for once: ids name contents, so it never changes. `ids` are those of the commits in question, and
 * `what` says what is asked; `size` how long an answer is. What is asked by other names is asked anew each time, and so is everything in a
 * repository of which the history is cut off, since that may still be fetched. What is given is frozen, since everybody is given the same.
 */
export async function fact<T>(
  folder: string,
  what: string,
  ids: readonly string[],
  find: () => Promise<T>,
  size: (value: T) => number = () => 0,
): Promise<T> {
  if (!ids.every(isObjectId) || existsSync(join(folder, "shallow"))) return find();
  const key = `${folder}\0${what}\0${ids.join("\0")}`;
  const known = facts.get(key);
  if (known) return known.value as T;
  const value = frozen(await find());
  facts.set(key, { value, size: size(value) });
  return value;
}
