import type { FileChange } from "@/core/diff/tree";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { readerOf } from "@/git/readers";
import { TOO_MANY, Trees } from "@/git/trees";
import type { AppContext } from "../app/context";

/** The files that differ between two commits, by path and without renames: that takes no time. */
export function filesBetween(
  app: AppContext,
  folder: string,
  { from, to }: { from: string; to: string },
): Promise<FileChange[]> {
  return app
    .kept<FileChange[]>("lists", 40)
    .get(`${folder}\0${from}\0${to}`, () => new Trees(readerOf(folder)).changedFiles(from, to));
}

/**
 * Refused where more files differ between two commits than can be compared. A few kilobytes can hold folders in folders without end: what is no
 * revision is not looked through by anything else, either.
 */
export async function comparable(
  app: AppContext,
  folder: string,
  { base, head }: { base: string; head: string },
): Promise<Outcome<null>> {
  try {
    await filesBetween(app, folder, { from: base, to: head });
    return done(null);
  } catch (error) {
    if (error instanceof Error && error.message === TOO_MANY) return refuse("invalid", TOO_MANY);
    throw error;
  }
}
