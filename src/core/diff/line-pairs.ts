import type { Hunk } from "./hunk";
import { Lexicon } from "./lexicon";
import { compareWords, LONGEST_LINE, type Spans, visible } from "./words";

/** An old and a new line that belong together, 0-based, and what differs in each. */
export interface LinePair {
  old: number;
  next: number;
  oldSpans: Spans;
  newSpans: Spans;
}

/** Beyond these the lines of a hunk are paired in order: the answer would be slow and of no use. */
const MOST_PAIRINGS = 40_000;
/** Lines that share less than this of their text are two lines, not one that was edited. */
const ALIKE = 0.4;

/** Pairs the removed lines of a hunk with the added ones they became, in order, by how much text they share; marks what differs. */
export function pairLines(old: readonly string[], next: readonly string[], hunk: Hunk): LinePair[] {
  const rows = hunk.oldEnd - hunk.oldStart;
  const columns = hunk.newEnd - hunk.newStart;
  if (rows === 0 || columns === 0) return [];
  const lexicon = new Lexicon();
  const couples =
    rows * columns === 1 || rows * columns > MOST_PAIRINGS
      ? inOrder(rows, columns)
      : bySimilarity(old.slice(hunk.oldStart, hunk.oldEnd), next.slice(hunk.newStart, hunk.newEnd), lexicon);
  const pairs: LinePair[] = [];
  for (const [i, j] of couples) {
    const pair = compareWords(old[hunk.oldStart + i], next[hunk.newStart + j], lexicon);
    if (pair)
      pairs.push({
        old: hunk.oldStart + i,
        next: hunk.newStart + j,
        oldSpans: pair.oldSpans,
        newSpans: pair.newSpans,
      });
  }
  return pairs;
}

function inOrder(rows: number, columns: number): [number, number][] {
  return Array.from({ length: Math.min(rows, columns) }, (_, i) => [i, i]);
}

/** The order-keeping pairing with the greatest sum of likeness: Needleman and Wunsch (1970), with gaps free. */
function bySimilarity(old: readonly string[], next: readonly string[], lexicon: Lexicon): [number, number][] {
  const [rows, columns] = [old.length, next.length];
  const scales = new Scales(lexicon);
  const left = old.map((line) => scales.weigh(line));
  const right = next.map((line) => scales.weigh(line));
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

/** A line on the scales. */
interface Weighed {
  line: string;
  /** What all its words weigh together: each as much as it is long, white space nothing. */
  total: number;
  /** Its words, each once, and how often each stands there; null until somebody asks. */
  bag: Bag | null;
}

interface Bag {
  words: readonly number[];
  counts: readonly number[];
}

/** Tells how alike lines are. */
class Scales {
  /** Of each word, how often it stands in the line that was compared last. */
  private readonly counts: number[] = [];
  private latest: Weighed | null = null;
  /** Of each word, where it is in the bag that is being filled, and one more. */
  private readonly places: number[] = [];

  constructor(private readonly lexicon: Lexicon) {}

  weigh(line: string): Weighed {
    return { line, total: line.length > LONGEST_LINE ? 0 : visible(line, 0, line.length), bag: null };
  }

  /** Dice's coefficient: 0 for nothing in common or less than {@link ALIKE}, 1 for the same words. Fast while the first stays the same. */
  likeness(one: Weighed, other: Weighed): number {
    const both = one.total + other.total;
    // However much they share, it is not more than the shorter one has.
    if (both === 0 || (2 * Math.min(one.total, other.total)) / both < ALIKE) return 0;
    const { words, counts } = this.bagOf(other);
    if (this.latest !== one) this.lay(one);
    const { weights } = this.lexicon;
    let common = 0;
    for (let n = 0; n < words.length; n++)
      common += Math.min(this.counts[words[n]] ?? 0, counts[n]) * weights[words[n]];
    return (2 * common) / both;
  }

  private lay(one: Weighed): void {
    if (this.latest) for (const word of this.bagOf(this.latest).words) this.counts[word] = 0;
    const { words, counts } = this.bagOf(one);
    while (this.counts.length < this.lexicon.weights.length) this.counts.push(0);
    for (let n = 0; n < words.length; n++) this.counts[words[n]] = counts[n];
    this.latest = one;
  }

  private bagOf(of: Weighed): Bag {
    if (of.bag) return of.bag;
    const { places } = this;
    const { weights } = this.lexicon;
    const words: number[] = [];
    const counts: number[] = [];
    for (const word of this.lexicon.read(of.line).words) {
      while (places.length <= word) places.push(0);
      if (weights[word] === 0) continue;
      if (places[word] === 0) {
        places[word] = words.push(word);
        counts.push(1);
      } else counts[places[word] - 1]++;
    }
    for (const word of words) places[word] = 0;
    of.bag = { words, counts };
    return of.bag;
  }
}
