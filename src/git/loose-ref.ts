import { closeSync, openSync, readSync } from "node:fs";
import { join } from "node:path";
import { isObjectId } from "@/core/diff/tree";

/** The longest id that git knows, and one byte more, by which what is longer is known. */
const held = Buffer.alloc(66);

/**
 * The id in the file of a ref, given by its full name; null where it has none, since it is packed with others, or where the file says
 * something else: git itself has to be asked then. git moves such a file to its place in one step, so that it is never read half.
 */
export function looseRef(folder: string, ref: string): string | null {
  let file: number;
  try {
    file = openSync(join(folder, ref), "r");
  } catch {
    return null;
  }
  try {
    const id = held.toString("latin1", 0, readSync(file, held, 0, held.length, 0)).trimEnd();
    return isObjectId(id) ? id : null;
  } catch {
    // A folder, in which there are refs of a longer name.
    return null;
  } finally {
    closeSync(file);
  }
}
