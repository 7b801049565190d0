import type { Lines } from "../stretch/range";

/** Lines of two sides that are the same text when they are joined. */
export interface Joined {
  old: Lines;
  next: Lines;
}

/** By so many characters it is told where the one side goes on as the other does. */
const KEY = 16;
/** So many places are looked at for each line, and so many characters at each. */
const MOST_PLACES = 3;
const LONGEST = 4_000;

/**
 * Finds lines that are the same text on both sides when they are joined, however it is parted into lines: one after the other, each as long as it can be, and cut where a line
 * ends on both sides. Lines may be empty; those at the end of what was found are taken along. Takes time in proportion to the lines, whatever they are.
 *
 * @example joinedLines(["hold(berth,tide)", "free()"], ["hold(", "berth,tide)", "go()"]) // [[{ old: 0 to 1, next: 0 to 2 }]]
 * @returns of each find its parts, of which each can be joined by itself
 */
export function joinedLines(old: readonly string[], next: readonly string[]): Joined[][] {
  const [left, right] = [new Side(old), new Side(next)];
  const places = new Map<string, number[]>();
  for (let i = 0; i < old.length; i++) {
    if (old[i] === "") continue;
    const key = left.from(i);
    const known = places.get(key);
    if (known) known.push(i);
    else places.set(key, [i]);
  }
  const found: Joined[][] = [];
  let from = 0;
  for (let j = 0; j < next.length; ) {
    const all = next[j] === "" ? [] : (places.get(right.from(j)) ?? []);
    let parts: Joined[] = [];
    let tried = 0;
    for (const i of all) {
      if (i < from) continue;
      if (++tried > MOST_PLACES) break;
      parts = partsFrom(left, i, right, j);
      if (parts.length > 0) break;
    }
    if (parts.length === 0) {
      j++;
      continue;
    }
    found.push(parts);
    const last = parts[parts.length - 1];
    from = last.old.end;
    j = last.next.end;
  }
  return found;
}

/** Lines, what they are joined, and where each begins in that. */
class Side {
  readonly text: string;
  readonly starts: number[] = [];

  constructor(readonly lines: readonly string[]) {
    this.text = lines.join("");
    let at = 0;
    for (const line of lines) {
      this.starts.push(at);
      at += line.length;
    }
    this.starts.push(at);
  }

  /** What the text goes on with at a line. */
  from(line: number): string {
    return this.text.slice(this.starts[line], this.starts[line] + KEY);
  }
}

/** From two lines on, what is parted alike, up to where the texts differ. */
function partsFrom(left: Side, i: number, right: Side, j: number): Joined[] {
  const [a, b] = [left.starts[i], right.starts[j]];
  const most = Math.min(left.text.length - a, right.text.length - b, LONGEST);
  let same = 0;
  while (same < most && left.text.charCodeAt(a + same) === right.text.charCodeAt(b + same)) same++;
  const parts: Joined[] = [];
  let [oldStart, newStart] = [i, j];
  let [oldEnd, newEnd] = [i + 1, j + 1];
  while (oldEnd < left.starts.length && newEnd < right.starts.length) {
    const [x, y] = [left.starts[oldEnd] - a, right.starts[newEnd] - b];
    if (x > same || y > same) break;
    if (x < y) oldEnd++;
    else if (y < x) newEnd++;
    else {
      while (left.lines[oldEnd] === "") oldEnd++;
      while (right.lines[newEnd] === "") newEnd++;
      parts.push({ old: { start: oldStart, end: oldEnd }, next: { start: newStart, end: newEnd } });
      [oldStart, newStart] = [oldEnd, newEnd];
      oldEnd++;
      newEnd++;
    }
  }
  return parts;
}
