import { type Hunk, sharedPairs } from "../../diff/hunk";
import { diffLines } from "../../diff/lines";
import { range } from "../../plain/range";
import type { ClassedFile } from "../classes";
import { goesOnInComment } from "../comment-lines";
import type { Lines } from "../stretch/range";
import { signsOf } from "../stretch/signs";
import { type Joined, joinedLines } from "./joined-lines";
import { nearHunks } from "./near-hunks";

/** Lines that may say the same on both sides: those of a `single` part one by one, those of others when they are joined. */
export interface LayoutStretch {
  parts: readonly Joined[];
  single: boolean;
}

/**
 * Lines on both sides that differ in the white space before the star that they begin with, as pairs of 0-based numbers: where they go on with a comment, that may be layout. Cheap.
 */
export function starredLines(file: ClassedFile): [old: number, next: number][] {
  const { language, hunks } = file;
  if (!language || printsText(file)) return [];
  return hunks.flatMap(({ oldStart, oldEnd, newStart, newEnd }) => {
    const starred = (lines: readonly string[], start: number, end: number) =>
      range(start, end).filter((line) => beginsWithStar(lines[line]));
    const old = starred(file.old, oldStart, oldEnd);
    const next = old.length > 0 ? starred(file.next, newStart, newEnd) : [];
    if (next.length === 0) return [];
    const bare = (line: string) => line.replace(/^[ \t]+/, "");
    const [left, right] = [old.map((line) => bare(file.old[line])), next.map((line) => bare(file.next[line]))];
    return sharedPairs(diffLines(left, right), left.length).map(([i, j]): [number, number] => [old[i], next[j]]);
  });
}

function beginsWithStar(line: string): boolean {
  let at = 0;
  while (line.charCodeAt(at) === 32 || line.charCodeAt(at) === 9) at++;
  return line.charCodeAt(at) === 42;
}

/** A text of PHP that ends its code somewhere: what stands behind is printed, white space included. */
export function printsText(file: ClassedFile): boolean {
  if (file.language?.id !== "php") return false;
  return [file.old, file.next].some((lines) => lines.some((line) => line.includes("?>")));
}

/** The stretches of a file that are worth a proof. Cheap: nothing is parsed for it. */
export function layoutStretches(file: ClassedFile): LayoutStretch[] {
  if (!file.language || printsText(file)) return [];
  const inHunks = file.hunks.flatMap((hunk) =>
    hunk.oldStart === hunk.oldEnd || hunk.newStart === hunk.newEnd ? [] : candidates(file, hunk),
  );
  return [...inHunks, ...partedOtherwise(file)];
}

/** What is parted into lines otherwise than it was, also where something beside it was changed. */
function partedOtherwise(file: ClassedFile): LayoutStretch[] {
  const { language, hunks } = file;
  if (!language || language.breaks === "kept") return [];
  const thin = signsOf(language.id) ? withoutSigns : withoutSpace;
  const stretches: LayoutStretch[] = [];
  for (const near of nearHunks(hunks)) {
    const last = near[near.length - 1];
    const old = { start: near[0].oldStart, end: last.oldEnd };
    const next = { start: near[0].newStart, end: last.newEnd };
    if (old.start === old.end || next.start === next.end) continue;
    const thinned = (lines: readonly string[], { start, end }: Lines) => lines.slice(start, end).map(thin);
    for (const found of joinedLines(thinned(file.old, old), thinned(file.next, next))) {
      if (found.every(isAligned)) continue;
      const parts = found.map((part) => ({ old: shifted(part.old, old.start), next: shifted(part.next, next.start) }));
      const isWorth = (part: Joined) => !isSameAside(file, part) && !isComment(file, part.old, part.next);
      if (parts.some(isWorth)) stretches.push({ parts, single: false });
    }
  }
  return stretches;
}

const isAligned = ({ old, next }: Joined) => old.end - old.start === next.end - next.start;

/** Whether all lines are the same but those with nothing on them, or nothing but what may come and go. */
function isSameAside(file: ClassedFile, { old, next }: Joined): boolean {
  const said = (lines: readonly string[], { start, end }: Lines) =>
    lines.slice(start, end).filter((line) => withoutSigns(line) !== "");
  const [before, after] = [said(file.old, old), said(file.next, next)];
  return before.length === after.length && before.every((line, n) => line === after[n]);
}

