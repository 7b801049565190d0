import type { FileChange } from "@/core/diff/tree";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { inFigures } from "@/core/plain/words";
import { countCommits } from "@/git/history/commits";
import { readerOf } from "@/git/readers";
import { TOO_MANY, Trees } from "@/git/trees";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";

/** As many files in all as one list may hold, and half as many again. */
const LISTS = shelf<FileChange[]>("lists", 40, { of: (files) => files.length, most: 450_000 });

/** The files that differ between two commits, by path and without renames: that takes no time. */
export function filesBetween(
  app: AppContext,
  folder: string,
  { from, to }: { from: string; to: string },
): Promise<FileChange[]> {
  return LISTS(app).get(`${folder}\0${from}\0${to}`, () => new Trees(readerOf(folder)).changedFiles(from, to));
}

/** So many commits may a revision bring: rules ask something of each. */
const MOST_COMMITS = 100_000;

/**
 * Refused where more files differ between two commits than can be compared, or more commits lie between them than can be looked at. A few kilobytes can
 * hold folders in folders without end: what is no revision is not looked through by anything else, either.
 */
export async function comparable(
  app: AppContext,
  folder: string,
  { base, head }: { base: string; head: string },
): Promise<Outcome<null>> {
  try {
    await filesBetween(app, folder, { from: base, to: head });
    if ((await countCommits(folder, base, head)) > MOST_COMMITS)
      return refuse(
        "invalid",
        `It brings more than ${inFigures(MOST_COMMITS)} commits: too many to be looked at one by one.`,
      );
    return done(null);
  } catch (error) {
    if (error instanceof Error && error.message === TOO_MANY) return refuse("invalid", TOO_MANY);
    throw error;
  }
}
