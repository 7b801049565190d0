import type { Parse } from "../../grammar/parse";
import { addTo } from "../../plain/grouped";
import type { ClassedFile, Side } from "../classes";
import { Leavings } from "../leaving/leavings";
import { Blocks } from "../order/blocks";
import { movedLines } from "../order/definition-order";
import { MoveProof } from "./moved-proof";

/** One end of a move. Lines are 0-based, ends exclusive; files by their place in the list. */
export interface MovePlace {
  file: number;
  start: number;
  end: number;
  /** The named block it lies in, such as a function; null at the top level of the file. */
  within: string | null;
}

/** A block that was taken from one place and put at another. */
export interface Move {
  from: MovePlace;
  to: MovePlace;
  /** Lines on the new side, within the block, that are not as they were: only these, and lines lost on the way, are to be read. */
  edited: number;
}

/** A line that was removed in more places than this is no evidence of where it went. */
const COMMON = 16;
/** How far ahead to look for the next common line across an edit inside a block. */
const ACROSS = 4;
/** Ways across an edit: how many lines to leave out on either side, the smallest first. */
const LEAPS = Array.from({ length: (ACROSS + 1) ** 2 }, (_, n): [number, number] => [
  Math.floor(n / (ACROSS + 1)),
  n % (ACROSS + 1),
])
  .filter(([da, db]) => da + db > 0)
  .sort((a, b) => Math.max(...a) - Math.max(...b) || Math.abs(a[0] - a[1]) - Math.abs(b[0] - b[1]));
/** A block needs this many lines that say something, and this much text on them. */
const LEAST_LINES = 3;
const LEAST_TEXT = 40;
/**
 * Equal pairs that are gone through in a file, for each of its added lines, and beyond that in all files together. In the largest of the histories of
 * `npm run bench` it is five for each line; where every line is like a thousand others, it would be a thousand.
 */
const PAIRS_A_LINE = 10;
const PAIRS_IN_ALL = 500_000;

/**
 * Finds removed blocks that reappear as added ones, within a file or across files, with one common change of indentation, with edits inside
 * them allowed, and classes the lines that are the same on both sides. What proves it of a line is {@link MoveProof}. Longer blocks go
 * first. Blocks of braces, blank lines or imports alone are not moves. Time is bounded: common lines start no block, a pair of lines is
 * looked at once for each diagonal, and pairs have an end; what lies behind it is no move.
 */
export function classMoves(
  files: readonly ClassedFile[],
  ahead: Parse["ahead"] = undefined,
): { moves: Move[]; leavings: Leavings } {
  const numbered = new NumberedLines(files);
  const index = indexRemoved(files, numbered);
  const sameBlocks = new Blocks();
  const proof = new MoveProof(files, sameBlocks);
  const leavings = new Leavings(files, sameBlocks);
  const blocks: Block[] = [];
  /** How many blocks have been told of to who reads ahead; it begins with the first, and is told of more whenever there are twice as many. */
  let told = 0;
  let spare = PAIRS_IN_ALL;
  for (const [toFile, file] of files.entries()) {
    if (blocks.length > 2 * told) {
      ahead?.(proof.willRead(blocks.slice(told)));
      told = blocks.length;
    }
    if (!file.language?.moves) continue;
    let left = spare + file.hunks.reduce((sum, { newStart, newEnd }) => sum + PAIRS_A_LINE * (newEnd - newStart), 0);
    for (const hunk of file.hunks) {
      /** How far each diagonal (source file, and distance between the two lines) has been followed in this hunk. */
      const followed = new Map<number, number>();
      const diagonalOf = (from: number, i: number, j: number) => from * DIAGONALS + i - j;
      for (let j = hunk.newStart; j < hunk.newEnd; j++) {
        if (!file.isOpen("new", j)) continue;
        const number = numbered.of(toFile, "new", j);
        const places = numbered.says(number) ? index.get(number) : undefined;
        if (!places || places.length > COMMON) continue;
        for (const { file: fromFile, line: i } of places) {
          const diagonal = diagonalOf(fromFile, i, j);
          if ((followed.get(diagonal) ?? -1) >= j || files[fromFile].language !== file.language) continue;
          if (indentChange(files[fromFile].old[i], file.next[j]) === null) continue;
          const block = grow(files, numbered, fromFile, i, toFile, j, hunk.newStart, hunk.newEnd, left);
          left -= block.pairs.length;
          for (const [pi, pj] of block.pairs) {
            const passed = diagonalOf(fromFile, pi, pj);
            followed.set(passed, Math.max(pj, followed.get(passed) ?? -1));
          }
          if (isSubstantial(files, block)) blocks.push(block);
        }
      }
    }
    spare = Math.max(0, Math.min(spare, left));
  }
  blocks.sort(
    (a, b) => b.weight - a.weight || a.toFile - b.toFile || a.pairs[0][1] - b.pairs[0][1] || a.fromFile - b.fromFile,
  );
  ahead?.(proof.willRead(blocks));
  const moves: Move[] = [];
  const taken = new TakenLines(files);
  for (const block of blocks) {
    const { fromFile, toFile } = block;
    const pairs = taken.together(
      fromFile,
      toFile,
      block.pairs.filter(([i, j]) => files[fromFile].isOpen("old", i) && files[toFile].isOpen("new", j)),
    );
    if (pairs.length < block.pairs.length && !isSubstantial(files, { ...block, pairs })) continue;
    const moved = movedLines(pairs);
    const proven = proof.proven(block.fromFile, block.toFile, pairs, moved);
    if (proven.length === 0 || !isSubstantial(files, { ...block, pairs: proven })) continue;
    const [firstOld, firstNew] = proven[0];
    const [lastOld, lastNew] = proven[proven.length - 1];
    for (const [i, j] of proven) {
      files[block.fromFile].set("old", i, "moved", moves.length);
      files[block.toFile].set("new", j, "moved", moves.length);
    }
    taken.take(fromFile, toFile, proven);
    leavings.note(fromFile, toFile, proven, moved);
    const [from, to] = proof.names(block.fromFile, block.toFile, proven);
    moves.push({
      from: { file: block.fromFile, start: firstOld, end: lastOld + 1, within: from },
      to: { file: block.toFile, start: firstNew, end: lastNew + 1, within: to },
      edited: lastNew + 1 - firstNew - proven.length,
    });
  }
  return { moves, leavings };
}