const shifted = ({ start, end }: Lines, by: number): Lines => ({ start: start + by, end: end + by });

/** Nothing but U+0020 and U+0009, and perhaps the first half of `\r\n`. */
export function isBlank(line: string): boolean {
  return /^[ \t]*\r?$/.test(line);
}

function candidates(file: ClassedFile, hunk: Hunk): LayoutStretch[] {
  const { bare, joined } = file.language && signsOf(file.language.id) ? SIGNS : SPACE;
  const old = file.old.slice(hunk.oldStart, hunk.oldEnd).map(bare);
  const next = file.next.slice(hunk.newStart, hunk.newEnd).map(bare);
  const known = new Set(old);
  const whole = joined(old) === joined(next);
  if (!whole && !next.some((line) => line !== "" && known.has(line))) return [];
  const result: LayoutStretch[] = [];
  let i = 0;
  let j = 0;
  /** How many brackets more the new side has open than the old one. */
  let depth = 0;
  const skip = (oldEnd: number, newEnd: number) => {
    for (; i < oldEnd; i++) depth -= opened(file.old[hunk.oldStart + i]);
    for (; j < newEnd; j++) depth += opened(file.next[hunk.newStart + j]);
  };
  const push = (oldEnd: number, newEnd: number, single: boolean) => {
    const a = { start: hunk.oldStart + i, end: hunk.oldStart + oldEnd };
    const b = { start: hunk.newStart + j, end: hunk.newStart + newEnd };
    // Behind brackets that were opened or closed on one side only, the enclosing structure is another one.
    const differs = single ? differ(file, a, b) : true;
    if (i < oldEnd && j < newEnd && depth === 0 && differs && !isComment(file, a, b))
      result.push({ parts: [{ old: a, next: b }], single });
    skip(oldEnd, newEnd);
  };
  for (const inner of diffLines(old, next)) {
    push(inner.oldStart, inner.newStart, true);
    if (joined(old.slice(i, inner.oldEnd)) === joined(next.slice(j, inner.newEnd)))
      push(inner.oldEnd, inner.newEnd, false);
    skip(inner.oldEnd, inner.newEnd);
  }
  push(old.length, next.length, true);
  return result;
}

/** Whether some line that is more than blank is not the same on both sides. */
function differ(file: ClassedFile, old: Lines, next: Lines): boolean {
  for (let n = 0; n < old.end - old.start; n++) {
    const line = file.old[old.start + n];
    if (line !== file.next[next.start + n] && !isBlank(line)) return true;
  }
  return false;
}

/** Whether nothing but the midst of comments stands on the lines of either side, as far as their look tells: nothing there can be proven. */
function isComment(file: ClassedFile, old: Lines, next: Lines): boolean {
  const all = (lines: readonly string[], { start, end }: Lines) => {
    for (let line = start; line < end; line++) if (!isBlank(lines[line]) && !goesOnInComment(lines, line)) return false;
    return true;
  };
  return all(file.next, next) || all(file.old, old);
}

/** How many brackets a line opens more than it closes, told by the characters alone. */
function opened(line: string): number {
  let open = 0;
  for (let at = 0; at < line.length; at++) {
    const character = line[at];
    if (character === "{" || character === "(" || character === "[") open++;
    else if (character === "}" || character === ")" || character === "]") open--;
  }
  return open;
}

/** What is left of a line where some of it may come and go, and of several that may be parted otherwise. */
interface Bare {
  bare: (line: string) => string;
  joined: (lines: readonly string[]) => string;
}

function withoutSpace(line: string): string {
  return line.replace(/[ \t\r]+/g, "");
}

/** A line without white space and what may say nothing; all quotes are one. */
function withoutSigns(line: string): string {
  return line.replace(/[ \t\r,(){};]+/g, "").replace(/\\?['"]/g, '"');
}

const SPACE: Bare = { bare: withoutSpace, joined: (lines) => lines.join("") };
/** A line keeps its brackets, by which it is told from others. */
const SIGNS: Bare = {
  bare: (line) => line.replace(/[ \t\r]+|[,;][ \t\r]*$/g, "").replace(/\\?['"]/g, '"'),
  joined: (lines) => lines.join("").replace(/[,(){};]+/g, ""),
};
