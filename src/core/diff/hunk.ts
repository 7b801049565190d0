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
