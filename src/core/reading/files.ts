import { counted } from "../plain/words";
import type { ReadingFile } from "../views/api";
import { treeOf } from "./tree";

/** Whether a file has anything a person should look at: lines to read, or something that happened to it as a whole. */
export function needsReading({ toRead }: ReadingFile): boolean {
  return toRead !== 0;
}

/** Whether this person still has to. */
export function isLeft(file: ReadingFile): boolean {
  return file.read !== "read" && needsReading(file);
}

/**
 * What is said behind how much there is to read: of how many files with nothing to read, and not read yet, there is a caution; empty where of none.
 *
 * @example besidesReading(files) // ", and cautions in 1 quiet file"
 */
export function besidesReading(files: readonly ReadingFile[]): string {
  const some = files.filter((file) => file.read !== "read" && !needsReading(file) && file.cautions.length > 0);
  return some.length === 0 ? "" : `, and cautions in ${counted(some.length, "quiet file")}`;
}

/** The lines to read of some files. Lines that are not classed yet count as such. */
export function linesToRead(files: readonly ReadingFile[]): number {
  return files.reduce((lines, { counts, toRead }) => lines + (toRead ?? changedLines(counts)), 0);
}

export function changedLines(counts: ReadingFile["counts"]): number {
  return counts ? counts[0] + counts[1] : 0;
}

/** Stands for the id of contents that are there, in a list so long that ids are told file by file. */
export const UNTOLD = "";

/** Whether the ids of a file's contents are told. */
export function isTold({ oldId, newId }: ReadingFile): boolean {
  return oldId !== UNTOLD && newId !== UNTOLD;
}

/** Whether anything happened to a file at all: one that did not change can be opened beside those that did. Of files that are told alone. */
export function isChanged({ oldId, newId, oldMode, newMode, oldPath }: ReadingFile): boolean {
  return oldId !== newId || oldMode !== newMode || oldPath !== null;
}

/** Files as they are gone through: those left to read, the quiet ones, those that are read; within each in reading order. */
export function inOrder(files: readonly ReadingFile[]): {
  left: ReadingFile[];
  quiet: ReadingFile[];
  read: ReadingFile[];
} {
  const order = { left: [] as ReadingFile[], quiet: [] as ReadingFile[], read: [] as ReadingFile[] };
  for (const file of files) order[file.read === "read" ? "read" : needsReading(file) ? "left" : "quiet"].push(file);
  return order;
}

/** How files are listed: what is left to read first, in the order in which it is best read; or by folder. */
export type ListShape = "order" | "tree";

/** Files one after the other, as they are listed. */
export function asListed(files: readonly ReadingFile[], shape: ListShape): ReadingFile[] {
  if (shape === "order") {
    const { left, quiet, read } = inOrder(files);
    return [...left, ...quiet, ...read];
  }
  return treeOf(files).flatMap((branch) => (branch.kind === "file" ? [branch.file] : []));
}
