import type { Hunk } from "../diff/hunk";
import { diffLines } from "../diff/lines";

/**
 * Carries two changes of one text out together, line by line; null where both change the same place, or places that touch, in different
 * ways. After "A Formal Investigation of Diff3" (S. Khanna, K. Kunal, B. C. Pierce, 2007): what both leave alone stays, what one changes is
 * taken, what both change alike is taken once.
 */
export function mergeLines(
  base: readonly string[],
  ours: readonly string[],
  theirs: readonly string[],
): string[] | null {
  const left = diffLines(base, ours);
  const right = diffLines(base, theirs);
  const result: string[] = [];
  let at = 0;
  let i = 0;
  let j = 0;
  while (i < left.length || j < right.length) {
    const mine = left[i];
    const other = right[j];
    if (mine && other && meets(mine, other)) {
      // Changes that touch are one place: it merges only when both made the same of it.
      if (!sameChange(mine, ours, other, theirs)) return null;
      addLines(result, base, at, mine.oldStart);
      addLines(result, ours, mine.newStart, mine.newEnd);
      at = mine.oldEnd;
      i++;
      j++;
      continue;
    }
    const first = !other || (mine && mine.oldStart <= other.oldStart);
    const hunk = first ? mine : other;
    const text = first ? ours : theirs;
    addLines(result, base, at, hunk.oldStart);
    addLines(result, text, hunk.newStart, hunk.newEnd);
    at = hunk.oldEnd;
    if (first) i++;
    else j++;
  }
  addLines(result, base, at, base.length);
  return result;
}

/** Adds lines from one place to another, one by one: a call takes no hundred thousand of them. */
export function addLines(to: string[], from: readonly string[], start: number, end: number): void {
  for (let line = start; line < end; line++) to.push(from[line]);
}

/** Whether two changes are of the same lines, or of lines next to each other. */
function meets(a: Hunk, b: Hunk): boolean {
  return a.oldStart <= b.oldEnd && b.oldStart <= a.oldEnd;
}

/** Whether two changes of one text do the same to the same lines of it. */
export function sameChange(a: Hunk, ours: readonly string[], b: Hunk, theirs: readonly string[]): boolean {
  if (a.oldStart !== b.oldStart || a.oldEnd !== b.oldEnd || a.newEnd - a.newStart !== b.newEnd - b.newStart)
    return false;
  for (let k = 0; k < a.newEnd - a.newStart; k++) if (ours[a.newStart + k] !== theirs[b.newStart + k]) return false;
  return true;
}
