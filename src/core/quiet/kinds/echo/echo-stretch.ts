import type { Hunk } from "../../../diff/hunk";
import type { ClassedFile, Side } from "../../classes";
import type { Lines } from "../../stretch/range";
import { Surroundings } from "./surroundings";

/** So many unchanged lines on both sides are what surrounds a stretch; hunks that stand nearer to each other are one stretch. */
export const AROUND = 3;

/** What changed in one go, with unchanged lines in between where those are few. */
export interface Stretch {
  /** Its file, by its place among the files of the reading. */
  file: number;
  old: Lines;
  next: Lines;
  hunks: Hunk[];
  /** The lines that say where it stands, once somebody asked. */
  heads?: Record<Side, Heads>;
  /** The words of it and of what surrounds it, each where it is first met, once somebody asked. */
  words?: readonly string[];
}

/** Hunks as they are read: those with fewer unchanged lines between them than surround a stretch are one. */
export function stretchesOf(file: number, { hunks }: ClassedFile): Stretch[] {
  const result: Stretch[] = [];
  let last: Hunk | null = null;
  for (const hunk of hunks) {
    const stretch = result.at(-1);
    if (stretch && last && hunk.newStart - last.newEnd < AROUND) {
      stretch.old.end = hunk.oldEnd;
      stretch.next.end = hunk.newEnd;
      stretch.hunks.push(hunk);
    } else {
      result.push({
        file,
        old: { start: hunk.oldStart, end: hunk.oldEnd },
        next: { start: hunk.newStart, end: hunk.newEnd },
        hunks: [hunk],
      });
    }
    last = hunk;
  }
  return result;
}

/** A stretch with what surrounds it, on one side. */
export function around({ start, end }: Lines, lines: readonly string[]): Lines {
  return { start: Math.max(0, start - AROUND), end: Math.min(lines.length, end + AROUND) };
}

/** A stretch with what surrounds it: the text of its old side, and that of its new one. */
export function textOf(file: ClassedFile, { old, next }: Stretch): string {
  const [before, after] = [around(old, file.old), around(next, file.next)];
  return [file.old.slice(before.start, before.end), file.next.slice(after.start, after.end)]
    .map((lines) => lines.join("\n"))
    .join("\u0002");
}

/** Lines that say where another stands, 0-based, ascending; null where they are too many to be told. */
export type Heads = readonly number[] | null;

/** Those of a stretch on either side. */
export function headsOf(file: ClassedFile, stretch: Stretch): Record<Side, Heads> {
  stretch.heads ??= {
    old: headLinesOf(file, "old", stretch.old.start),
    new: headLinesOf(file, "new", stretch.next.start),
  };
  return stretch.heads;
}

/** Those of a line, see {@link Surroundings}. Where no language is known, its lines may begin with `#` for a preprocessor. */
export function headLinesOf(file: ClassedFile, side: Side, line: number): Heads {
  const lines = file.lines(side);
  if (lines.length === 0) return [];
  const hasConditions = file.language === null || file.language.directives === true;
  const known = SURROUNDINGS.get(lines) ?? new Surroundings(lines, file.enclosing(side), hasConditions);
  SURROUNDINGS.set(lines, known);
  return known.of(Math.min(line, lines.length - 1));
}

const SURROUNDINGS = new WeakMap<readonly string[], Surroundings>();

/** Names that stand in one place for those of another, in the order in which they are met. */
export type Names = { from: string; to: string }[];

/** A changed stretch that stands for all that are the same: it is to be read, the others are its echoes. */
export interface Echo {
  /** The file that it stands in, by its place among the files of the reading. */
  file: number;
  /** Its lines on both sides, 0-based, end exclusive: what changed, with unchanged lines in between where those are few. */
  old: Lines;
  next: Lines;
  /** How many echoes it has. */
  times: number;
  /** Names that stand in the echoes for others, one for one; none where they are the same to the byte. */
  names: Names;
}

/** Whether two lines stand at places of which the same is said. */
export function sameHeads(one: readonly string[], a: Heads, other: readonly string[], b: Heads): boolean {
  return a !== null && b !== null && a.length === b.length && a.every((line, n) => one[line] === other[b[n]]);
}
