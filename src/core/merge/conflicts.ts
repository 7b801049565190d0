import { diffLines } from "../diff/lines";

/** One place that both changed in different ways. Lines are 0-based, ends exclusive; any of the three may be empty. */
export interface ConflictPlace {
  base: [start: number, end: number];
  ours: [start: number, end: number];
  theirs: [start: number, end: number];
}

/** The places at which two changes of one text cannot be brought together: each as large as it has to be, in order. */
export function conflictsBetween(
  base: readonly string[],
  ours: readonly string[],
  theirs: readonly string[],
): ConflictPlace[] {
  const sides = [diffLines(base, ours), diffLines(base, theirs)] as const;
  const all = sides.flatMap((hunks, side) => hunks.map((hunk) => ({ ...hunk, side })));
  all.sort((a, b) => a.oldStart - b.oldStart || a.oldEnd - b.oldEnd);
  const places: ConflictPlace[] = [];
  for (let i = 0; i < all.length; ) {
    let end = all[i].oldEnd;
    let j = i + 1;
    while (j < all.length && all[j].oldStart <= end) end = Math.max(end, all[j++].oldEnd);
    const group = all.slice(i, j);
    i = j;
    if (new Set(group.map(({ side }) => side)).size < 2) continue;
    const start = group[0].oldStart;
    const [mine, other] = sides.map((hunks): [number, number] => [
      through(hunks, start, true),
      through(hunks, end, false),
    ]);
    const same =
      mine[1] - mine[0] === other[1] - other[0] &&
      ours.slice(...mine).every((line, k) => line === theirs[other[0] + k]);
    if (!same) places.push({ base: [start, end], ours: mine, theirs: other });
  }
  return places;
}

/** Where a border of the base lies in a side; a border at which the side inserts is before what was inserted, or after it. */
function through(hunks: ReturnType<typeof diffLines>, line: number, before: boolean): number {
  let shift = 0;
  for (const { oldStart, oldEnd, newStart, newEnd } of hunks) {
    if (oldStart > line || (before && oldStart === line)) break;
    if (before && oldEnd > line) return newStart;
    shift = newEnd - oldEnd;
  }
  return line + shift;
}
