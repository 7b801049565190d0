import { withoutEnd } from "../../plain/without-end";
import type { ClassedFile } from "../classes";
import { inSameComment } from "../stretch/idle-space";
import type { Lines } from "../stretch/range";
import { sharedLines } from "../stretch/shared-lines";
import { sameStretch } from "../stretch/stretch";
import type { Joined } from "./joined-lines";
import { isBlank, type LayoutStretch, layoutStretches, starredLines } from "./layout-stretches";
import { ProvenLines } from "./proven-lines";

/**
 * Formats without a grammar here in which nothing can go over several lines and spaces at the end of a line mean nothing: Ada, VHDL,
 * Protocol Buffers, Fortran in free form, Solidity, and Go's modules. In all others such spaces are to be read.
 */
const TRAILING_FREE = /\.(?:adb|ads|vhdl?|proto|f90|f95|f03|f08|sol)$|(?:^|\/)go\.mod$/i;

/**
 * Finds the lines in which only white space between tokens changed, joins and splits of lines included, and those in which signs changed besides that say nothing: `layout` and
 * `style`, and tells which lines stand for which. Proof: {@link sameStretch}, by the grammar of both states; without a grammar, spaces at the ends of lines in the few formats where they mean nothing.
 */
export function classLayout(
  file: ClassedFile,
  stretches: readonly LayoutStretch[] = layoutStretches(file),
): ProvenLines {
  const proven = new ProvenLines(file.hunks);
  if (!file.language && TRAILING_FREE.test(file.path) && TRAILING_FREE.test(file.oldPath)) classTrailing(file);
  const starred = starredLines(file);
  const syntaxes = stretches.length + starred.length > 0 ? file.syntaxes() : null;
  if (!syntaxes) return proven;
  const shared = sharedLines(file.hunks);
  const same: Same = (a, b) => sameStretch(syntaxes.old, a, syntaxes.next, b, shared);
  const laid = new Laid(file, same, proven);
  for (const { parts, single } of stretches) {
    if (single) laid.lines(parts[0]);
    else laid.parts(parts);
  }
  for (const [i, j] of starred)
    if (inSameComment(syntaxes.old, i, syntaxes.next, j, shared))
      laid.set({ old: { start: i, end: i + 1 }, next: { start: j, end: j + 1 } }, "layout");
  return proven;
}

type Same = (a: Lines, b: Lines) => "layout" | "style" | null;

/** The lines of one file that are found to say the same. */
class Laid {
  constructor(
    private readonly file: ClassedFile,
    private readonly same: Same,
    private readonly proven: ProvenLines,
  ) {}

  /** As many lines as there were: all at once, or else one by one; also where some of them are more than layout. */
  lines({ old, next }: Joined): void {
    const all = this.same(old, next);
    for (let i = 0; i < old.end - old.start; i++) {
      const a = { start: old.start + i, end: old.start + i + 1 };
      const b = { start: next.start + i, end: next.start + i + 1 };
      const one = all === "layout" ? all : (this.same(a, b) ?? all);
      if (one) this.set({ old: a, next: b }, one);
    }
  }

  /** All parts at once, or else in halves. */
  parts(parts: readonly Joined[]): void {
    const { file } = this;
    const isOpen = ({ old, next }: Joined) => anyOpen(file, "old", old) || anyOpen(file, "new", next);
    if (!parts.some(isOpen)) return;
    const last = parts[parts.length - 1];
    const old = { start: parts[0].old.start, end: last.old.end };
    const next = { start: parts[0].next.start, end: last.next.end };
    const kind = this.proven.allows({ old, next }) ? this.same(old, next) : null;
    if (kind) this.set({ old, next }, kind);
    else if (parts.length > 1) {
      const middle = parts.length >> 1;
      this.parts(parts.slice(0, middle));
      this.parts(parts.slice(middle));
    }
  }

  set(lines: Joined, kind: "layout" | "style"): void {
    if (!this.proven.allows(lines)) return;
    this.proven.add(lines);
    const { file } = this;
    const { old, next } = lines;
    const aligned = old.end - old.start === next.end - next.start;
    /** The same line on both sides differs in what ends it, or in where it stands: that is no layout. */
    const isSame = (n: number) => aligned && file.old[old.start + n] === file.next[next.start + n];
    for (let i = old.start; i < old.end; i++)
      if (!isBlank(file.old[i]) && !isSame(i - old.start)) file.set("old", i, kind);
    for (let j = next.start; j < next.end; j++)
      if (!isBlank(file.next[j]) && !isSame(j - next.start)) file.set("new", j, kind);
  }
}

function anyOpen(file: ClassedFile, side: "old" | "new", { start, end }: Lines): boolean {
  const lines = file.lines(side);
  for (let line = start; line < end; line++) if (file.isOpen(side, line) && !isBlank(lines[line])) return true;
  return false;
}

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
