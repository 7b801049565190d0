import { applyHunks, type Hunk } from "../diff/hunk";
import { diffLines } from "../diff/lines";
import { conflictsBetween } from "./conflicts";
import { addLines, mergeLines, sameChange } from "./merge";

/**
 * One's own change of a text carried onto what others made of it. Where both touch the same lines in different ways, what the others made
 * stands: compared with what became of it, each such place shows, whichever of the two was kept.
 *
 * @example carryLines(["a", "b"], ["a", "mine"], ["a", "theirs"]) // { lines: ["a", "theirs"], conflict: true }
 */
export function carryLines(
  base: readonly string[],
  ours: readonly string[],
  theirs: readonly string[],
): { lines: readonly string[]; conflict: boolean } {
  const merged = mergeLines(base, ours, theirs);
  if (merged) return { lines: merged, conflict: false };
  const yielded: string[] = [];
  let at = 0;
  for (const place of conflictsBetween(base, ours, theirs)) {
    addLines(yielded, ours, at, place.ours[0]);
    addLines(yielded, theirs, ...place.theirs);
    at = place.ours[1];
  }
  addLines(yielded, ours, at, ours.length);
  return { lines: mergeLines(base, yielded, theirs) ?? theirs, conflict: true };
}

/** A text with only those changes in it that both made alike. The same text when there are none. */
export function sharedChanges(
  base: readonly string[],
  ours: readonly string[],
  theirs: readonly string[],
): readonly string[] {
  const right = new Map(diffLines(base, theirs).map((hunk) => [`${hunk.oldStart} ${hunk.oldEnd}`, hunk]));
  const shared = diffLines(base, ours).filter((hunk): hunk is Hunk => {
    const other = right.get(`${hunk.oldStart} ${hunk.oldEnd}`);
    return other !== undefined && sameChange(hunk, ours, other, theirs);
  });
  return shared.length > 0 ? applyHunks(base, ours, shared) : base;
}
