import type { FileChange } from "@/core/diff/tree";
import { changedFiles } from "@/git/repository";
import type { AppContext } from "../app/context";

/** The files that differ between two commits, by path and without renames: git tells that at once. */
export function filesBetween(
  app: AppContext,
  folder: string,
  { from, to }: { from: string; to: string },
): Promise<FileChange[]> {
  return app.kept<FileChange[]>("lists", 40).get(`${folder}\0${from}\0${to}`, () => changedFiles(folder, from, to));
}
