import type { Layout } from "@/core/reading/columns";
import { ADDED, type Rows } from "@/core/reading/rows";

/** The element that shows a row: in two columns it has the name of the row on its left. */
export function nameOfPlace(layout: Layout, row: number): string {
  const place = layout.placeOf[row];
  return `row-${layout.left[place] >= 0 ? layout.left[place] : layout.right[place]}`;
}

/** The line a row shows first, by its side and number: stays the same when rows come and go. */
export function nameOfRow(rows: Rows, row: number): string {
  return rows.kind[row] === ADDED || rows.old[row] < 0 ? `new${rows.next[row]}` : `old${rows.old[row]}`;
}

/** The new line at the top of what can be seen, 0-based; -1 when there is none. */
export function topLine(
  rows: Rows,
  layout: Layout,
  offset: number,
  items: readonly { index: number; end: number }[],
): number {
  for (const { index, end } of items) {
    const row = index < layout.count ? layout.right[index] : -1;
    if (end > offset && row >= 0 && rows.next[row] >= 0) return rows.next[row];
  }
  return -1;
}

/** The length of the longest line in columns, tabs as four; the number decides only how far one can scroll. */
export function widest(lines: readonly string[], removed: string): number {
  let most = 0;
  const look = (line: string) => {
    if (line.length <= most / 4) return;
    let tabs = 0;
    for (let i = line.indexOf("\t"); i >= 0; i = line.indexOf("\t", i + 1)) tabs++;
    most = Math.max(most, line.length + 3 * tabs);
  };
  for (const line of lines) look(line);
  for (const line of removed.split("\n")) look(line);
  return most;
}
