import { counted } from "../../plain/words";
import type { Caution } from "../caution";
import type { Still } from "./still";

/** Lines that did not change, between two hunks, 0-based: `old + n` and `next + n` are the same line. */
export interface Unchanged {
  old: number;
  next: number;
  size: number;
  /** Whether nothing is to be read between those above and these. */
  goesOn: boolean;
}

/** So many lines between two hunks are shown: what is wrong with them is seen. */
export const IN_SIGHT = 6;

/** The unchanged lines between hunks and behind the last one; those above all of them are what they were. */
export function runsOf(file: Still): Unchanged[] {
  const { hunks, next } = file;
  return hunks.flatMap((hunk, n) => {
    const size = (hunks[n + 1]?.newStart ?? next.length) - hunk.newEnd;
    return size > 0 ? [{ old: hunk.oldEnd, next: hunk.newEnd, size, goesOn: n > 0 && file.isQuiet(hunk) }] : [];
  });
}

/** Those of which more than are in sight follow each other, up to the next line that is to be read. */
export function longRuns(file: Still): Unchanged[] {
  return grouped(runsOf(file))
    .filter((group) => group.reduce((sum, { size }) => sum + size, 0) > IN_SIGHT)
    .flat();
}

function grouped(runs: readonly Unchanged[]): Unchanged[][] {
  const groups: Unchanged[][] = [];
  for (const run of runs) {
    const last = groups[groups.length - 1];
    if (run.goesOn && last) last.push(run);
    else groups.push([run]);
  }
  return groups;
}

/** How many there are, as the beginning of a sentence. */
export function unchangedAre(count: number): string {
  return `${counted(count, "unchanged line")} ${count === 1 ? "is" : "are"}`;
}

/** So many things are said of one file. */
const MOST_SAID = 3;

/**
 * What holds of more unchanged lines that follow each other than are in sight, each thing once with how many there are in all.
 *
 * @param saysOf where a line of both states stands now, as it follows on “lines stand”; null where nothing is to be said of it
 * @param ofMore the same of as many things as are not said by themselves
 */
export function saidOfRuns(
  runs: readonly Unchanged[],
  saysOf: (old: number, next: number) => string | null,
  ofMore: (count: number) => string,
): Caution[] {
  const told = new Map<string, Counted>();
  for (const group of grouped(runs)) {
    const here = new Map<string, Counted>();
    for (const { old, next, size } of group)
      for (let n = 0; n < size; n++) {
        const says = saysOf(old + n, next + n);
        if (says !== null) count(here, says, { count: 1, line: next + n + 1 });
      }
    for (const [says, some] of here) if (some.count > IN_SIGHT) count(told, says, some);
  }
  const all = [...told];
  const said = all.slice(0, MOST_SAID);
  const more = all.slice(MOST_SAID);
  if (more.length > 0) {
    const sum = more.reduce((sum, [, some]) => sum + some.count, 0);
    said.push([ofMore(more.length), { count: sum, line: more[0][1].line }]);
  }
  return said.map(([says, some]) => ({
    kind: "switched",
    says: `${counted(some.count, "unchanged line")} stand ${says}.`,
    line: some.line,
  }));
}

/** Some unchanged lines, and the first of them, 1-based. */
interface Counted {
  count: number;
  line: number;
}

function count(told: Map<string, Counted>, says: string, { count, line }: Counted): void {
  const known = told.get(says);
  if (known) known.count += count;
  else told.set(says, { count, line });
}
