import type { Layout } from "./columns";
import { ADDED, FOLD, REMOVED, type Rows } from "./rows";

/** What a stretch of the page has in it: lines to read, or changed lines that are quiet. */
export interface ChangeMark {
  /** From the top of the page to its end, 0 to 1. */
  from: number;
  to: number;
  quiet: boolean;
}

/**
 * Where on a page something changed, for a narrow strip beside it: at most `pieces` marks, from top to bottom. A piece in which
 * anything is to be read is marked so, whatever else is in it.
 */
export function changeMarks(rows: Rows, layout: Layout, pieces: number): ChangeMark[] {
  const marks: ChangeMark[] = [];
  const size = Math.max(1, Math.ceil(layout.count / pieces));
  for (let at = 0; at < layout.count; at += size) {
    const end = Math.min(layout.count, at + size);
    let found = 0;
    for (let place = at; place < end && found < 2; place++)
      found = Math.max(found, weightOf(rows, layout.left[place]), weightOf(rows, layout.right[place]));
    if (found === 0) continue;
    const quiet = found === 1;
    const last = marks.at(-1);
    const from = at / layout.count;
    if (last && last.quiet === quiet && last.to === from) last.to = end / layout.count;
    else marks.push({ from, to: end / layout.count, quiet });
  }
  return marks;
}

/** 0 for nothing, 1 for what is quiet, 2 for what is to be read. */
function weightOf(rows: Rows, row: number): number {
  if (row < 0) return 0;
  const kind = rows.kind[row];
  if (kind === FOLD) return 1;
  if (kind !== ADDED && kind !== REMOVED) return 0;
  return rows.run[row] >= 0 ? 1 : 2;
}
