import { counted } from "../plain/words";
import type { ClassedFile } from "../quiet/classes";

/** Lines that did not change, between two hunks, 0-based: `old + n` and `next + n` are the same line. */
export interface Unchanged {
  old: number;
  next: number;
  size: number;
}

/** So many lines between two hunks are shown: what is wrong with them is seen. */
export const IN_SIGHT = 6;

/** The unchanged lines between hunks and behind the last one; those above all of them are what they were. */
export function runsOf({ hunks, next }: ClassedFile): Unchanged[] {
  return hunks.flatMap(({ oldEnd, newEnd }, n) => {
    const size = (hunks[n + 1]?.newStart ?? next.length) - newEnd;
    return size > 0 ? [{ old: oldEnd, next: newEnd, size }] : [];
  });
}

/** How many there are, as the beginning of a sentence. */
export function unchangedAre(count: number): string {
  return `${counted(count, "unchanged line")} ${count === 1 ? "is" : "are"}`;
}
