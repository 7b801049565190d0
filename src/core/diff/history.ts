import type { Comparison } from "./compare";

/** Lines, 0-based and end exclusive, and the steps that touched them, ascending. */
export interface TouchedLines {
  start: number;
  end: number;
  steps: number[];
}

/** Which steps touched the lines of the first and of the last state of a file. Lines that none touched are left out. */
export interface LineHistory {
  old: TouchedLines[];
  next: TouchedLines[];
}

/** A line on its way: where it stood in the first state (-1 for one that came later), and what touched it so far. */
interface Line {
  base: number;
  steps: readonly number[];
}

const UNTOUCHED: readonly number[] = [];

/**
 * Carries each line of a file through its states, one after the other. A line that was edited (paired with one of the next state) goes
 * on as the same line; one that was removed ends. `steps[i]` leads from state `i` to state `i + 1`.
 */
export function traceLines(oldLines: number, steps: readonly Pick<Comparison, "hunks" | "pairs">[]): LineHistory {
  const ended: (readonly number[])[] = new Array(oldLines).fill(UNTOUCHED);
  let lines: Line[] = Array.from({ length: oldLines }, (_, base) => ({ base, steps: UNTOUCHED }));
  for (const [step, { hunks, pairs }] of steps.entries()) {
    const before = new Map(pairs.map(({ old, next }) => [next, old]));
    const edited = new Set(before.values());
    const after: Line[] = [];
    let at = 0;
    const keep = (end: number) => {
      for (; at < end; at++) after.push(lines[at]);
    };
    for (const hunk of hunks) {
      keep(hunk.oldStart);
      for (let next = hunk.newStart; next < hunk.newEnd; next++) {
        const from = before.get(next);
        const line = from === undefined ? null : lines[from];
        after.push(line ? { base: line.base, steps: [...line.steps, step] } : { base: -1, steps: [step] });
      }
      for (; at < hunk.oldEnd; at++) {
        const { base, steps: touched } = lines[at];
        if (!edited.has(at) && base >= 0) ended[base] = [...touched, step];
      }
    }
    keep(lines.length);
    lines = after;
  }
  for (const { base, steps: touched } of lines) if (base >= 0) ended[base] = touched;
  return { old: runs(ended), next: runs(lines.map((line) => line.steps)) };
}

/** Where a line of the later state, 0-based, stood before a step: as it is, or as what was edited into it; null for one that came with the step. */
export function lineBefore({ hunks, pairs }: Pick<Comparison, "hunks" | "pairs">, line: number): number | null {
  let shift = 0;
  for (const { oldEnd, newStart, newEnd } of hunks) {
    if (line < newStart) break;
    if (line < newEnd) return pairs.find(({ next }) => next === line)?.old ?? null;
    shift = oldEnd - newEnd;
  }
  return line + shift;
}

/** Which steps touched a line, 0-based. */
export function stepsOf(touched: readonly TouchedLines[], line: number): number[] {
  return touched.find(({ start, end }) => start <= line && line < end)?.steps ?? [];
}

function runs(of: readonly (readonly number[])[]): TouchedLines[] {
  const list: TouchedLines[] = [];
  for (const [line, steps] of of.entries()) {
    if (steps.length === 0) continue;
    const last = list[list.length - 1];
    if (last && last.end === line && last.steps.join() === steps.join()) last.end++;
    else list.push({ start: line, end: line + 1, steps: [...steps] });
  }
  return list;
}
