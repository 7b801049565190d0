import type { FileChange } from "@/core/diff/tree";
import { readerOf } from "@/git/readers";
import { Trees } from "@/git/trees";
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
