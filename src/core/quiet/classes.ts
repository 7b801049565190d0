import type { Hunk } from "../diff/hunk";
import { Enclosing } from "../diff/scopes";
import { type Language, languageOf } from "../grammar/languages";
import type { Parse, ParseAsk } from "../grammar/parse";
import type { Syntax } from "../grammar/syntax";

/**
 * What a changed line is to its reader. Each changed line has exactly one class; `read` is what is left when no quiet one is proven. The
 * **reading load** is the number of lines of class `read`, see {@link readingLoad}; `kinds.ts` says what proves each of the others.
 */
export const CLASSES = [
  ...([
    "read",
    "moved",
    "repeated",
    "layout",
    "blank",
    "endings",
    "imports",
    "generated",
    "echo",
    "style",
    "nested",
  ] as const),
] as const;
export type LineClass = (typeof CLASSES)[number];

export type Side = "old" | "new";

/** Codes are one more than the place in {@link CLASSES}: 0 means unchanged. */
const CODE = Object.fromEntries(CLASSES.map((name, i) => [name, i + 1])) as Record<LineClass, number>;

/** Lines that belong to one class, on one side, 0-based, end exclusive. `ref` is the number of the move, replacement or echo; -1 for none. */
export interface ClassRun {
  side: Side;
  start: number;
  end: number;
  class: LineClass;
  ref: number;
}

/** One file whose changed lines are being classed. Lines may keep their `\r`. */
export class ClassedFile {
  private readonly codes: { old: Uint8Array; new: Uint8Array };
  private readonly refs = { old: new Map<number, number>(), new: new Map<number, number>() };
  private readonly asks: Partial<Record<Side, ParseAsk | null>> = {};
  private readonly parsed: Partial<Record<Side, Syntax | null>> = {};
  private readonly enclosed: Partial<Record<Side, Enclosing>> = {};
  private spoken: Language | null | undefined;

  constructor(
    readonly path: string,
    readonly old: readonly string[],
    readonly next: readonly string[],
    readonly hunks: readonly Hunk[],
    private readonly parse: Parse = () => null,
    readonly oldPath: string = path,
    /** The old state is still there under its own name: nothing was removed from it. */
    readonly copy = false,
  ) {
    this.codes = { old: new Uint8Array(old.length), new: new Uint8Array(next.length) };
    for (const hunk of hunks) {
      this.codes.old.fill(CODE.read, hunk.oldStart, hunk.oldEnd);
      this.codes.new.fill(CODE.read, hunk.newStart, hunk.newEnd);
    }
  }

  /** The language of both states; null when it is not known, or not the same. */
  get language(): Language | null {
    if (this.spoken === undefined) {
      const before = this.old.length > 0 ? languageOf(this.oldPath, this.old) : null;
      const after = this.next.length > 0 ? languageOf(this.path, this.next) : null;
      if (this.old.length === 0) this.spoken = after;
      else if (this.next.length === 0) this.spoken = before;
      else this.spoken = before === after ? before : null;
    }
    return this.spoken;
  }

  /** One state as its grammar reads it; null when that proves nothing. Read when it is first asked for. */
  syntax(side: Side): Syntax | null {
    const known = this.parsed[side];
    if (known !== undefined) return known;
    const ask = this.ask(side);
    const syntax = ask && this.parse(ask);
    this.parsed[side] = syntax;
    return syntax;
  }

  /** What its grammar is asked to read of some states, those left out that were read or cannot be. */
  unread(...sides: Side[]): ParseAsk[] {
    return sides.flatMap((side) => (this.parsed[side] === undefined ? (this.ask(side) ?? []) : []));
  }

  private ask(side: Side): ParseAsk | null {
    const known = this.asks[side];
    if (known !== undefined) return known;
    const lines = this.lines(side);
    const before = side === "new" && this.isMostlyShared() ? this.ask("old") : null;
    const ask =
      this.language && lines.length > 0
        ? {
            language: this.language,
            text: `${lines.join("\n")}\n`,
            interest: this.changed(side, lines),
            ...(before && { before: { text: before.text, hunks: this.hunks } }),
          }
        : null;
    this.asks[side] = ask;
    return ask;
  }

  /** Whether reading the new state from the old one takes less than reading it anew. */
  private isMostlyShared(): boolean {
    const changed = this.hunks.reduce((sum, { newStart, newEnd }) => sum + newEnd - newStart, 0);
    return 2 * changed <= this.next.length;
  }

