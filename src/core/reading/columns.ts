import type { Comparison } from "../diff/compare";
import { ADDED, FOLD, GAP, REMOVED, type Rows } from "./rows";

/**
 * How rows are put on the page. Place `p` shows row `left[p]` on the left and `right[p]` on the right, -1 for nothing; the same row on
 * both where it takes the whole width or is the same on both sides. `placeOf` gives the place of each row.
 */
export interface Layout {
  count: number;
  left: Int32Array;
  right: Int32Array;
  placeOf: Int32Array;
}

/** One row a place. */
export function oneColumn(rows: Rows): Layout {
  const places = Int32Array.from({ length: rows.count }, (_, row) => row);
  return { count: rows.count, left: places, right: places, placeOf: places };
}

/** Old lines on the left, new ones on the right; lines that became each other side by side. `nextOf` gives the new line of an old one, 0-based. */
export function twoColumns(rows: Rows, nextOf: ReadonlyMap<number, number>): Layout {
  const layout: Layout = {
    count: 0,
    left: new Int32Array(rows.count),
    right: new Int32Array(rows.count),
    placeOf: new Int32Array(rows.count),
  };
  const put = (left: number, right: number) => {
    layout.left[layout.count] = left;
    layout.right[layout.count] = right;
    if (left >= 0) layout.placeOf[left] = layout.count;
    if (right >= 0) layout.placeOf[right] = layout.count;
    layout.count++;
  };
  /** Two stretches that have no pair among them, side by side as they come. */
  const zip = (left: number, leftEnd: number, right: number, rightEnd: number) => {
    while (left < leftEnd || right < rightEnd) put(left < leftEnd ? left++ : -1, right < rightEnd ? right++ : -1);
  };
  for (let row = 0; row < rows.count; ) {
    if (rows.kind[row] !== REMOVED && rows.kind[row] !== ADDED) {
      put(row, row);
      row++;
      continue;
    }
    let left = row;
    while (row < rows.count && rows.kind[row] === REMOVED) row++;
    const leftEnd = row;
    let right = row;
    while (row < rows.count && rows.kind[row] === ADDED) row++;
    for (let removed = left; removed < leftEnd; removed++) {
      const line = nextOf.get(rows.old[removed]);
      if (line === undefined) continue;
      let added = right;
      while (added < row && rows.next[added] !== line) added++;
      if (added === row) continue;
      zip(left, removed, right, added);
      put(removed, added);
      left = removed + 1;
      right = added + 1;
    }
    zip(left, leftEnd, right, row);
  }
  return layout;
}

/** Changes of which this share or more are lines that became other lines are read best in two columns. */
const SIDE_BY_SIDE = 0.6;

/** How a file fits best: two columns where lines were edited, one where they only came or went. */
export function fittingColumns({ pairs, added, removed }: Comparison): 1 | 2 {
  return added > 0 && removed > 0 && (2 * pairs.length) / (added + removed) >= SIDE_BY_SIDE ? 2 : 1;
}

/** How many columns a reader wants: as fits what changed in a file, or always the same. */
export type ColumnChoice = "fit" | "one" | "two";

/**
 * In how many columns a file is shown. One where it is there on one side alone, whatever is wanted: the other half of the page would be empty. `room` is whether
 * two have room where nobody asked for them.
 */
export function columnsOf(
  wanted: ColumnChoice,
  comparison: Comparison | undefined,
  { room, twoSided }: { room: boolean; twoSided: boolean },
): 1 | 2 {
  if (!twoSided) return 1;
  if (wanted !== "fit") return wanted === "two" ? 2 : 1;
  return comparison && room ? fittingColumns(comparison) : 1;
}

/**
 * A number by which a place is known again when more lines are shown around it, or fewer: that of its new line, or of its old one where there is none;
 * what stands for hidden lines has another one than they. No two places of a layout have the same.
 */
export function keyOfPlace(rows: Rows, { left, right }: Layout, place: number): number {
  const row = right[place] >= 0 ? right[place] : left[place];
  const [line, side] = rows.next[row] >= 0 ? [rows.next[row], 0] : [rows.old[row], 1];
  return line * 6 + (rows.kind[row] === GAP ? 2 : rows.kind[row] === FOLD ? 4 : 0) + side;
}
