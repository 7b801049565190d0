import type { Hunk } from "../../../diff/hunk";
import type { ClassedFile, Side } from "../../classes";
import type { Lines } from "../../stretch";

/** So many unchanged lines on both sides are what surrounds a stretch; hunks that stand nearer to each other are one stretch. */
export const AROUND = 3;

/** What changed in one go, with unchanged lines in between where those are few. */
export interface Stretch {
  /** Its file, by its place among the files of the reading. */
  file: number;
  old: Lines;
  next: Lines;
  hunks: Hunk[];
  /** The lines that head what encloses it, the outermost first, once somebody asked. */
  heads?: Record<Side, readonly number[]>;
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

/** The lines that head what encloses a stretch on either side, 0-based, the outermost first. */
export function headsOf(file: ClassedFile, stretch: Stretch): Record<Side, readonly number[]> {
  stretch.heads ??= {
    old: headLinesOf(file, "old", stretch.old.start),
    new: headLinesOf(file, "new", stretch.next.start),
  };
  return stretch.heads;
}

/** The lines that head what encloses a line, 0-based, the outermost first. */
export function headLinesOf(file: ClassedFile, side: Side, line: number): readonly number[] {
  const { length } = file.lines(side);
  return length === 0 ? [] : file.enclosing(side).heads(Math.min(line, length - 1));
}

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
