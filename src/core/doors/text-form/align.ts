import { firstThat } from "../../plain/first-that";
import { addTo } from "../../plain/grouped";
import type { FormLine } from "./form";

/** So many lines of a quotation can be what one line was wrapped into. */
const MOST_WRAPPED = 8;
/** A quotation that is cut so short that it could be more lines than this tells no place. In lines of the form. */
const MOST_CUT = 64;
/** A quotation that was cut has so many characters at least, to be known again. */
const LEAST_CUT = 6;

/** For a line of an answer: which line of the form it quotes; `MANY` where it could be several; null where it is none. */
export type Quoted = number | typeof MANY | null;
export const MANY = -1;

/** Whether a line is a quotation. */
export function isQuoted(line: string): boolean {
  return /^ {0,3}>/.test(line);
}

/** A line without signs of quotation and without white space: what wrapping and quoting leave of it. */
export function squeezed(line: string): string {
  return line.replace(/^[\s>]+/, "").replace(/\s+/g, "");
}

/**
 * Finds the lines of a form that an answer quotes: as they were, quoted several deep, wrapped anew (also where the rest of a wrapped line lost its
 * sign), or cut at their end. Lines that stand in the form more than once are told by what stands around them in the answer, since quotations keep
 * their order. Gives one entry for each line of the answer; a line that is somebody's own has null.
 */
export function alignQuotes(answer: readonly string[], form: readonly FormLine[]): Quoted[] {
  const index = new Map<string, number[]>();
  for (const [i, { text }] of form.entries()) {
    const key = squeezed(text);
    if (key !== "") addTo(index, key, i);
  }
  const sorted = [...index.keys()].sort();
  const keys = answer.map(squeezed);
  const found: (number[] | null)[] = answer.map(() => null);
  for (let i = 0; i < answer.length; ) {
    if (!isQuoted(answer[i]) || keys[i] === "") {
      i++;
      continue;
    }
    const length = wrappedLength(keys, i, index);
    const candidates = length > 0 ? index.get(joined(keys, i, length))! : cutOff(keys[i], sorted, index);
    for (let k = 0; k < Math.max(1, length); k++) found[i + k] = candidates;
    i += Math.max(1, length);
  }
  return settle(found);
}

/** Over how many lines of the answer, from one on, a line of the form goes; 0 where none begins so. */
function wrappedLength(keys: readonly string[], from: number, index: ReadonlyMap<string, number[]>): number {
  for (let length = 1; length <= MOST_WRAPPED && from + length <= keys.length; length++) {
    if (length > 1 && keys[from + length - 1] === "") return 0;
    if (index.has(joined(keys, from, length))) return length;
  }
  return 0;
}

function joined(keys: readonly string[], from: number, length: number): string {
  return length === 1 ? keys[from] : keys.slice(from, from + length).join("");
}

/** The lines of the form that begin as a quotation does that was cut. */
function cutOff(key: string, sorted: readonly string[], index: ReadonlyMap<string, number[]>): number[] | null {
  const begin = key.replace(/(?:\.{3}|…|\[\.{3}\]|\[…\])$/, "");
  if (begin.length < LEAST_CUT) return null;
  const first = firstThat(sorted.length, (at) => sorted[at] >= begin);
  const lines: number[] = [];
  for (let i = first; i < sorted.length && sorted[i].startsWith(begin); i++) {
    const these = index.get(sorted[i])!;
    // It could be any of them, so it is none that can be told.
    if (lines.length + these.length > MOST_CUT) return [];
    lines.push(...these);
  }
  return lines.length > 0 ? lines.sort((a, b) => a - b) : null;
}

/** Of several places each takes the one that keeps the order: after what is quoted before it, and before what is quoted after it. */
function settle(found: readonly (number[] | null)[]): Quoted[] {
  const sure = increasing(found);
  const after: number[] = Array(found.length);
  for (let i = found.length - 1, next = Number.POSITIVE_INFINITY; i >= 0; i--) {
    after[i] = next;
    if (sure[i] !== null) next = sure[i]!;
  }
  const result: Quoted[] = [];
  let before = -1;
  for (const [i, candidates] of found.entries()) {
    if (candidates === null) {
      result.push(null);
      continue;
    }
    if (sure[i] !== null) before = sure[i]!;
    const next = sure[i] ?? nearest(candidates, before, after[i]);
    if (next === undefined) result.push(MANY);
    else {
      result.push(next);
      before = next;
    }
  }
  return result;
}

/** The one of some ascending places that lies between two others, both included; where several do, the one that follows the first of these at once. */
function nearest(candidates: readonly number[], before: number, after: number): number | undefined {
  const place = firstThat(candidates.length, (at) => candidates[at] >= before);
  const first = candidates[place];
  if (first === undefined || first > after) return undefined;
  const isOnly = !(candidates[place + 1] <= after);
  return isOnly || first <= before + 1 ? first : undefined;
}

/** The lines that have one place only, as far as those places are in order: the longest such sequence. Patience sorting, O(n log n). */
function increasing(found: readonly (number[] | null)[]): (number | null)[] {
  const tails: number[] = [];
  const back: number[] = Array(found.length).fill(-1);
  const only = (i: number) => found[i]![0];
  for (const [i, candidates] of found.entries()) {
    if (candidates === null || candidates.length !== 1) continue;
    // The same line again, as a wrapped one is, goes on from itself.
    const behind = firstThat(tails.length, (at) => only(tails[at]) > candidates[0]);
    back[i] = behind > 0 ? tails[behind - 1] : -1;
    tails[behind] = i;
  }
  const result: (number | null)[] = found.map(() => null);
  for (let i = tails.at(-1) ?? -1; i >= 0; i = back[i]) result[i] = only(i);
  return result;
}
