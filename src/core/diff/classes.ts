import type { Hunk } from "./hunk";

/**
 * What a changed line is to its reader. Each changed line has exactly one class; `read` is what is left when no quiet one fits. The
 * **reading load** is the number of lines of class `read`: see {@link readingLoad}.
 */
export const CLASSES = ["read", "moved", "repeated", "whitespace", "blank", "endings", "imports", "generated"] as const;
export type LineClass = (typeof CLASSES)[number];

const UNCHANGED = 0;
/** Codes are one more than the place in {@link CLASSES}, so that 0 can mean unchanged. */
const CODE = Object.fromEntries(CLASSES.map((name, i) => [name, i + 1])) as Record<LineClass, number>;

/** Lines that belong to one class, on one side, 0-based, end exclusive. `ref` is the number of the move or replacement; -1 for none. */
export interface ClassRun {
  side: "old" | "new";
  start: number;
  end: number;
  class: LineClass;
  ref: number;
}

/** One file whose changed lines are being classed. Lines may keep their `\r`. */
export class ClassedFile {
  private readonly codes: { old: Uint8Array; new: Uint8Array };
  private readonly refs = { old: new Map<number, number>(), new: new Map<number, number>() };

  constructor(
    readonly path: string,
    readonly old: readonly string[],
    readonly next: readonly string[],
    readonly hunks: readonly Hunk[],
  ) {
    this.codes = { old: new Uint8Array(old.length), new: new Uint8Array(next.length) };
    for (const hunk of hunks) {
      this.codes.old.fill(CODE.read, hunk.oldStart, hunk.oldEnd);
      this.codes.new.fill(CODE.read, hunk.newStart, hunk.newEnd);
    }
  }

  /** Whether a changed line still waits for a class. */
  isOpen(side: "old" | "new", line: number): boolean {
    return this.codes[side][line] === CODE.read;
  }

  /** Gives an open line a quiet class. A line that has one, or is unchanged, keeps what it has. */
  set(side: "old" | "new", line: number, kind: LineClass, ref = -1): void {
    if (!this.isOpen(side, line)) return;
    this.codes[side][line] = CODE[kind];
    if (ref >= 0) this.refs[side].set(line, ref);
  }

  /** All changed lines in runs of one class, the old side first, ascending. They never overlap and leave none out. */
  runs(): ClassRun[] {
    const runs: ClassRun[] = [];
    for (const side of ["old", "new"] as const) {
      const codes = this.codes[side];
      let last: ClassRun | null = null;
      for (let line = 0; line < codes.length; line++) {
        if (codes[line] === UNCHANGED) {
          last = null;
          continue;
        }
        const kind = CLASSES[codes[line] - 1];
        const ref = this.refs[side].get(line) ?? -1;
        if (last && last.class === kind && last.ref === ref) last.end = line + 1;
        else {
          last = { side, start: line, end: line + 1, class: kind, ref };
          runs.push(last);
        }
      }
    }
    return runs;
  }
}

export type ClassCounts = Record<LineClass, number>;

/** How many changed lines there are of each class. Their sum is the raw count of added and removed lines. */
export function countClasses(runs: readonly ClassRun[]): ClassCounts {
  const counts = Object.fromEntries(CLASSES.map((name) => [name, 0])) as ClassCounts;
  for (const run of runs) counts[run.class] += run.end - run.start;
  return counts;
}

/** The reading load: how many changed lines are left to read once the quiet ones are folded. The one place that defines it. */
export function readingLoad(counts: ClassCounts): number {
  return counts.read;
}
