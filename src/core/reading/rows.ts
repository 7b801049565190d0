import type { Hunk } from "../diff/hunk";
import type { ClassRun } from "../quiet/classes";

/** What a row of the manuscript is. */
export const SAME = 0;
export const REMOVED = 1;
export const ADDED = 2;
/** Unchanged lines that are not shown. */
export const GAP = 3;
/** Quiet changed lines, folded into one row. */
export const FOLD = 4;

/**
 * The rows of a file in one column, packed: a file may have 200,000 of them. For a line, `old` and `next` are its 0-based numbers, -1
 * where it is not; for a gap they are those of its first hidden line. `hidden` says how many lines a gap or fold stands for, `run` the
 * place in the given runs of a changed line's class, -1 for one that is to be read.
 */
export interface Rows {
  count: number;
  kind: Uint8Array;
  old: Int32Array;
  next: Int32Array;
  hidden: Int32Array;
  run: Int32Array;
}

/** Lines of the new text, 0-based, end exclusive. */
export type Interval = readonly [from: number, to: number];

export const CONTEXT = 3;
/** A gap takes up a row itself: fewer lines than this are shown rather than hidden. */
const LEAST_HIDDEN = 2;
/** Fewer quiet lines than this, one after the other, are shown in their colour rather than folded. */
export const LEAST_FOLDED = 3;

/** Lays out a file: all that changed, some lines around it, and what was `opened`; the rest as gaps. */
export function layRows(
  hunks: readonly Hunk[],
  newLines: number,
  opened: readonly Interval[],
  context = CONTEXT,
  runs: readonly ClassRun[] = [],
): Rows {
  const shown = shownIntervals(hunks, newLines, opened, context);
  const changed = hunks.reduce((sum, hunk) => sum + hunk.oldEnd - hunk.oldStart + hunk.newEnd - hunk.newStart, 0);
  const most = changed + shown.reduce((sum, [from, to]) => sum + to - from, 0) + shown.length + hunks.length + 1;
  const rows = emptyRows(most);
  let at = 0;
  let shift = 0;
  let next = 0;
  /** Unchanged lines up to `end`, shown or as gaps. */
  const unchanged = (end: number) => {
    while (at < end) {
      while (next < shown.length && shown[next][1] <= at) next++;
      const interval = shown[next];
      const from = interval ? Math.max(interval[0], at) : end;
      if (from > at) {
        const stop = Math.min(from, end);
        put(rows, GAP, at + shift, at, stop - at);
        at = stop;
      } else {
        const stop = Math.min(interval[1], end);
        for (; at < stop; at++) put(rows, SAME, at + shift, at);
      }
    }
  };
  const runOf = { old: runFinder(runs, "old"), new: runFinder(runs, "new") };
  for (const hunk of hunks) {
    unchanged(hunk.newStart);
    for (let i = hunk.oldStart; i < hunk.oldEnd; i++) put(rows, REMOVED, i, -1, 0, runOf.old(i));
    for (let j = hunk.newStart; j < hunk.newEnd; j++) put(rows, ADDED, -1, j, 0, runOf.new(j));
    at = hunk.newEnd;
    shift = hunk.oldEnd - hunk.newEnd;
  }
  unchanged(newLines);
  return rows;
}

/**
 * Folds what is quiet: changed rows that follow each other and share a class, and the move or replacement it refers to, become one row, from
 * {@link LEAST_FOLDED} on; an echo always, since what it is an echo of is said by its fold. Of statements that stand in another block now, as many are shown at either end as around a change:
 * they tell what the block is about. `keep` says of a row whether it must stay in sight.
 */
export function foldRows(rows: Rows, runs: readonly ClassRun[], keep: (row: number) => boolean): Rows {
  const folded = emptyRows(rows.count);
  for (let row = 0; row < rows.count; ) {
    const run = rows.run[row];
    let end = row + 1;
    if (run >= 0) while (end < rows.count && rows.run[end] >= 0 && sameFold(runs[run], runs[rows.run[end]])) end++;
    const shown = run >= 0 && isContext(runs[run]) ? CONTEXT : 0;
    const [from, to] = [row + shown, end - shown];
    let hold = run < 0 || (to - from < LEAST_FOLDED && runs[run].class !== "echo");
    for (let r = from; r < to && !hold; r++) hold = keep(r);
    const show = (stop: number) => {
      for (; row < stop; row++)
        put(folded, rows.kind[row], rows.old[row], rows.next[row], rows.hidden[row], rows.run[row]);
    };
    if (!hold) {
      show(from);
      put(folded, FOLD, rows.old[from], rows.next[from], to - from, rows.run[from]);
      row = to;
    }
    show(end);
  }
  return folded;
}

function sameFold(a: ClassRun, b: ClassRun): boolean {
  return a.class === b.class && a.ref === b.ref && isContext(a) === isContext(b);
}

/** Whether quiet lines are what the lines to be read around them are about. */
function isContext({ class: kind, side }: ClassRun): boolean {
  return kind === "nested" && side === "new";
}

