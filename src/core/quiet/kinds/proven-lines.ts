import type { Hunk } from "../../diff/hunk";
import { firstThat } from "../../plain/first-that";
import type { Joined } from "./joined-lines";

/** Which unchanged lines of either side count, by their 0-based numbers. */
interface Counts {
  old: (line: number) => boolean;
  next: (line: number) => boolean;
}

/**
 * Which lines of the one state stand for which of the other: those that did not change, and those that were proven. No line stands for two, and none that comes before another for one that
 * comes behind it: so what was doubled or changed places is never told twice.
 */
export class ProvenLines {
  /** In order, on both sides. */
  private readonly proven: Joined[] = [];
  /** How many lines above one did not change. */
  private readonly unchanged: { old: (line: number) => number; next: (line: number) => number };

  constructor(
    private readonly hunks: readonly Hunk[],
    counts?: Counts,
  ) {
    this.unchanged = {
      old: unchangedAbove(hunks, ({ oldStart, oldEnd }) => [oldStart, oldEnd], counts?.old),
      next: unchangedAbove(hunks, ({ newStart, newEnd }) => [newStart, newEnd], counts?.next),
    };
  }

  /** The same, but that unchanged lines of which `counts` says no may be passed by others. */
  counting(counts: Counts): ProvenLines {
    const more = new ProvenLines(this.hunks, counts);
    more.proven.push(...this.proven);
    return more;
  }

  /** Whether lines may stand for each other beside what is known; what lies wholly within them may be part of it. */
  allows({ old, next }: Joined): boolean {
    const { proven, unchanged } = this;
    if (unchanged.old(old.start) !== unchanged.next(next.start) || unchanged.old(old.end) !== unchanged.next(next.end))
      return false;
    const [from, to] = this.within(old, "old");
    const [first, last] = this.within(next, "next");
    if (from !== first || to !== last) return false;
    const some = proven.slice(from, to);
    return some.every(
      (one) =>
        old.start <= one.old.start &&
        one.old.end <= old.end &&
        next.start <= one.next.start &&
        one.next.end <= next.end,
    );
  }

  /** Puts in what {@link allows} allows. */
  add(lines: Joined): void {
    const [from, to] = this.within(lines.old, "old");
    this.proven.splice(from, to - from, lines);
  }

  /** The places of those that have a line in common with some. */
  private within({ start, end }: Joined["old"], side: "old" | "next"): [from: number, to: number] {
    const { proven } = this;
    const from = firstThat(proven.length, (at) => proven[at][side].end > start);
    return [
      from,
      Math.max(
        from,
        firstThat(proven.length, (at) => proven[at][side].start >= end),
      ),
    ];
  }
}

/** Tells how many lines above one did not change, as far as they count. */
function unchangedAbove(
  hunks: readonly Hunk[],
  sideOf: (hunk: Hunk) => [start: number, end: number],
  counts?: (line: number) => boolean,
) {
  const starts: number[] = [];
  const ends: number[] = [];
  const above: number[] = [];
  const countOf = (from: number, to: number) => {
    if (!counts) return to - from;
    let count = 0;
    for (let line = from; line < to; line++) if (counts(line)) count++;
    return count;
  };
  let before = 0;
  let from = 0;
  for (const hunk of hunks) {
    const [start, end] = sideOf(hunk);
    before += countOf(from, start);
    starts.push(start);
    ends.push(end);
    above.push(before);
    from = end;
  }
  return (line: number): number => {
    const at = firstThat(starts.length, (n) => starts[n] > line) - 1;
    if (at < 0) return countOf(0, line);
    return line < ends[at] ? above[at] : above[at] + countOf(ends[at], line);
  };
}