/**
 * The lines that moved blocks took, and those between them. Another block takes none of what lies within one, on either side, nor does it go on beyond what one took: of lines that
 * come in turn from two blocks the order is another one, and neither says so.
 */
class TakenLines {
  private readonly codes: Record<Side, (Uint8Array | undefined)[]> = { old: [], new: [] };

  constructor(private readonly files: readonly ClassedFile[]) {}

  /** Of some pairs the longest run that lies within no other block, and has nothing of one in it. */
  together(from: number, to: number, pairs: readonly [number, number][]): [number, number][] {
    const [old, next] = [this.of(from, "old"), this.of(to, "new")];
    let [best, now]: [number, number][][] = [[], []];
    for (const [i, j] of pairs) {
      if (old[i] > 0 || next[j] > 0) continue;
      const last = now.at(-1);
      if (last && (holdsTaken(old, last[0] + 1, i) || holdsTaken(next, last[1] + 1, j))) now = [];
      now.push([i, j]);
      if (now.length > best.length) best = now;
    }
    return best;
  }

  take(from: number, to: number, pairs: readonly [number, number][]): void {
    const [[firstOld, firstNew], [lastOld, lastNew]] = [pairs[0], pairs[pairs.length - 1]];
    this.of(from, "old").fill(1, firstOld, lastOld + 1);
    this.of(to, "new").fill(1, firstNew, lastNew + 1);
  }

  private of(file: number, side: Side): Uint8Array {
    this.codes[side][file] ??= new Uint8Array(this.files[file].lines(side).length);
    return this.codes[side][file];
  }
}

function holdsTaken(codes: Uint8Array, from: number, to: number): boolean {
  for (let line = from; line < to; line++) if (codes[line] > 0) return true;
  return false;
}

interface Block {
  fromFile: number;
  toFile: number;
  /** Equal lines, old and new, ascending on both sides. */
  pairs: [number, number][];
  weight: number;
}

/** Numbers of diagonals of one file, more than it can have lines: so a file and a diagonal are one number. */
const DIAGONALS = 2 ** 28;

/** Changed lines as numbers, equal where two are the same but for the white space around them: made when a file is first asked for. */
class NumberedLines {
  private readonly numbers = new Map<string, number>();
  private readonly saying: boolean[] = [];
  private readonly lines: Partial<Record<Side, Int32Array>>[];

  constructor(private readonly files: readonly ClassedFile[]) {
    this.lines = files.map(() => ({}));
  }

  /** The number of a changed line. */
  of(file: number, side: Side, line: number): number {
    return this.side(file, side)[line];
  }

  /** Whether the lines of a number have more than brackets and a keyword or two. */
  says(number: number): boolean {
    return this.saying[number];
  }

  /** The numbers of all changed lines of one side; what stands at the others means nothing. */
  side(file: number, side: Side): Int32Array {
    const known = this.lines[file][side];
    if (known) return known;
    const { hunks } = this.files[file];
    const lines = this.files[file].lines(side);
    const result = new Int32Array(lines.length);
    for (const hunk of hunks) {
      const [start, end] = side === "old" ? [hunk.oldStart, hunk.oldEnd] : [hunk.newStart, hunk.newEnd];
      for (let line = start; line < end; line++) result[line] = this.number(lines[line].trim());
    }
    this.lines[file][side] = result;
    return result;
  }

  private number(text: string): number {
    let number = this.numbers.get(text);
    if (number === undefined) {
      number = this.saying.length;
      this.numbers.set(text, number);
      this.saying.push(saysSomething(text));
    }
    return number;
  }
}

