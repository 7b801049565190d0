import type { Hunk } from "../../diff/hunk";
import { diffLines } from "../../diff/lines";
import type { ClassedFile, LineClass, Side } from "../../quiet/classes";

/** What is asked of a file whose lines did not change, or changed in nothing that has to be read. */
export type Still = Pick<
  ClassedFile,
  "path" | "old" | "next" | "hunks" | "language" | "syntaxes" | "detailed" | "isQuiet" | "classAt"
>;

/** Quiet classes of lines that stay where they are: nobody is shown them, as if they had not changed. */
const IN_PLACE: ReadonlySet<LineClass | null> = new Set(["layout", "endings", "style", "repeated"] as const);

/** Those whose lines hold other signs than before. */
const SAYS_OTHERWISE: ReadonlySet<LineClass | null> = new Set(["style", "repeated"] as const);

/**
 * A file with the hunks of which something is to be read: lines that only became others in how they are written stand as unchanged ones, so that what changed around them is told all the same. The
 * file itself where there are none of those.
 *
 * @example // all lines of a script ended with "\r\n" from now on, and "/*" was put above twenty of them
 * // [{ oldStart: 3, oldEnd: 3, newStart: 3, newEnd: 4 }]
 */
export function stillOf(file: ClassedFile): Still {
  let isSame = true;
  const hunks = file.hunks.flatMap((hunk) => {
    const pairs = pairsIn(file, hunk);
    if (pairs.length === 0) return [hunk];
    isSame = false;
    return between(hunk, pairs);
  });
  if (isSame) return file;
  const { path, old, next, language } = file;
  return {
    ...{ path, old, next, language, hunks },
    syntaxes: () => file.syntaxes(),
    detailed: () => file.detailed(),
    isQuiet: (hunk) => file.isQuiet(hunk),
    classAt: (side, line) => file.classAt(side, line),
  };
}

/** Whether a line is another one only in how it is written. */
export function isRewritten(file: Still, side: Side, line: number): boolean {
  return IN_PLACE.has(file.classAt(side, line));
}

type Pair = [old: number, next: number];

/** Which lines of a hunk are the same in another writing, in their order. */
function pairsIn(file: ClassedFile, { oldStart, oldEnd, newStart, newEnd }: Hunk): Pair[] {
  const before = quietIn(file, "old", oldStart, oldEnd);
  if (before.length === 0) return [];
  const after = quietIn(file, "new", newStart, newEnd);
  const thin = (lines: readonly string[]) => (line: number) => lines[line].replace(/\s+/g, "");
  const [thinOld, thinNew] = [thin(file.old), thin(file.next)];
  const isOne = ([i, j]: Pair) => {
    const kind = file.classAt("old", i);
    return kind === file.classAt("new", j) && (SAYS_OTHERWISE.has(kind) || thinOld(i) === thinNew(j));
  };
  const inOrder = before.length === after.length ? before.map((line, at): Pair => [line, after[at]]) : [];
  const same = inOrder.filter(isOne);
  if (same.length === before.length) return same;
  // Some became one, or one became several.
  const alike = pairsAt(before.map(thinOld), after.map(thinNew)).map(([i, j]): Pair => [before[i], after[j]]);
  return alike.length > same.length ? alike : same;
}

/** Which of some lines without white space begin at the same place, where some became one, or one became several. */
function pairsAt(before: readonly string[], after: readonly string[]): Pair[] {
  const pairs: Pair[] = [];
  if (before.join("") === after.join("")) {
    let [j, to] = [0, 0];
    let from = 0;
    for (let i = 0; i < before.length; from += before[i++].length) {
      while (j < after.length && (to < from || after[j] === "")) to += after[j++].length;
      if (before[i] !== "" && to === from && j < after.length) pairs.push([i, j]);
    }
    return pairs;
  }
  let [i, j] = [0, 0];
  const pairUpTo = (end: number) => {
    for (; i < end; i++, j++) pairs.push([i, j]);
  };
  for (const inner of diffLines(before, after)) {
    pairUpTo(inner.oldStart);
    [i, j] = [inner.oldEnd, inner.newEnd];
  }
  pairUpTo(before.length);
  return pairs;
}

function quietIn(file: ClassedFile, side: Side, from: number, to: number): number[] {
  const lines: number[] = [];
  for (let line = from; line < to; line++) if (isRewritten(file, side, line)) lines.push(line);
  return lines;
}

/** What is left of a hunk between some pairs of its lines. */
function between({ oldStart, oldEnd, newStart, newEnd }: Hunk, pairs: readonly Pair[]): Hunk[] {
  const left: Hunk[] = [];
  let [from, begins] = [oldStart, newStart];
  for (const [old, next] of [...pairs, [oldEnd, newEnd] as const]) {
    if (old > from || next > begins) left.push({ oldStart: from, oldEnd: old, newStart: begins, newEnd: next });
    [from, begins] = [old + 1, next + 1];
  }
  return left;
}
