import type { ClassRun } from "../../quiet/classes";
import type { Finder } from "./finder";
import type { As } from "./ways";

/** Where words are looked for: in changed lines alone, in the whole of changed files, or in all files of the later of two states. */
export const WHERE = ["changed", "whole", "everywhere"] as const;

/** What is looked for, how, and where. */
export interface Sought {
  words: string;
  as: As;
  where: (typeof WHERE)[number];
}

export interface SearchedFile {
  path: string;
  oldId: string | null;
  newId: string | null;
  /** All changed lines of the file, quiet or not. */
  runs: Pick<ClassRun, "side" | "start" | "end">[];
}

/** A line that has what was sought. `line` is 1-based; `at` is where in `text` it begins, in characters; it may end beyond. */
export interface FoundLine {
  line: number;
  text: string;
  at: number;
  length: number;
}

export interface FoundPlace extends FoundLine {
  path: string;
  side: "old" | "new";
}

/** How a search ended. */
export interface SearchEnd {
  /** There is more than could be listed. */
  more: boolean;
  /** How many files were looked through. */
  searched: number;
}

/** What a search tells, line by line: places as they are found, in their order, and last how it ended. */
export type SearchLine = FoundPlace[] | SearchEnd;

export const MOST_FOUND = 300;
const LONGEST = 300;
/** How much of a long line is shown before the place. */
const LEAD = 60;

/**
 * The lines of one side to look at, 0-based and end exclusive; null for none. The whole of a file is its new text, or the old one of a file
 * that was deleted.
 */
export function linesSought(
  file: SearchedFile,
  side: "old" | "new",
  where: Sought["where"],
): "all" | { start: number; end: number }[] | null {
  if (where === "whole") return side === (file.newId === null ? "old" : "new") ? "all" : null;
  const runs = file.runs.filter((run) => run.side === side);
  return runs.length > 0 ? runs : null;
}

/** Finds something in lines. */
export function findIn(
  lines: readonly string[],
  within: "all" | readonly { start: number; end: number }[],
  find: Finder,
): FoundLine[] {
  const found: FoundLine[] = [];
  for (const { start, end } of within === "all" ? [{ start: 0, end: lines.length }] : within) {
    for (let i = start; i < end && found.length <= MOST_FOUND; i++) {
      const place = find(lines[i]);
      if (place) found.push(foundLine(i + 1, lines[i], place));
    }
  }
  return found;
}

/** A place in a line, 1-based. Of a line of megabytes its surroundings are told. */
export function foundLine(line: number, text: string, { at, length }: { at: number; length: number }): FoundLine {
  const from = at > LONGEST - LEAD ? at - LEAD : 0;
  return { line, text: text.slice(from, from + LONGEST), at: at - from, length };
}
