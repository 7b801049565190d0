import { firstThat } from "../plain/first-that";
import { addTo } from "../plain/grouped";

/**
 * Which new files were made from which old ones. Files are compared through an index of their lines, never each with each, so there is
 * no number of files at which this gives up.
 */

/** A file that may be one end of a rename or copy. */
export interface Candidate {
  /** The caller's own name for it. */
  key: number;
  path: string;
  /** The id of its contents: equal ids, equal bytes. */
  id: string;
  /** Null for what is not text: such files are only found when nothing in them changed. */
  lines: readonly string[] | null;
}

export interface Rename {
  from: number;
  to: number;
  /** 0 to 1: the share of the larger file's text that both have. */
  similarity: number;
  copy: boolean;
}

/** Two files that share less than this are two files. */
export const ALIKE = 0.5;
/** A line that is in more old files than this says nothing about where a new one comes from. */
const COMMON = 24;
/** How many likely sources are measured exactly for each new file. */
const MEASURED = 6;

/**
 * `gone` are files that are no longer there, `kept` the old states of files that still are (a copy may come from those), `came` the
 * new ones. Each gone file is renamed once at the most; further ones made from it are copies. Empty files are left alone.
 */
export function findRenames(
  gone: readonly Candidate[],
  kept: readonly Candidate[],
  came: readonly Candidate[],
): Rename[] {
  const renames: Rename[] = [];
  const renamed = new Set<number>();
  const explained = new Set<number>();
  const byId = new Map<string, Candidate[]>();
  for (const file of [...gone, ...kept]) if (!isEmpty(file)) addTo(byId, file.id, file);
  const leaving = new Set(gone.map(({ key }) => key));

  const settle = (from: Candidate, to: Candidate, similarity: number) => {
    const copy = !leaving.has(from.key) || renamed.has(from.key);
    if (!copy) renamed.add(from.key);
    explained.add(to.key);
    renames.push({ from: from.key, to: to.key, similarity, copy });
  };

  // Unchanged contents first; of several the one whose name is most alike.
  const same = came.flatMap((to) =>
    (byId.get(to.id) ?? []).map((from) => ({ from, to, names: nameLikeness(from.path, to.path) })),
  );
  same.sort(
    (a, b) => Number(leaving.has(b.from.key)) - Number(leaving.has(a.from.key)) || b.names - a.names || order(a, b),
  );
  const taken = new Set<number>();
  for (const { from, to } of same) {
    if (explained.has(to.key) || taken.has(from.key)) continue;
    taken.add(from.key);
    settle(from, to, 1);
  }
  for (const { from, to } of same) if (!explained.has(to.key)) settle(from, to, 1);

  const open = came.filter((file) => !explained.has(file.key) && file.lines && !isEmpty(file));
  if (open.length === 0) return renames;
  const sources = [...gone, ...kept].filter((file) => file.lines && !isEmpty(file));
  const pairs = measure(sources, open);
  pairs.sort(
    (a, b) =>
      b.similarity - a.similarity ||
      Number(leaving.has(b.from.key)) - Number(leaving.has(a.from.key)) ||
      b.names - a.names ||
      order(a, b),
  );
  for (const { from, to, similarity } of pairs) {
    if (!explained.has(to.key) && leaving.has(from.key) && !renamed.has(from.key)) settle(from, to, similarity);
  }
  for (const { from, to, similarity } of pairs) if (!explained.has(to.key)) settle(from, to, similarity);
  return renames;
}

interface Pair {
  from: Candidate;
  to: Candidate;
  similarity: number;
  names: number;
}

