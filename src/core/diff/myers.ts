/**
 * Comparing two sequences in linear space: E. W. Myers, "An O(ND) Difference Algorithm and Its Variations" (1986), section 4b.
 * The search for a middle point stops after a bounded number of rounds and then takes the furthest point reached, so that time
 * is bounded on hostile input at the price of a script that may not be the shortest.
 */

/** What both searches work on: two sequences as numbers, and where what is not common is marked. */
export interface Sides {
  a: Int32Array;
  b: Int32Array;
  removed: Uint8Array;
  added: Uint8Array;
}

/** A part of both sequences, 0-based, ends exclusive. */
export interface Box {
  aLow: number;
  aHigh: number;
  bLow: number;
  bHigh: number;
}

const ROUNDS_AT_LEAST = 256;
/** No path of so many differences ends on this diagonal within the box. */
const OUTSIDE = -1;

/** Takes what the box's two parts have in common at both ends off it. Mutates and returns the box. */
export function trim({ a, b }: Sides, box: Box): Box {
  while (box.aLow < box.aHigh && box.bLow < box.bHigh && a[box.aLow] === b[box.bLow]) {
    box.aLow++;
    box.bLow++;
  }
  while (box.aLow < box.aHigh && box.bLow < box.bHigh && a[box.aHigh - 1] === b[box.bHigh - 1]) {
    box.aHigh--;
    box.bHigh--;
  }
  return box;
}

/** Marks a whole box as removed and added. */
export function markAll({ removed, added }: Sides, box: Box): void {
  removed.fill(1, box.aLow, box.aHigh);
  added.fill(1, box.bLow, box.bHigh);
}

/** Marks in `sides.removed` and `sides.added` what is not common in the box. */
export function myers(sides: Sides, whole: Box): void {
  const size = whole.aHigh - whole.aLow + (whole.bHigh - whole.bLow);
  const rounds = Math.max(ROUNDS_AT_LEAST, Math.ceil(Math.sqrt(size)));
  const reach = Math.min(size, rounds) + 2;
  const forward = new Int32Array(2 * reach + 1);
  const backward = new Int32Array(2 * reach + 1);
  const stack: Box[] = [{ ...whole }];
  for (let box = stack.pop(); box; box = stack.pop()) {
    trim(sides, box);
    if (box.aLow === box.aHigh || box.bLow === box.bHigh) {
      markAll(sides, box);
      continue;
    }
    const [x, y] = middle(sides, box, forward, backward, reach, rounds);
    stack.push({ aLow: box.aLow, aHigh: x, bLow: box.bLow, bHigh: y });
    stack.push({ aLow: x, aHigh: box.aHigh, bLow: y, bHigh: box.bHigh });
  }
}

/**
 * A point on a shortest path through a trimmed box with two non-empty sides, or on a good one once the rounds are used up.
 * Never a corner that would leave the box as it was: at least one difference lies on either side of it.
 */
function middle(
  sides: Sides,
  box: Box,
  forward: Int32Array,
  backward: Int32Array,
  zero: number,
  rounds: number,
): [number, number] {
  const { a, b } = sides;
  const { aLow, bLow, aHigh, bHigh } = box;
  const n = aHigh - aLow;
  const m = bHigh - bLow;
  const delta = n - m;
  const odd = (delta & 1) !== 0;
  forward[zero + 1] = backward[zero + 1] = 0;
  forward[zero - 1] = backward[zero - 1] = OUTSIDE;
  for (let d = 0; ; d++) {
    if (d > 0) {
      forward[zero + d + 1] = forward[zero - d - 1] = OUTSIDE;
      backward[zero + d + 1] = backward[zero - d - 1] = OUTSIDE;
    }
    const low = -d + 2 * Math.max(0, d - m);
    const high = d - 2 * Math.max(0, d - n);
    let left = forward[zero + low - 1];
    for (let k = low; k <= high; k += 2) {
      const above = forward[zero + k + 1];
      let x = step(left, above, k, n, m);
      left = above;
      if (x === OUTSIDE) {
        forward[zero + k] = OUTSIDE;
        continue;
      }
      const across = bLow - aLow - k;
      const end = Math.min(aHigh, bHigh - across);
      for (x += aLow; x < end && a[x] === b[x + across]; ) x++;
      x -= aLow;
      forward[zero + k] = x;
      const other = delta - k;
      if (odd && other > -d && other < d && x + backward[zero + other] >= n) return [aLow + x, bLow + x - k];
    }
    left = backward[zero + low - 1];
    for (let k = low; k <= high; k += 2) {
      const above = backward[zero + k + 1];
      let x = step(left, above, k, n, m);
      left = above;
      if (x === OUTSIDE) {
        backward[zero + k] = OUTSIDE;
        continue;
      }
      const across = bHigh - aHigh + k;
      const end = Math.max(aLow, bLow - across);
      for (x = aHigh - 1 - x; x >= end && a[x] === b[x + across]; ) x--;
      x = aHigh - 1 - x;
      backward[zero + k] = x;
      const other = delta - k;
      if (!odd && other >= -d && other <= d && x + forward[zero + other] >= n) return [aHigh - x, bHigh - x + k];
    }
    if (d + 1 >= rounds) return furthest(box, forward, backward, zero, low, high);
  }
}

/** One difference on to diagonal `k`, from how far the one below it and the one above it came: how far along the first sequence, or OUTSIDE the box. */
function step(below: number, above: number, k: number, n: number, m: number): number {
  const right = below < n && below >= 0 ? below + 1 : OUTSIDE;
  const down = above - k <= m ? above : OUTSIDE;
  return Math.max(right, down);
}

function furthest(
  box: Box,
  forward: Int32Array,
  backward: Int32Array,
  zero: number,
  low: number,
  high: number,
): [number, number] {
  let best = -1;
  let point: [number, number] = [box.aLow, box.bLow];
  for (let k = low; k <= high; k += 2) {
    const ahead = forward[zero + k];
    if (ahead !== OUTSIDE && 2 * ahead - k > best) {
      best = 2 * ahead - k;
      point = [box.aLow + ahead, box.bLow + ahead - k];
    }
    const back = backward[zero + k];
    if (back !== OUTSIDE && 2 * back - k > best) {
      best = 2 * back - k;
      point = [box.aHigh - back, box.bHigh - (back - k)];
    }
  }
  return point;
}
