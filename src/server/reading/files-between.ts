import type { FileChange } from "@/core/diff/tree";
import { changedFiles } from "@/git/repository";
import type { Lens } from "../app/lens";

/** The files that differ between two commits, by path and without renames: git tells that at once. */
export function filesBetween(
  lens: Lens,
  folder: string,
  { from, to }: { from: string; to: string },
): Promise<FileChange[]> {
  return lens.kept<FileChange[]>("lists", 40).get(`${folder}\0${from}\0${to}`, () => changedFiles(folder, from, to));
}