/** Every likely pair that is alike enough. */
function measure(sources: readonly Candidate[], open: readonly Candidate[]): Pair[] {
  const numbers = new LineNumbers();
  const targets = open.map((file) => fingerprint(file.lines!, (text) => numbers.of(text)));
  // A line that no new file has says nothing of any.
  const prints = sources.map((file) => fingerprint(file.lines!, (text) => numbers.known(text)));
  /** By the number of a line: the sources that have it. */
  const index: number[][] = numbers.lengths.map(() => []);
  const byName = new Map<string, number[]>();
  for (const [i, { lines }] of prints.entries()) {
    for (const line of lines) index[line].push(i);
    addTo(byName, baseName(sources[i].path), i);
  }
  const pairs: Pair[] = [];
  for (const [n, to] of open.entries()) {
    const print = targets[n];
    const scores = new Map<number, number>();
    for (const [at, line] of print.lines.entries()) {
      const places = index[line];
      if (places.length > COMMON) continue;
      for (const i of places) {
        const common = Math.min(print.counts[at], countOf(prints[i], line));
        scores.set(i, (scores.get(i) ?? 0) + common * numbers.lengths[line]);
      }
    }
    const likely = [...scores]
      .sort((a, b) => b[1] - a[1] || a[0] - b[0])
      .slice(0, MEASURED)
      .map(([i]) => i);
    for (const i of (byName.get(baseName(to.path)) ?? []).slice(0, MEASURED)) if (!likely.includes(i)) likely.push(i);
    for (const i of likely) {
      const similarity = shared(prints[i], print, numbers.lengths);
      if (similarity >= ALIKE)
        pairs.push({ from: sources[i], to, similarity, names: nameLikeness(sources[i].path, to.path) });
    }
  }
  return pairs;
}

/** Lines without the white space at both ends, as numbers from 0: equal where two are the same. */
class LineNumbers {
  private readonly numbers = new Map<string, number>();
  /** How long the line of each number is, in UTF-16 units. */
  readonly lengths: number[] = [];

  of(text: string): number {
    let number = this.numbers.get(text);
    if (number === undefined) {
      number = this.lengths.length;
      this.numbers.set(text, number);
      this.lengths.push(text.length);
    }
    return number;
  }

  /** -1 for one that was not met. */
  known(text: string): number {
    return this.numbers.get(text) ?? -1;
  }
}

/** The lines of a file by their numbers, ascending, each once, and how often it is there; blank ones do not count. */
interface Fingerprint {
  lines: Int32Array;
  counts: Int32Array;
  /** The length of all lines, of those without a number as well. */
  total: number;
}

function fingerprint(lines: readonly string[], numberOf: (text: string) => number): Fingerprint {
  const all = new Int32Array(lines.length);
  let size = 0;
  let total = 0;
  for (const line of lines) {
    const text = line.trim();
    if (text === "") continue;
    total += text.length;
    const number = numberOf(text);
    if (number >= 0) all[size++] = number;
  }
  const sorted = all.subarray(0, size).sort();
  const counts = new Int32Array(size);
  let last = -1;
  for (let at = 0; at < size; at++) {
    if (last < 0 || sorted[last] !== sorted[at]) sorted[++last] = sorted[at];
    counts[last]++;
  }
  return { lines: sorted.slice(0, last + 1), counts: counts.slice(0, last + 1), total };
}

function countOf({ lines, counts }: Fingerprint, line: number): number {
  return counts[firstThat(lines.length - 1, (at) => lines[at] >= line)];
}

function shared(a: Fingerprint, b: Fingerprint, lengths: readonly number[]): number {
  const larger = Math.max(a.total, b.total);
  if (larger === 0) return 0;
  let common = 0;
  for (let i = 0, j = 0; i < a.lines.length && j < b.lines.length; ) {
    const differ = a.lines[i] - b.lines[j];
    if (differ === 0) common += Math.min(a.counts[i], b.counts[j]) * lengths[a.lines[i]];
    if (differ <= 0) i++;
    if (differ >= 0) j++;
  }
  return common / larger;
}

/** How many parts of two paths agree, from the end; the name itself counts most. */
function nameLikeness(a: string, b: string): number {
  const left = a.split("/").reverse();
  const right = b.split("/").reverse();
  let likeness = left[0] === right[0] ? 2 : 0;
  for (let i = 1; i < Math.min(left.length, right.length) && left[i] === right[i]; i++) likeness += 1;
  return likeness;
}

function order(a: { from: Candidate; to: Candidate }, b: { from: Candidate; to: Candidate }): number {
  return a.to.key - b.to.key || a.from.key - b.from.key;
}

function isEmpty(file: Candidate): boolean {
  return file.lines !== null && file.lines.length === 0;
}

function baseName(path: string): string {
  return path.slice(path.lastIndexOf("/") + 1);
}