  /** Where the text of one state changed, with a line on either side, as places in it. */
  private changed(side: Side, lines: readonly string[]): number[] {
    const places: number[] = [];
    let line = 0;
    let at = 0;
    const placeOf = (wanted: number) => {
      for (; line < wanted && line < lines.length; line++) at += lines[line].length + 1;
      return at;
    };
    for (const hunk of this.hunks) {
      const [from, to] = side === "old" ? [hunk.oldStart, hunk.oldEnd] : [hunk.newStart, hunk.newEnd];
      const start = placeOf(Math.max(line, from - 1));
      places.push(start, placeOf(to + 1));
    }
    return places;
  }

  /** Both states; null when either proves nothing. */
  syntaxes(): { old: Syntax; next: Syntax } | null {
    const old = this.syntax("old");
    const next = old && this.syntax("new");
    return old && next ? { old, next } : null;
  }

  /** Both states, all of them taken apart, not only where they changed; null when either proves nothing. Kept by who asks. */
  detailed(): { old: Syntax; next: Syntax } | null {
    const read = (side: Side) => {
      const ask = this.ask(side);
      return ask && this.parse({ ...ask, interest: [0, ask.text.length] });
    };
    const old = read("old");
    const next = old && read("new");
    return old && next ? { old, next } : null;
  }

  /** Lets go of what was read by the grammar. */
  release(): void {
    for (const side of ["old", "new"] as const) {
      delete this.parsed[side];
      delete this.asks[side];
    }
  }

  lines(side: Side): readonly string[] {
    return side === "old" ? this.old : this.next;
  }

  /** What encloses the lines of one state. */
  enclosing(side: Side): Enclosing {
    this.enclosed[side] ??= new Enclosing(this.lines(side));
    return this.enclosed[side];
  }

  /** Whether a changed line still waits for a class. */
  isOpen(side: Side, line: number): boolean {
    return this.codes[side][line] === CODE.read;
  }

  /** Whether nothing of some lines of both sides is to be read. */
  isQuiet({ oldStart, oldEnd, newStart, newEnd }: Hunk): boolean {
    for (let line = oldStart; line < oldEnd; line++) if (this.isOpen("old", line)) return false;
    for (let line = newStart; line < newEnd; line++) if (this.isOpen("new", line)) return false;
    return true;
  }

  /** What a line is so far; null for one that did not change. */
  classAt(side: Side, line: number): LineClass | null {
    return CLASSES[this.codes[side][line] - 1] ?? null;
  }

  /** Gives an open line a quiet class. A line that has one, or is unchanged, keeps what it has. */
  set(side: Side, line: number, kind: LineClass, ref = -1): void {
    if (!this.isOpen(side, line)) return;
    this.codes[side][line] = CODE[kind];
    if (ref >= 0) this.refs[side].set(line, ref);
  }

  /** All changed lines in runs of one class, the old side first, ascending. They never overlap and leave none out. */
  runs(): ClassRun[] {
    const runs: ClassRun[] = [];
    for (const side of ["old", "new"] as const) {
      const codes = this.codes[side];
      const refs = this.refs[side];
      // Unchanged lines part the hunks, on either side.
      for (const hunk of this.hunks) {
        const [from, to] = side === "old" ? [hunk.oldStart, hunk.oldEnd] : [hunk.newStart, hunk.newEnd];
        let last: ClassRun | null = null;
        for (let line = from; line < to; line++) {
          const kind = CLASSES[codes[line] - 1];
          const ref = refs.size === 0 ? -1 : (refs.get(line) ?? -1);
          if (last && last.class === kind && last.ref === ref) last.end = line + 1;
          else {
            last = { side, start: line, end: line + 1, class: kind, ref };
            runs.push(last);
          }
        }
      }
    }
    return runs;
  }
}

export type ClassCounts = Record<LineClass, number>;

const NONE = Object.fromEntries(CLASSES.map((name) => [name, 0])) as ClassCounts;

/** How many changed lines there are of each class. Their sum is the raw count of added and removed lines. */
export function countClasses(runs: readonly ClassRun[]): ClassCounts {
  const counts = { ...NONE };
  for (const run of runs) counts[run.class] += run.end - run.start;
  return counts;
}

/** The same for several files, by the counts of each. */
export function sumCounts(all: readonly ClassCounts[]): ClassCounts {
  const sum = { ...NONE };
  for (const counts of all) for (const name of CLASSES) sum[name] += counts[name];
  return sum;
}

/** The reading load: how many changed lines are left to read once the quiet ones are folded. The one place that defines it. */
export function readingLoad(counts: ClassCounts): number {
  return counts.read;
}
