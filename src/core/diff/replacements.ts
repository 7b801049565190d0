import type { ClassedFile } from "./classes";
import { hunksFromFlags } from "./hunk";
import { compareTokens, differingPart } from "./words";

/** The same tokens replaced by the same others, again and again. */
export interface Replacement {
  from: string;
  to: string;
  /** How many lines of the new text are nothing but this (or this and others like it). */
  lines: number;
  /** In how many files. */
  files: number;
}

/** A pair of lines that belong together, as the comparison of their file found them. */
export interface PairedLines {
  old: number;
  next: number;
}

const LEAST_LINES = 3;
const LONGEST_LINE = 2_000;
/** Humps of compound names are tokens of their own: `slotLength` to `berthLength` is `slot` to `berth`. */
const TOKENS = /\p{Lu}?[\p{Ll}\p{M}]+|\p{Lu}+(?!\p{Ll})|\p{Lu}|\p{Lo}+|\p{N}+|\s+|[^\s\p{L}\p{N}]/gu;

/**
 * Classes lines in which nothing changed but replacements that occur on three lines or more across all files; several on one line may
 * be different ones. Something put in or taken out without a counterpart is no replacement, so lines with that are left to be read.
 */
export function classReplacements(
  files: readonly ClassedFile[],
  pairsOf: readonly (readonly PairedLines[])[],
): Replacement[] {
  const seen = new Map<string, { from: string; to: string }>();
  const lines: { file: number; pair: PairedLines; keys: string[] }[] = [];
  for (const [at, file] of files.entries()) {
    for (const pair of pairsOf[at]) {
      if (!file.isOpen("old", pair.old) || !file.isOpen("new", pair.next)) continue;
      const changes = replaced(file.old[pair.old], file.next[pair.next]);
      if (!changes) continue;
      const keys: string[] = [];
      for (const { from, to } of changes) {
        const key = `${from}\0${to}`;
        if (keys.includes(key)) continue;
        keys.push(key);
        seen.set(key, { from, to });
      }
      lines.push({ file: at, pair, keys });
    }
  }
  // A line counts for a replacement only if all others on it are repeated too; taking some away may leave others too few.
  let joined = lines;
  const tally = () => {
    const counts = new Map<string, number>();
    for (const { keys } of joined) for (const key of keys) counts.set(key, (counts.get(key) ?? 0) + 1);
    return counts;
  };
  for (;;) {
    const counts = tally();
    const still = joined.filter(({ keys }) => keys.every((key) => counts.get(key)! >= LEAST_LINES));
    if (still.length === joined.length) break;
    joined = still;
  }
  const numbers = new Map<string, number>();
  const result: Replacement[] = [];
  const filesOf: Set<number>[] = [];
  for (const { file, pair, keys } of joined) {
    for (const key of keys) {
      let number = numbers.get(key);
      if (number === undefined) {
        number = result.length;
        numbers.set(key, number);
        const { from, to } = seen.get(key)!;
        result.push({ from, to, lines: 0, files: 0 });
        filesOf.push(new Set());
      }
      result[number].lines += 1;
      filesOf[number].add(file);
    }
    files[file].set("old", pair.old, "repeated", numbers.get(keys[0]));
    files[file].set("new", pair.next, "repeated", numbers.get(keys[0]));
  }
  for (const [number, set] of filesOf.entries()) result[number].files = set.size;
  return result;
}

/** What was replaced by what, from left to right; null when something has no counterpart, or nothing but white space changed. */
export function replaced(old: string, next: string): { from: string; to: string }[] | null {
  if (old.length > LONGEST_LINE || next.length > LONGEST_LINE) return null;
  const { start, oldEnd, newEnd } = differingPart(old, next);
  const left = old.slice(start, oldEnd).match(TOKENS) ?? [];
  const right = next.slice(start, newEnd).match(TOKENS) ?? [];
  if (left.length === 0 || right.length === 0) return null;
  const { removed, added } = compareTokens(left, right);
  const result: { from: string; to: string }[] = [];
  for (const hunk of hunksFromFlags(removed, added)) {
    const from = left.slice(hunk.oldStart, hunk.oldEnd).join("");
    const to = right.slice(hunk.newStart, hunk.newEnd).join("");
    if (from.trim() === "" || to.trim() === "") return null;
    result.push({ from, to });
  }
  return result.length > 0 ? result : null;
}
