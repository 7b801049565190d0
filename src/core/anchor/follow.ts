import type { Hunk } from "../diff/hunk";

/** Where lines of one text stand in another. Line numbers are 1-based, both ends included. */
export type Place = { status: "unchanged" | "shifted" | "edited"; start: number; end: number } | { status: "gone" };

/**
 * Follows the lines `start` to `end` of the old text through the hunks that lead to the new one. *Unchanged* and *shifted* promise
 * that every line stands there with its text; *edited* that some of it was changed; *gone* that nothing stands in its place.
 */
export function followLines(start: number, end: number, hunks: readonly Hunk[]): Place {
  const first = start - 1;
  let shift = 0;
  let touched: { low: number; high: number } | null = null;
  for (const hunk of hunks) {
    if (hunk.oldStart >= end) break;
    const grown = hunk.newEnd - hunk.newStart - (hunk.oldEnd - hunk.oldStart);
    if (hunk.oldEnd <= first) {
      shift += grown;
      continue;
    }
    const low: number = touched?.low ?? (hunk.oldStart <= first ? hunk.newStart : first + shift);
    shift += grown;
    touched = { low, high: hunk.oldEnd >= end ? hunk.newEnd : end + shift };
  }
  if (!touched) return { status: shift === 0 ? "unchanged" : "shifted", start: start + shift, end: end + shift };
  return touched.high > touched.low
    ? { status: "edited", start: touched.low + 1, end: touched.high }
    : { status: "gone" };
}