function emptyRows(most: number): Rows {
  const array = () => new Int32Array(most);
  return { count: 0, kind: new Uint8Array(most), old: array(), next: array(), hidden: array(), run: array() };
}

function put(rows: Rows, kind: number, old: number, next: number, hidden = 0, run = -1): void {
  rows.kind[rows.count] = kind;
  rows.old[rows.count] = old;
  rows.next[rows.count] = next;
  rows.hidden[rows.count] = hidden;
  rows.run[rows.count] = run;
  rows.count++;
}

/** Finds the run that holds a line; asked in ascending order. Runs ascend on each side. */
function runFinder(runs: readonly ClassRun[], side: ClassRun["side"]): (line: number) => number {
  let at = 0;
  return (line) => {
    while (at < runs.length && (runs[at].side !== side || runs[at].end <= line)) at++;
    return at < runs.length && runs[at].start <= line ? at : -1;
  };
}

/** The row that shows a line, 0-based; -1 when it is not shown. Rows ascend on either side, gaps and the other side's lines between. */
export function rowOfLine(rows: Rows, side: "old" | "new", line: number): number {
  const numbers = side === "old" ? rows.old : rows.next;
  for (let row = 0; row < rows.count; row++) if (numbers[row] === line && rows.kind[row] < GAP) return row;
  return -1;
}

/**
 * Where a row went when rows were laid anew: the row that shows its line, or else the one that stands for the lines it is hidden
 * among. The row of hidden lines goes by the first of them. -1 for no row, and for a line that is nowhere.
 *
 * @example sameRow(rows, 4, foldedRows) // 2, where row 4 showed line 12 and row 2 now stands for lines 10 to 20
 */
export function sameRow(before: Rows, row: number, after: Rows): number {
  if (row < 0 || row >= before.count) return -1;
  const numbers = before.next[row] >= 0 ? after.next : after.old;
  const line = before.next[row] >= 0 ? before.next[row] : before.old[row];
  let near = -1;
  for (let at = 0; at < after.count; at++) {
    if (numbers[at] < 0) continue;
    if (numbers[at] > line) break;
    near = at;
  }
  return near;
}

/** The rows of all lines that are shown, by their 0-based numbers on either side: for many questions, where {@link rowOfLine} is for one. */
export function indexRows(rows: Rows): { old: Map<number, number>; new: Map<number, number> } {
  const index = { old: new Map<number, number>(), new: new Map<number, number>() };
  for (let row = 0; row < rows.count; row++) {
    if (rows.kind[row] >= GAP) continue;
    if (rows.old[row] >= 0) index.old.set(rows.old[row], row);
    if (rows.next[row] >= 0) index.new.set(rows.next[row], row);
  }
  return index;
}

/** Where an unchanged or changed old line stands in the new text: itself if unchanged, the start of its hunk otherwise. 0-based. */
export function newLineNear(hunks: readonly Hunk[], oldLine: number): number {
  let shift = 0;
  for (const hunk of hunks) {
    if (oldLine < hunk.oldStart) break;
    if (oldLine < hunk.oldEnd) return hunk.newStart;
    shift = hunk.newEnd - hunk.oldEnd;
  }
  return oldLine + shift;
}

/**
 * The first row of the next (or previous) group of changed rows that are to be read, from a row on; of any changed rows when there is
 * nothing to be read. -1 when there is none.
 */
export function nextDifference(rows: Rows, from: number, step: 1 | -1): number {
  const changed = (row: number) => rows.kind[row] === ADDED || rows.kind[row] === REMOVED;
  let anyToRead = false;
  for (let row = 0; row < rows.count && !anyToRead; row++) anyToRead = changed(row) && rows.run[row] < 0;
  const counts = (row: number) =>
    anyToRead ? changed(row) && rows.run[row] < 0 : changed(row) || rows.kind[row] === FOLD;
  for (let row = from + step; row >= 0 && row < rows.count; row += step)
    if (counts(row) && (row === 0 || !counts(row - 1))) return row;
  return -1;
}

function shownIntervals(
  hunks: readonly Hunk[],
  newLines: number,
  opened: readonly Interval[],
  context: number,
): Interval[] {
  const all: Interval[] = [
    ...opened,
    ...hunks.map((hunk): Interval => [hunk.newStart - context, hunk.newEnd + context]),
  ];
  all.sort((a, b) => a[0] - b[0]);
  const merged: [number, number][] = [];
  for (const [from, to] of all) {
    const start = Math.max(0, from);
    const end = Math.min(newLines, to);
    if (end <= start && !(from <= 0 && to >= 0)) continue;
    const last = merged[merged.length - 1];
    if (last && start - last[1] < LEAST_HIDDEN) last[1] = Math.max(last[1], end);
    else merged.push([start < LEAST_HIDDEN ? 0 : start, end]);
  }
  const last = merged[merged.length - 1];
  if (last && newLines - last[1] < LEAST_HIDDEN) last[1] = newLines;
  return merged;
}
