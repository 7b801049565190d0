import type { Hunk } from "../diff/hunk";
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
  const borders = sides.map((hunks) => new Borders(hunks));
  for (let i = 0; i < all.length; ) {
    let end = all[i].oldEnd;
    let j = i + 1;
    while (j < all.length && all[j].oldStart <= end) end = Math.max(end, all[j++].oldEnd);
    const group = all.slice(i, j);
    i = j;
    if (new Set(group.map(({ side }) => side)).size < 2) continue;
    const start = group[0].oldStart;
    const [mine, other] = borders.map((side): [number, number] => [side.before(start), side.after(end)]);
    const same =
      mine[1] - mine[0] === other[1] - other[0] &&
      ours.slice(...mine).every((line, k) => line === theirs[other[0] + k]);
    if (!same) places.push({ base: [start, end], ours: mine, theirs: other });
  }
  return places;
}

/** Where borders of the base lie in a side. They are asked for in order, so that each change is gone by once. */
class Borders {
  private at = 0;

  constructor(private readonly hunks: readonly Hunk[]) {}

  /** A border at which the side inserts is before what was inserted. */
  before(line: number): number {
    this.pass((hunk) => hunk.oldEnd <= line && hunk.oldStart < line);
    const hunk = this.hunks[this.at];
    return hunk && hunk.oldStart < line ? hunk.newStart : line + this.shift();
  }

  /** And here it is after it. */
  after(line: number): number {
    this.pass((hunk) => hunk.oldStart <= line);
    return line + this.shift();
  }

  private pass(isBehind: (hunk: Hunk) => boolean): void {
    while (this.at < this.hunks.length && isBehind(this.hunks[this.at])) this.at++;
  }

  /** How many lines more the side has than the base by the last change that was gone by. */
  private shift(): number {
    const last = this.hunks[this.at - 1];
    return last ? last.newEnd - last.oldEnd : 0;
  }
}
