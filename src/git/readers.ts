import { LRUCache } from "lru-cache";
import { ObjectReader } from "./objects";

/** So many repositories are kept open at once; the one that was not asked for longest is closed for another. */
const MOST_OPEN = 24;
const readers = new LRUCache<string, ObjectReader>({ max: MOST_OPEN, dispose: (reader) => reader.close() });

/** The long-lived reader of a repository: what it tells starts no process, as long as it is asked now and then. */
export function readerOf(folder: string): ObjectReader {
  let reader = readers.get(folder);
  if (!reader) {
    reader = new ObjectReader(folder);
    readers.set(folder, reader);
  }
  return reader;
}