function indexRemoved(
  files: readonly ClassedFile[],
  numbered: NumberedLines,
): Map<number, { file: number; line: number }[]> {
  const index = new Map<number, { file: number; line: number }[]>();
  for (const [at, file] of files.entries()) {
    if (file.copy || !file.language?.moves) continue;
    for (const hunk of file.hunks) {
      for (let i = hunk.oldStart; i < hunk.oldEnd; i++) {
        if (!file.isOpen("old", i)) continue;
        const number = numbered.of(at, "old", i);
        if (numbered.says(number)) addTo(index, number, { file: at, line: i });
      }
    }
  }
  return index;
}

/** From one equal pair backwards and forwards, over small edits, as long as both sides stay within removed and added lines, no more than `most` pairs each way. */
function grow(
  files: readonly ClassedFile[],
  numbered: NumberedLines,
  fromFile: number,
  i: number,
  toFile: number,
  j: number,
  low: number,
  high: number,
  most: number,
): Block {
  const from = files[fromFile];
  const to = files[toFile];
  const oldOpen = (line: number) => line >= 0 && line < from.old.length && from.isOpen("old", line);
  const newOpen = (line: number) => line >= low && line < high && to.isOpen("new", line);
  const change = indentChange(from.old[i], to.next[j]);
  const before = numbered.side(fromFile, "old");
  const after = numbered.side(toFile, "new");
  const equal = (a: number, b: number) => {
    if (before[a] !== after[b]) return false;
    const [old, next] = [from.old[a], to.next[b]];
    if (old === next) return change === "" || old.trim() === "";
    if (old.trim() === "") return next.trim() === "";
    return change !== "" && indentChange(old, next) === change;
  };
  const walk = (step: 1 | -1): [number, number][] => {
    const pairs: [number, number][] = [];
    let a = i + step;
    let b = j + step;
    while (pairs.length < most) {
      if (oldOpen(a) && newOpen(b) && equal(a, b)) {
        pairs.push([a, b]);
        a += step;
        b += step;
        continue;
      }
      const over = nextEqual(a, b, step);
      if (!over) break;
      [a, b] = over;
    }
    return pairs;
  };
  /** The nearest equal pair beyond an edit. Beyond more than one edited line it must say something, since two braces meet everywhere. */
  const nextEqual = (a: number, b: number, step: 1 | -1): [number, number] | null => {
    for (const [da, db] of LEAPS) {
      const x = a + step * da;
      const y = b + step * db;
      if (before[x] !== after[y] || !reaches(a, x, step, oldOpen) || !reaches(b, y, step, newOpen)) continue;
      if (equal(x, y) && ((da === 1 && db === 1) || numbered.says(before[x]))) return [x, y];
    }
    return null;
  };
  const pairs: [number, number][] = [...walk(-1).reverse(), [i, j], ...walk(1)];
  const weight = pairs.reduce((sum, [line]) => sum + from.old[line].trim().length, 0);
  return { fromFile, toFile, pairs, weight };
}

/** How the indentation of a line became that of another that is the same otherwise, as a word; null when they are not the same. */
export function indentChange(old: string, next: string): string | null {
  if (old === next) return "";
  const [sign, longer, shorter] = next.length > old.length ? ["+", next, old] : ["-", old, next];
  if (longer.length === shorter.length || !longer.endsWith(shorter)) return null;
  const indent = longer.slice(0, longer.length - shorter.length);
  return /^[ \t]+$/.test(indent) ? sign + indent : null;
}

function reaches(start: number, end: number, step: 1 | -1, open: (line: number) => boolean): boolean {
  for (let line = start; line !== end + step; line += step) if (!open(line)) return false;
  return true;
}

function isSubstantial(files: readonly ClassedFile[], { fromFile, pairs }: Block): boolean {
  let lines = 0;
  let text = 0;
  for (const [i] of pairs) {
    const line = files[fromFile].old[i].trim();
    if (!saysSomething(line) || NO_EVIDENCE.test(line)) continue;
    lines += 1;
    text += line.length;
  }
  return lines >= LEAST_LINES && text >= LEAST_TEXT;
}

/** Lines that bring names in from elsewhere are in many places at once, and comments alone are read where they stand now. */
const NO_EVIDENCE = /^(?:import|from|use|using|#\s*include|require)\b|\brequire\(|^(?:\*|\/\/|\/\*|#(?!\s*\w+\s*[({]))/;

/** More than brackets and a keyword or two. */
function saysSomething(line: string): boolean {
  let letters = 0;
  for (let i = 0; i < line.length; i++) {
    const code = line.charCodeAt(i);
    const isLetter =
      code > 127 || (code >= 97 && code <= 122) || (code >= 65 && code <= 90) || (code >= 48 && code <= 57);
    if (isLetter && ++letters === 5) return line.length > 5;
  }
  return false;
}
