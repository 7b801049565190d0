import type { Hunk } from "./hunk";
import { myers } from "./myers";

/** Parts of a line, flat: start, end, start, end … in UTF-16 units, 0-based, ends exclusive, ascending. */
export type Spans = number[];

/** An old and a new line that belong together, 0-based, and what differs in each. */
export interface LinePair {
  old: number;
  next: number;
  oldSpans: Spans;
  newSpans: Spans;
}

/** Beyond these the lines of a hunk are paired in order, and longer lines get no words marked: the answer would be slow and of no use. */
const MOST_PAIRINGS = 40_000;
const LONGEST_LINE = 4_000;
/** Lines that share less than this of their text are two lines, not one that was edited. */
const ALIKE = 0.4;

const WORDS = /[\p{L}\p{N}\p{M}_]+|\s+|[^\s\p{L}\p{N}\p{M}_]/gu;
/** The same for text of ASCII alone, which nearly all code is: several times faster. */
const ASCII = /^[\x00-\x7f]*$/;
const ASCII_WORDS = /\w+|\s+|[^\w\s]/g;

/** Splits a line into words, runs of white space and single other characters, by Unicode's letters, digits and marks. */
export function words(line: string): string[] {
  return line.match(ASCII.test(line) ? ASCII_WORDS : WORDS) ?? [];
}

/** Pairs the removed lines of a hunk with the added ones they became, in order, by how much text they share; marks what differs. */
export function pairLines(old: readonly string[], next: readonly string[], hunk: Hunk): LinePair[] {
  const rows = hunk.oldEnd - hunk.oldStart;
  const columns = hunk.newEnd - hunk.newStart;
  if (rows === 0 || columns === 0) return [];
  const couples =
    rows * columns === 1 || rows * columns > MOST_PAIRINGS ? inOrder(rows, columns) : bySimilarity(old, next, hunk);
  const pairs: LinePair[] = [];
  for (const [i, j] of couples) {
    const pair = compareWords(old[hunk.oldStart + i], next[hunk.newStart + j]);
    if (pair) pairs.push({ old: hunk.oldStart + i, next: hunk.newStart + j, ...pair });
  }
  return pairs;
}

function inOrder(rows: number, columns: number): [number, number][] {
  return Array.from({ length: Math.min(rows, columns) }, (_, i) => [i, i]);
}

/** The order-keeping pairing with the greatest sum of likeness: Needleman and Wunsch (1970), with gaps free. */
function bySimilarity(old: readonly string[], next: readonly string[], hunk: Hunk): [number, number][] {
  const rows = hunk.oldEnd - hunk.oldStart;
  const columns = hunk.newEnd - hunk.newStart;
  const scales = new Scales();
  const left = old.slice(hunk.oldStart, hunk.oldEnd).map((line) => scales.weigh(line));
  const right = next.slice(hunk.newStart, hunk.newEnd).map((line) => scales.weigh(line));
  const width = columns + 1;
  const sums = new Float64Array((rows + 1) * width);
  const alike = new Float64Array(rows * columns);
  for (let i = rows - 1; i >= 0; i--) {
    for (let j = columns - 1; j >= 0; j--) {
      const likeness = scales.likeness(left[i], right[j]);
      alike[i * columns + j] = likeness;
      const skip = Math.max(sums[(i + 1) * width + j], sums[i * width + j + 1]);
      const take = likeness >= ALIKE ? likeness + sums[(i + 1) * width + j + 1] : 0;
      sums[i * width + j] = Math.max(skip, take);
    }
  }
  const pairs: [number, number][] = [];
  for (let i = 0, j = 0; i < rows && j < columns; ) {
    const likeness = alike[i * columns + j];
    if (likeness >= ALIKE && sums[i * width + j] === likeness + sums[(i + 1) * width + j + 1]) {
      pairs.push([i, j]);
      i++;
      j++;
    } else if (sums[(i + 1) * width + j] >= sums[i * width + j + 1]) i++;
    else j++;
  }
  return pairs;
}

/** The words of a line as numbers, ascending, with how often each stands there. */
interface Weighed {
  words: readonly number[];
  counts: readonly number[];
  total: number;
}

/** Weighs lines and tells how alike two are: each word weighs as much as it is long, white space nothing. */
class Scales {
  private readonly numbers = new Map<string, number>();
  private readonly lengths: number[] = [];

  weigh(line: string): Weighed {
    if (line.length > LONGEST_LINE) return { words: [], counts: [], total: 0 };
    const all: number[] = [];
    let total = 0;
    for (const word of words(line)) {
      const number = this.number(word);
      if (this.lengths[number] === 0) continue;
      all.push(number);
      total += this.lengths[number];
    }
    sort(all);
    const distinct: number[] = [];
    const counts: number[] = [];
    for (let n = 0; n < all.length; n++) {
      if (n > 0 && all[n] === all[n - 1]) counts[counts.length - 1]++;
      else {
        distinct.push(all[n]);
        counts.push(1);
      }
    }
    return { words: distinct, counts, total };
  }

