import { firstThat } from "../plain/first-that";

/** One place where two sequences differ. All indices are 0-based, ends exclusive; one of the two ranges may be empty, never both. */
export interface Hunk {
  oldStart: number;
  oldEnd: number;
  newStart: number;
  newEnd: number;
}

/** Reads the hunks off two sets of flags: `removed[i]` and `added[j]` are 1 where a line is not part of the common sequence. */
export function hunksFromFlags(removed: Uint8Array, added: Uint8Array): Hunk[] {
  const hunks: Hunk[] = [];
  let i = 0;
  let j = 0;
  while (i < removed.length || j < added.length) {
    if (!removed[i] && !added[j]) {
      i++;
      j++;
      continue;
    }
    const oldStart = i;
    const newStart = j;
    while (i < removed.length && removed[i]) i++;
    while (j < added.length && added[j]) j++;
    hunks.push({ oldStart, oldEnd: i, newStart, newEnd: j });
  }
  return hunks;
}

/**
 * The places of what is the same in two sequences, in pairs, given the hunks between them and the length of the old one.
 *
 * @example sharedPairs([{ oldStart: 1, oldEnd: 2, newStart: 1, newEnd: 1 }], 3) // [[0, 0], [2, 1]]
 */
export function sharedPairs(hunks: readonly Hunk[], size: number): [old: number, next: number][] {
  const pairs: [number, number][] = [];
  let [i, j] = [0, 0];
  for (const { oldStart, oldEnd, newEnd } of [...hunks, { oldStart: size, oldEnd: size, newEnd: 0 }]) {
    while (i < oldStart) pairs.push([i++, j++]);
    [i, j] = [oldEnd, newEnd];
  }
  return pairs;
}

/** Carries hunks out on the old sequence, taking what is added from the new one. */
export function applyHunks<T>(old: readonly T[], next: readonly T[], hunks: readonly Hunk[]): T[] {
  const result: T[] = [];
  let at = 0;
  for (const hunk of hunks) {
    for (; at < hunk.oldStart; at++) result.push(old[at]);
    for (let j = hunk.newStart; j < hunk.newEnd; j++) result.push(next[j]);
    at = hunk.oldEnd;
  }
  for (; at < old.length; at++) result.push(old[at]);
  return result;
}

/** The hunk that a line of one state lies in, 0-based; for one that is in none, one of that line alone, at its place in both states. */
export function hunkAt(hunks: readonly Hunk[], side: "old" | "new", line: number): Hunk {
  const startOf = (hunk: Hunk) => (side === "old" ? hunk.oldStart : hunk.newStart);
  const behind = firstThat(hunks.length, (at) => startOf(hunks[at]) > line);
  const before = hunks[behind - 1] ?? { oldStart: 0, oldEnd: 0, newStart: 0, newEnd: 0 };
  if (line < (side === "old" ? before.oldEnd : before.newEnd)) return before;
  const shift = before.newEnd - before.oldEnd;
  const [old, next] = side === "old" ? [line, line + shift] : [line - shift, line];
  return { oldStart: old, oldEnd: old + 1, newStart: next, newEnd: next + 1 };
}

/** Whether a line of one state, 0-based, lies in a hunk. */
export function isChangedAt(hunks: readonly Hunk[], side: "old" | "new", line: number): boolean {
  const [start, end] = side === "old" ? (["oldStart", "oldEnd"] as const) : (["newStart", "newEnd"] as const);
  const hunk = hunks[firstThat(hunks.length, (at) => hunks[at][end] > line)];
  return hunk !== undefined && hunk[start] <= line;
}
