import { type Box, markAll, myers, type Sides, trim } from "./myers";

/**
 * Histogram comparison: anchors on the longest run of lines around the rarest line that both sides share, then goes on to the
 * left and the right of it (an extension of patience diff, B. Cohen 2008; S. Pearce 2010). Where only lines that are frequent
 * are shared, Myers' algorithm takes over; so it does when the work exceeds what the size of the input allows.
 */

const FREQUENT = 64;
/** How many times the length of the input may be scanned, before the rest is left to Myers, whose time is bounded. */
const SCANS = 48;

/** Marks in `sides.removed` and `sides.added` what is not common. `kinds` is one more than the largest number in `a` and `b`. */
export function histogram(sides: Sides, kinds: number): void {
  const { a, b } = sides;
  const index: Index = { head: new Int32Array(kinds), count: new Int32Array(kinds), next: new Int32Array(a.length) };
  let budget = SCANS * (a.length + b.length) + 10_000;
  const stack: Box[] = [{ aLow: 0, aHigh: a.length, bLow: 0, bHigh: b.length }];
  for (let box = stack.pop(); box; box = stack.pop()) {
    trim(sides, box);
    if (box.aLow === box.aHigh || box.bLow === box.bHigh) {
      markAll(sides, box);
      continue;
    }
    budget -= box.aHigh - box.aLow + (box.bHigh - box.bLow);
    if (budget < 0) {
      myers(sides, box);
      continue;
    }
    const found = anchor(sides, box, index);
    budget -= found.work;
    if (found.run) {
      const { aStart, bStart, length } = found.run;
      stack.push({ aLow: box.aLow, aHigh: aStart, bLow: box.bLow, bHigh: bStart });
      stack.push({ aLow: aStart + length, aHigh: box.aHigh, bLow: bStart + length, bHigh: box.bHigh });
    } else if (found.shared) {
      myers(sides, box);
    } else {
      markAll(sides, box);
    }
  }
}

/** Where each kind of line stands in the part of `a` now looked at: a chain through `next`, ascending; entries are 1-based, 0 ends it. */
interface Index {
  head: Int32Array;
  count: Int32Array;
  next: Int32Array;
}

interface Found {
  run: { aStart: number; bStart: number; length: number } | null;
  /** Some line is on both sides, be it a frequent one. */
  shared: boolean;
  work: number;
}

function anchor({ a, b }: Sides, box: Box, { head, count, next }: Index): Found {
  for (let i = box.aHigh - 1; i >= box.aLow; i--) {
    const kind = a[i];
    next[i] = head[kind];
    head[kind] = i + 1;
    count[kind]++;
  }
  let run: Found["run"] = null;
  let rarest = FREQUENT + 1;
  let shared = false;
  let work = 0;
  for (let j = box.bLow; j < box.bHigh; ) {
    let after = j + 1;
    const occurrences = count[b[j]];
    if (occurrences > 0) shared = true;
    if (occurrences > 0 && occurrences <= rarest && occurrences <= FREQUENT) {
      // Runs end in ascending order, so an occurrence inside the run just measured belongs to that run.
      let covered = 0;
      for (let entry = head[b[j]]; entry !== 0; entry = next[entry - 1]) {
        const i = entry - 1;
        if (i < covered) continue;
        let aStart = i;
        let bStart = j;
        let rarity = occurrences;
        while (aStart > box.aLow && bStart > box.bLow && a[aStart - 1] === b[bStart - 1]) {
          aStart--;
          bStart--;
          rarity = Math.min(rarity, count[a[aStart]]);
        }
        let aEnd = i + 1;
        let bEnd = j + 1;
        while (aEnd < box.aHigh && bEnd < box.bHigh && a[aEnd] === b[bEnd]) {
          rarity = Math.min(rarity, count[a[aEnd]]);
          aEnd++;
          bEnd++;
        }
        work += aEnd - aStart;
        if (bEnd > after) after = bEnd;
        if (rarity < rarest || run === null || (rarity === rarest && aEnd - aStart > run.length)) {
          run = { aStart, bStart, length: aEnd - aStart };
          rarest = rarity;
        }
        covered = aEnd;
      }
    }
    j = after;
  }
  for (let i = box.aLow; i < box.aHigh; i++) {
    head[a[i]] = 0;
    count[a[i]] = 0;
  }
  return { run, shared, work };
}
