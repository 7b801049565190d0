import type { Hunk } from "../diff/hunk";
import { pairLines } from "../diff/line-pairs";
import { AROUND, type Passage } from "./again";

/** A file before and after a step. */
interface Step {
  old: readonly string[];
  next: readonly string[];
  hunks: readonly Hunk[];
}

/** Beyond so many places the same lines are not told apart by what stands around them. */
const MOST_PLACES = 200;

/**
 * Where lines that a comparison found unchanged really are: a comparison of files takes either of two equal lines, and what stands around
 * them tells which. `was` and `mapped` are where the lines began and where they would be now, 1-based; the answer as well. Null when
 * they are gone, and what the comparison took for them was there before, or is a bracket of something else.
 */
export function homeOf(passage: Passage, was: number, mapped: number, step: Step): number | null {
  const { lines } = passage;
  const { old, next, hunks } = step;
  const end = mapped + lines.length - 1;
  const near = hunks.some(({ newStart, newEnd }) => newStart <= end + AROUND && newEnd >= mapped - 1 - AROUND);
  if (!near) return mapped;
  if (lines.every((line) => !/[\p{L}\p{N}]/u.test(line))) return isSameBracket(was, mapped, step) ? mapped : null;
  const here = likeness(passage, next, mapped);
  // With the line before and the line behind it as they were, nothing else can be meant.
  if (here.above && here.below) return mapped;
  const places = placesOf(lines, next);
  if (places.length > MOST_PLACES) return mapped;
  let best = { place: mapped, score: here.score };
  for (const place of places) {
    const { score } = likeness(passage, next, place);
    if (score > best.score) best = { place, score };
  }
  if (best.score === 0 && placesOf(lines, old).length > 1) return null;
  return best.place;
}

/** Where lines stand in a text, one after the other; 1-based. */
function placesOf(lines: readonly string[], text: readonly string[]): number[] {
  const places: number[] = [];
  for (let at = text.indexOf(lines[0]); at >= 0; at = text.indexOf(lines[0], at + 1)) {
    if (lines.every((line, i) => text[at + i] === line)) places.push(at + 1);
    if (places.length > MOST_PLACES) break;
  }
  return places;
}

/** How much of what stood around a passage stands around a place of the new text, the nearest lines most. */
function likeness({ before, lines, after }: Passage, next: readonly string[], place: number) {
  let score = 0;
  const weigh = (line: string, at: number, away: number) => {
    if (/[\p{L}\p{N}]/u.test(line) && next[at] === line) score += AROUND + 1 - away;
  };
  for (const [i, line] of before.toReversed().entries()) weigh(line, place - 2 - i, i + 1);
  for (const [i, line] of after.entries()) weigh(line, place - 1 + lines.length + i, i + 1);
  return {
    score,
    above: before.length === 0 ? place === 1 : next[place - 2] === before[before.length - 1],
    below: after.length === 0 ? place - 1 + lines.length === next.length : next[place - 1 + lines.length] === after[0],
  };
}

/** Whether a line without a word closes what it closed before: what stands above it is the same, or what that became. */
function isSameBracket(was: number, mapped: number, { old, next, hunks }: Step): boolean {
  const above = wordAbove(old, was);
  const now = wordAbove(next, mapped);
  if (above < 0 || now < 0) return above === now;
  if (old[above] === next[now]) return true;
  const hunk = hunks.find(({ oldStart, oldEnd }) => oldStart <= above && above < oldEnd);
  return hunk !== undefined && pairLines(old, next, hunk).some((pair) => pair.old === above && pair.next === now);
}

/** The nearest line above a 1-based one that has a word on it, 0-based; -1 when there is none. */
function wordAbove(text: readonly string[], line: number): number {
  for (let at = line - 2; at >= 0; at--) if (/[\p{L}\p{N}]/u.test(text[at])) return at;
  return -1;
}
