import type { Hunk } from "./hunk";

/**
 * A block that was only added or only removed can often be shown one or more lines higher or lower with the same effect. This puts
 * each where a person would have cut: at a blank line, or where the indentation is least. Never changes what the hunks do, and
 * never lets two of them touch. Lines are taken as they are, so sliding is by exact equality.
 */
export function slideHunks(old: readonly string[], next: readonly string[], hunks: readonly Hunk[]): Hunk[] {
  const result: Hunk[] = [];
  for (const [at, hunk] of hunks.entries()) {
    const before = result[at - 1];
    const after = hunks[at + 1];
    if (hunk.oldStart === hunk.oldEnd) {
      const by = bestShift(
        next,
        hunk.newStart,
        hunk.newEnd,
        before ? before.newEnd : -1,
        after ? after.newStart : next.length + 1,
      );
      result.push(shifted(hunk, by));
    } else if (hunk.newStart === hunk.newEnd) {
      const by = bestShift(
        old,
        hunk.oldStart,
        hunk.oldEnd,
        before ? before.oldEnd : -1,
        after ? after.oldStart : old.length + 1,
      );
      result.push(shifted(hunk, by));
    } else {
      result.push(hunk);
    }
  }
  return result;
}

const FURTHEST = 200;

function shifted(hunk: Hunk, by: number): Hunk {
  return {
    oldStart: hunk.oldStart + by,
    oldEnd: hunk.oldEnd + by,
    newStart: hunk.newStart + by,
    newEnd: hunk.newEnd + by,
  };
}

/** How far to move the block [start, end) so that its two cuts cost least. It stays strictly between `floor` and `ceiling`. */
function bestShift(lines: readonly string[], start: number, end: number, floor: number, ceiling: number): number {
  let up = 0;
  while (up < FURTHEST && start - up - 1 > floor && start - up > 0 && lines[start - up - 1] === lines[end - up - 1])
    up++;
  let down = 0;
  while (
    down < FURTHEST &&
    end + down + 1 < ceiling &&
    end + down < lines.length &&
    lines[start + down] === lines[end + down]
  )
    down++;
  if (up === 0 && down === 0) return 0;
  let best = down;
  let least = Number.POSITIVE_INFINITY;
  for (let by = down; by >= -up; by--) {
    const cost = cutCost(lines, start + by) + cutCost(lines, end + by);
    if (cost < least) {
      least = cost;
      best = by;
    }
  }
  return best;
}

/** What it costs to cut before line `at`: little at the ends of the file, beside blank lines and before shallow lines. */
function cutCost(lines: readonly string[], at: number): number {
  if (at <= 0 || at >= lines.length) return -4;
  const above = lines[at - 1];
  const below = lines[at];
  if (isBlank(above)) return indentOf(below) - (isBlank(below) ? 1 : 3);
  if (isBlank(below)) return indentOf(above) + 1;
  const indent = indentOf(below);
  // Closing brackets belong to what stands above them.
  return indent + 3 + (/^\s*[\])}]/.test(below) ? 3 : 0) + (indent > indentOf(above) ? 1 : 0);
}

function isBlank(line: string): boolean {
  return line.trim() === "";
}

function indentOf(line: string): number {
  let width = 0;
  for (const character of line) {
    if (character === " ") width += 1;
    else if (character === "\t") width += 4;
    else return width;
  }
  return 0;
}
