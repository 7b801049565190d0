import { isBetweenWords, isSpace, Lexicon, type Worded } from "./lexicon";
import { myers } from "./myers";

/** Parts of a line, flat: start, end, start, end … in UTF-16 units, 0-based, ends exclusive, ascending. */
export type Spans = number[];

/** Longer lines get no words marked: the answer would be slow and of no use. */
export const LONGEST_LINE = 4_000;
/** When less than this of the longer line stays, they are two lines, and marks would be all over them. */
const LEAST_KEPT = 0.2;

/** What differs between two lines, or null when they are too long or have too little in common for marks to help. */
export function compareWords(
  old: string,
  next: string,
  lexicon: Lexicon = new Lexicon(),
): { oldSpans: Spans; newSpans: Spans } | null {
  if (old.length > LONGEST_LINE || next.length > LONGEST_LINE) return null;
  const { start, oldEnd, newEnd } = differingPart(old, next);
  const left = lexicon.read(old, start, oldEnd);
  const right = lexicon.read(next, start, newEnd);
  const { removed, added } = compareTokens(left.words, right.words);
  let kept = visible(old, 0, start) + visible(old, oldEnd, old.length);
  for (let n = 0, at = start; n < removed.length; at = left.ends[n++])
    if (removed[n] === 0) kept += visible(old, at, left.ends[n]);
  const most = Math.max(visible(old, 0, old.length), visible(next, 0, next.length));
  if (most > 0 && kept < most * LEAST_KEPT) return null;
  return { oldSpans: spans(left, removed, start, lexicon), newSpans: spans(right, added, start, lexicon) };
}

/** Which words of two lists are not common to both: by a table where it is small, else by Myers' algorithm. */
function compareTokens(left: readonly number[], right: readonly number[]): { removed: Uint8Array; added: Uint8Array } {
  const removed = new Uint8Array(left.length);
  const added = new Uint8Array(right.length);
  if (left.length === 0 || right.length === 0) {
    removed.fill(1);
    added.fill(1);
  } else if (left.length * right.length <= LARGEST_TABLE) byTable(left, right, removed, added);
  else {
    // What stands on one side alone is common in no order: without it there is much less to search.
    const [a, b] = [sharedPlaces(left, right, removed), sharedPlaces(right, left, added)];
    const sides = {
      a: Int32Array.from(a, (at) => left[at]),
      b: Int32Array.from(b, (at) => right[at]),
      removed: new Uint8Array(a.length),
      added: new Uint8Array(b.length),
    };
    myers(sides, { aLow: 0, aHigh: a.length, bLow: 0, bHigh: b.length });
    for (const [n, at] of a.entries()) removed[at] = sides.removed[n];
    for (const [n, at] of b.entries()) added[at] = sides.added[n];
  }
  return { removed, added };
}

/** The places of words that stand in the other list as well; the others are marked. */
function sharedPlaces(words: readonly number[], others: readonly number[], marked: Uint8Array): number[] {
  const known = new Set(others);
  const places: number[] = [];
  for (const [at, word] of words.entries()) {
    if (known.has(word)) places.push(at);
    else marked[at] = 1;
  }
  return places;
}

/** Room for the lengths of common subsequences, an edge of nothing included; short lists, which nearly all are, need no more and are done faster so. */
const LARGEST_TABLE = 4_096;
const TABLE = new Uint16Array(2 * LARGEST_TABLE + 2);

/** The longest common subsequence by its table of lengths: Wagner and Fischer (1974). What is not in it is marked. */
function byTable(left: readonly number[], right: readonly number[], removed: Uint8Array, added: Uint8Array): void {
  const [rows, columns] = [left.length, right.length];
  const width = columns + 1;
  TABLE.fill(0, rows * width, (rows + 1) * width);
  for (let i = rows - 1; i >= 0; i--) {
    const word = left[i];
    const row = i * width;
    TABLE[row + columns] = 0;
    for (let j = columns - 1; j >= 0; j--) {
      const [below, beside] = [TABLE[row + width + j], TABLE[row + j + 1]];
      if (word === right[j]) TABLE[row + j] = TABLE[row + width + j + 1] + 1;
      else TABLE[row + j] = Math.max(below, beside);
    }
  }
  let i = 0;
  let j = 0;
  while (i < rows && j < columns) {
    if (left[i] === right[j]) {
      i++;
      j++;
    } else if (TABLE[(i + 1) * width + j] >= TABLE[i * width + j + 1]) removed[i++] = 1;
    else added[j++] = 1;
  }
  removed.fill(1, i);
  added.fill(1, j);
}

/** What lies between the beginning and the end that two lines share, both cut where a word or a run of white space ends. */
export function differingPart(old: string, next: string): { start: number; oldEnd: number; newEnd: number } {
  const shortest = Math.min(old.length, next.length);
  let start = 0;
  while (start < shortest && old.charCodeAt(start) === next.charCodeAt(start)) start++;
  while (start > 0 && !(isCut(old, start) && isCut(next, start))) start--;
  let tail = 0;
  while (tail < shortest - start && old.charCodeAt(old.length - 1 - tail) === next.charCodeAt(next.length - 1 - tail))
    tail++;
  while (tail > 0 && !(isCut(old, old.length - tail) && isCut(next, next.length - tail))) tail--;
  return { start, oldEnd: old.length - tail, newEnd: next.length - tail };
}

/** Whether words surely end before place `at`. */
function isCut(line: string, at: number): boolean {
  return at <= 0 || at >= line.length || isBetweenWords(line.charCodeAt(at - 1), line.charCodeAt(at));
}

/** How many characters of a part of a text can be seen. */
export function visible(text: string, from: number, to: number): number {
  let count = 0;
  for (let i = from; i < to; i++) if (!isSpace(text.charCodeAt(i))) count++;
  return count;
}

/** Marked words as spans, counted from `from`; two that only white space parts become one. */
function spans({ words, ends }: Worded, marked: Uint8Array, from: number, { weights }: Lexicon): Spans {
  const result: Spans = [];
  for (let n = 0, at = from; n < words.length; at = ends[n++]) {
    const bridges = n > 0 && marked[n - 1] === 1 && marked[n + 1] === 1 && weights[words[n]] === 0;
    if (marked[n] === 0 && !bridges) continue;
    if (result.length > 0 && result[result.length - 1] === at) result[result.length - 1] = ends[n];
    else result.push(at, ends[n]);
  }
  return result;
}
