import { histogram } from "./histogram";
import { type Hunk, hunksFromFlags } from "./hunk";
import { slideHunks } from "./slide";
import type { Text } from "./text";

/**
 * Compares two lists of lines and gives the hunks in order, 0-based, ends exclusive; carried out with `applyHunks` on the old lines
 * they give the new ones. Two lines are equal when every character of them is.
 */
export function diffLines(old: readonly string[], next: readonly string[]): Hunk[] {
  let low = 0;
  const shortest = Math.min(old.length, next.length);
  while (low < shortest && old[low] === next[low]) low++;
  let tail = 0;
  while (tail < shortest - low && old[old.length - 1 - tail] === next[next.length - 1 - tail]) tail++;
  const oldMiddle = old.length - tail - low;
  const newMiddle = next.length - tail - low;
  if (oldMiddle === 0 && newMiddle === 0) return [];
  let hunks: Hunk[] = [{ oldStart: 0, oldEnd: oldMiddle, newStart: 0, newEnd: newMiddle }];
  if (oldMiddle > 0 && newMiddle > 0) {
    const kinds = new Map<string, number>();
    const a = numbered(old, low, oldMiddle, kinds);
    const b = numbered(next, low, newMiddle, kinds);
    const removed = new Uint8Array(oldMiddle);
    const added = new Uint8Array(newMiddle);
    histogram({ a, b, removed, added }, kinds.size);
    hunks = hunksFromFlags(removed, added);
  }
  const placed = hunks.map((hunk) => ({
    oldStart: hunk.oldStart + low,
    oldEnd: hunk.oldEnd + low,
    newStart: hunk.newStart + low,
    newEnd: hunk.newEnd + low,
  }));
  return slideHunks(old, next, placed);
}

/** Like {@link diffLines}, and a last line with no newline behind it differs from the same line with one. */
export function diffTexts(old: Text, next: Text): Hunk[] {
  return diffLines(markedEnd(old), markedEnd(next));
}

/** A line that ends the file without a newline gets a character that no line can hold, so that it equals only its like. */
function markedEnd({ lines, missingFinalNewline }: Text): string[] {
  if (!missingFinalNewline) return lines;
  return lines.with(-1, `${lines[lines.length - 1]}\n`);
}

function numbered(lines: readonly string[], from: number, length: number, kinds: Map<string, number>): Int32Array {
  const numbers = new Int32Array(length);
  for (let i = 0; i < length; i++) {
    const line = lines[from + i];
    let kind = kinds.get(line);
    if (kind === undefined) {
      kind = kinds.size;
      kinds.set(line, kind);
    }
    numbers[i] = kind;
  }
  return numbers;
}