  /** Dice's coefficient: 0 for nothing in common or less than {@link ALIKE}, 1 for the same words. */
  likeness(a: Weighed, b: Weighed): number {
    const both = a.total + b.total;
    if (both === 0 || (2 * Math.min(a.total, b.total)) / both < ALIKE) return 0;
    let common = 0;
    for (let i = 0, j = 0; i < a.words.length && j < b.words.length; ) {
      const difference = a.words[i] - b.words[j];
      if (difference === 0) common += Math.min(a.counts[i], b.counts[j]) * this.lengths[a.words[i]];
      if (difference <= 0) i++;
      if (difference >= 0) j++;
    }
    return (2 * common) / both;
  }

  private number(word: string): number {
    let number = this.numbers.get(word);
    if (number === undefined) {
      number = this.lengths.push(word.trim() === "" ? 0 : word.length) - 1;
      this.numbers.set(word, number);
    }
    return number;
  }
}

/** So few numbers are sorted fastest one by one. */
const FEW = 64;

function sort(numbers: number[]): void {
  if (numbers.length > FEW) {
    numbers.sort((a, b) => a - b);
    return;
  }
  for (let n = 1; n < numbers.length; n++) {
    const number = numbers[n];
    let at = n;
    for (; at > 0 && numbers[at - 1] > number; at--) numbers[at] = numbers[at - 1];
    numbers[at] = number;
  }
}

/** What differs between two lines, or null when they are too long or have too little in common for marks to help. */
export function compareWords(old: string, next: string): { oldSpans: Spans; newSpans: Spans } | null {
  if (old.length > LONGEST_LINE || next.length > LONGEST_LINE) return null;
  const { start, oldEnd, newEnd } = differingPart(old, next);
  const left = words(old.slice(start, oldEnd));
  const right = words(next.slice(start, newEnd));
  const { removed, added } = compareTokens(left, right);
  let kept = visible(old, 0, start) + visible(old, oldEnd, old.length);
  for (let i = 0; i < left.length; i++) if (removed[i] === 0) kept += visible(left[i], 0, left[i].length);
  const most = Math.max(visible(old, 0, old.length), visible(next, 0, next.length));
  if (most > 0 && kept < most * 0.2) return null;
  return { oldSpans: spans(left, removed, start), newSpans: spans(right, added, start) };
}

/** Which tokens of two lists are not common to both: by a table where it is small, else by Myers' algorithm. */
export function compareTokens(
  left: readonly string[],
  right: readonly string[],
): { removed: Uint8Array; added: Uint8Array } {
  const removed = new Uint8Array(left.length);
  const added = new Uint8Array(right.length);
  if (left.length === 0 || right.length === 0) {
    removed.fill(1);
    added.fill(1);
    return { removed, added };
  }
  if (left.length * right.length <= LARGEST_TABLE) {
    byTable(left, right, removed, added);
    return { removed, added };
  }
  const kinds = new Map<string, number>();
  const [a, b] = [numbered(left, kinds), numbered(right, kinds)];
  myers({ a, b, removed, added }, { aLow: 0, aHigh: a.length, bLow: 0, bHigh: b.length });
  return { removed, added };
}

function numbered(words: readonly string[], kinds: Map<string, number>): Int32Array {
  const numbers = new Int32Array(words.length);
  for (let i = 0; i < words.length; i++) {
    let kind = kinds.get(words[i]);
    if (kind === undefined) {
      kind = kinds.size;
      kinds.set(words[i], kind);
    }
    numbers[i] = kind;
  }
  return numbers;
}

/** Room for the lengths of common subsequences, an edge of nothing included; short lists, which nearly all are, need no more and are done faster so. */
const LARGEST_TABLE = 4_096;
const TABLE = new Uint16Array(2 * LARGEST_TABLE + 2);

/** The longest common subsequence by its table of lengths: Wagner and Fischer (1974). What is not in it is marked. */
function byTable(left: readonly string[], right: readonly string[], removed: Uint8Array, added: Uint8Array): void {
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

/** Whether tokens surely end before place `at`. Everything beyond ASCII counts as part of a word, so none is ever cut in two. */
function isCut(line: string, at: number): boolean {
  if (at <= 0 || at >= line.length) return true;
  const before = kindOf(line.charCodeAt(at - 1));
  return before !== kindOf(line.charCodeAt(at)) || before === 2;
}

/** 0 for parts of words, 1 for white space, 2 for anything else of ASCII. */
function kindOf(code: number): 0 | 1 | 2 {
  if (
    code > 127 ||
    code === 95 ||
    (code >= 97 && code <= 122) ||
    (code >= 65 && code <= 90) ||
    (code >= 48 && code <= 57)
  )
    return 0;
  return code === 32 || (code >= 9 && code <= 13) ? 1 : 2;
}

/** How many characters of a part of a text can be seen. */
function visible(text: string, from: number, to: number): number {
  let count = 0;
  for (let i = from; i < to; i++) if (kindOf(text.charCodeAt(i)) !== 1) count++;
  return count;
}

/** Marked words as spans, counted from `from`; two that only white space parts become one. */
function spans(tokens: readonly string[], marked: Uint8Array, from: number): Spans {
  const result: Spans = [];
  let at = from;
  for (let i = 0; i < tokens.length; i++) {
    const end = at + tokens[i].length;
    const bridges = i > 0 && marked[i - 1] === 1 && marked[i + 1] === 1 && tokens[i].trim() === "";
    if (marked[i] === 1 || bridges) {
      if (result.length > 0 && result[result.length - 1] === at) result[result.length - 1] = end;
      else result.push(at, end);
    }
    at = end;
  }
  return result;
}
