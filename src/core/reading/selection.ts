import { GAP, REMOVED, type Rows } from "./rows";

/** Lines of one side that follow each other, 1-based, both ends included. */
export interface Selection {
  side: "old" | "new";
  start: number;
  end: number;
}

/**
 * The lines between two rows, of the side that `to` is on; an unchanged line counts as new unless `side` says otherwise. Null when `to` is no
 * line, or not on that side.
 */
export function selectionOf(rows: Rows, from: number, to: number, side?: Selection["side"]): Selection | null {
  if (to < 0 || to >= rows.count || rows.kind[to] >= GAP) return null;
  const on = side ?? (rows.kind[to] === REMOVED ? "old" : "new");
  const numbers = on === "old" ? rows.old : rows.next;
  if (numbers[to] < 0) return null;
  let start = numbers[to];
  let end = start;
  const [low, high] = from < 0 ? [to, to] : [Math.min(from, to), Math.max(from, to)];
  for (let row = low; row <= high; row++) {
    if (rows.kind[row] >= GAP || numbers[row] < 0) continue;
    start = Math.min(start, numbers[row]);
    end = Math.max(end, numbers[row]);
  }
  return { side: on, start: start + 1, end: end + 1 };
}
