import type { Hunk } from "../../diff/hunk";
import { diffLines } from "../../diff/lines";
import { withoutEnd } from "../../plain/without-end";
import type { ClassedFile } from "../classes";
import { goesOnInComment } from "../comment-lines";
import { knowsIdleSigns } from "../idle-signs";
import { type Lines, sameStretch, sharedLines } from "../stretch";

/**
 * Formats without a grammar here in which nothing can go over several lines and spaces at the end of a line mean nothing: Ada, VHDL,
 * Protocol Buffers, Fortran in free form, Solidity, and Go's modules. In all others such spaces are to be read.
 */
const TRAILING_FREE = /\.(?:adb|ads|vhdl?|proto|f90|f95|f03|f08|sol)$|(?:^|\/)go\.mod$/i;

/** A text of PHP that ends its code somewhere: what stands behind is printed, white space included. */
export function printsText(file: ClassedFile): boolean {
  if (file.language?.id !== "php") return false;
  return [file.old, file.next].some((lines) => lines.some((line) => line.includes("?>")));
}

/** A stretch of a hunk that may be the same on both sides but for white space; a `single` one line by line. */
export interface LayoutStretch {
  old: Lines;
  next: Lines;
  single: boolean;
}

/** The stretches of a file that are worth a proof. Cheap: nothing is parsed for it. */
export function layoutStretches(file: ClassedFile): LayoutStretch[] {
  if (!file.language || printsText(file)) return [];
  return file.hunks.flatMap((hunk) =>
    hunk.oldStart === hunk.oldEnd || hunk.newStart === hunk.newEnd ? [] : candidates(file, hunk),
  );
}

/**
 * Finds the lines in which only white space between tokens changed, joins and splits of lines included, and those in which signs changed besides that say nothing: `layout` and
 * `style`. Proof: {@link sameStretch}, by the grammar of both states; without a grammar, spaces at the ends of lines in the few formats where they mean nothing.
 */
export function classLayout(file: ClassedFile, stretches: readonly LayoutStretch[] = layoutStretches(file)): void {
  if (!file.language && TRAILING_FREE.test(file.path) && TRAILING_FREE.test(file.oldPath)) classTrailing(file);
  const syntaxes = stretches.length > 0 ? file.syntaxes() : null;
  if (!syntaxes) return;
  const shared = sharedLines(file.hunks);
  const same = (a: Lines, b: Lines) => sameStretch(syntaxes.old, a, syntaxes.next, b, shared);
  for (const { old, next, single } of stretches) {
    const all = same(old, next);
    if (all && !(single && all === "style")) set(file, old, next, all);
    else if (single) {
      for (let i = 0; i < old.end - old.start; i++) {
        const a = { start: old.start + i, end: old.start + i + 1 };
        const b = { start: next.start + i, end: next.start + i + 1 };
        const one = same(a, b) ?? all;
        if (one) set(file, a, b, one);
      }
    }
  }
}

function set(file: ClassedFile, old: Lines, next: Lines, kind: "layout" | "style"): void {
  const aligned = old.end - old.start === next.end - next.start;
  /** The same line on both sides differs in what ends it, or in where it stands: that is no layout. */
  const same = (n: number) => aligned && file.old[old.start + n] === file.next[next.start + n];
  for (let i = old.start; i < old.end; i++) if (!isBlank(file.old[i]) && !same(i - old.start)) file.set("old", i, kind);
  for (let j = next.start; j < next.end; j++)
    if (!isBlank(file.next[j]) && !same(j - next.start)) file.set("new", j, kind);
}

/** Nothing but U+0020 and U+0009, and perhaps the first half of `\r\n`. */
export function isBlank(line: string): boolean {
  return /^[ \t]*\r?$/.test(line);
}

function candidates(file: ClassedFile, hunk: Hunk): LayoutStretch[] {
  const { bare, joined } = file.language && knowsIdleSigns(file.language.id) ? SIGNS : SPACE;
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
      result.push({ old: a, next: b, single });
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

/** Without white space. */
const SPACE: Bare = { bare: (line) => line.replace(/[ \t\r]+/g, ""), joined: (lines) => lines.join("") };

/** And without what may say nothing; all quotes are one. */
const SIGNS: Bare = {
  bare: (line) => line.replace(/[ \t\r]+|,[ \t\r]*$/g, "").replace(/\\?['"]/g, '"'),
  joined: (lines) => lines.join("").replace(/[,()]+/g, ""),
};

function classTrailing(file: ClassedFile): void {
  const cut = (line: string) => withoutEnd(line, " \t");
  for (const hunk of file.hunks) {
    const size = hunk.oldEnd - hunk.oldStart;
    if (size !== hunk.newEnd - hunk.newStart) continue;
    for (let n = 0; n < size; n++) {
      const [i, j] = [hunk.oldStart + n, hunk.newStart + n];
      if (cut(file.old[i]) !== cut(file.next[j]) || file.old[i] === file.next[j] || isBlank(file.old[i])) continue;
      file.set("old", i, "layout");
      file.set("new", j, "layout");
    }
  }
}
