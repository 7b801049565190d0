import type { Hunk } from "../../diff/hunk";

/** So many unchanged lines between two hunks may belong to what is parted into other lines around them: `)` and the like. */
const BETWEEN = 3;

/** Hunks that stand so near to each other that one proof of layout or style may go over all of them, in order. */
export function nearHunks(hunks: readonly Hunk[]): Hunk[][] {
  const groups: Hunk[][] = [];
  let end = Number.NEGATIVE_INFINITY;
  for (const hunk of hunks) {
    if (hunk.newStart - end <= BETWEEN) groups[groups.length - 1].push(hunk);
    else groups.push([hunk]);
    end = hunk.newEnd;
  }
  return groups;
}
