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
  for (const file of [...gone, ...kept]) if (!isEmpty(file)) push(byId, file.id, file);
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
  const targets = open.map((file) => fingerprint(file.lines!));
  const wanted = new Set(targets.flatMap(({ counts }) => [...counts.keys()]));
  const prints = sources.map((file) => fingerprint(file.lines!, wanted));
  const index = new Map<string, number[]>();
  const byName = new Map<string, number[]>();
  for (const [i, { counts }] of prints.entries()) {
    for (const line of counts.keys()) push(index, line, i);
    push(byName, baseName(sources[i].path), i);
  }
  const pairs: Pair[] = [];
  for (const [n, to] of open.entries()) {
    const print = targets[n];
    const scores = new Map<number, number>();
    for (const [line, count] of print.counts) {
      const places = index.get(line);
      if (!places || places.length > COMMON) continue;
      for (const i of places)
        scores.set(i, (scores.get(i) ?? 0) + Math.min(count, prints[i].counts.get(line)!) * line.length);
    }
    const likely = [...scores]
      .sort((a, b) => b[1] - a[1] || a[0] - b[0])
      .slice(0, MEASURED)
      .map(([i]) => i);
    for (const i of (byName.get(baseName(to.path)) ?? []).slice(0, MEASURED)) if (!likely.includes(i)) likely.push(i);
    for (const i of likely) {
      const similarity = shared(prints[i], print);
      if (similarity >= ALIKE)
        pairs.push({ from: sources[i], to, similarity, names: nameLikeness(sources[i].path, to.path) });
    }
  }
  return pairs;
}

interface Fingerprint {
  /** Lines with their white space taken off at both ends, and how often each is there; blank ones do not count. */
  counts: Map<string, number>;
  total: number;
}

/** Counts all lines, or only those that are `wanted`; the total is of all. */
function fingerprint(lines: readonly string[], wanted?: ReadonlySet<string>): Fingerprint {
  const counts = new Map<string, number>();
  let total = 0;
  for (const line of lines) {
    const text = line.trim();
    if (text === "") continue;
    total += text.length;
    if (!wanted || wanted.has(text)) counts.set(text, (counts.get(text) ?? 0) + 1);
  }
  return { counts, total };
}

function shared(a: Fingerprint, b: Fingerprint): number {
  const larger = Math.max(a.total, b.total);
  if (larger === 0) return 0;
  let common = 0;
  for (const [line, count] of a.counts) common += Math.min(count, b.counts.get(line) ?? 0) * line.length;
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

function push<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
