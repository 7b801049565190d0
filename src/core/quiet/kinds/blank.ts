import { isOrder } from "../../grammar/orders";
import { COMMENT, EXACT, isKind, type Syntax, tokenAfter, tokenText } from "../../grammar/syntax";
import type { ClassedFile, Side } from "../classes";
import { PURE } from "../stretch/gaps";
import { isBlank, printsText } from "./layout-stretches";

/**
 * Finds added and removed lines with nothing on them. Proof: the grammar reads the whole text without errors, and the line lies between
 * two of its tokens, where nothing but white space stands. Never at the head of a file, where a first line or an encoding is told by its
 * place, and never where a language lets empty lines mean something.
 */
export function classBlank(file: ClassedFile): void {
  // Where a file came or went whole, its empty lines are read along with what they part.
  if (!file.language || file.old.length === 0 || file.next.length === 0) return;
  for (const side of ["old", "new"] as const) {
    for (const hunk of file.hunks) {
      const [from, to] = side === "old" ? [hunk.oldStart, hunk.oldEnd] : [hunk.newStart, hunk.newEnd];
      for (let line = from; line < to; line++) {
        if (!file.isOpen(side, line) || !isBlank(file.lines(side)[line])) continue;
        if (file.language.tabless && side === "new" && file.lines(side)[line].includes("\t")) continue;
        if (file.language.endings === "never" && file.lines(side)[line].endsWith("\r")) continue;
        const syntax = file.syntax(side);
        if (!syntax || printsText(file)) return;
        if (liesBetweenTokens(file, side, syntax, line)) file.set(side, line, "blank");
      }
    }
  }
}

/** Whether there is a line to prove. Cheap: nothing is parsed for it. */
export function hasBlank(file: ClassedFile): boolean {
  if (!file.language || file.old.length === 0 || file.next.length === 0) return false;
  const some = (side: Side, from: number, to: number) => {
    const lines = file.lines(side);
    for (let line = from; line < to; line++) if (isBlank(lines[line]) && file.isOpen(side, line)) return true;
    return false;
  };
  return file.hunks.some(
    ({ oldStart, oldEnd, newStart, newEnd }) => some("old", oldStart, oldEnd) || some("new", newStart, newEnd),
  );
}

function liesBetweenTokens(file: ClassedFile, side: Side, syntax: Syntax, line: number): boolean {
  const { tokens, lines, start, end, text } = syntax;
  const after = tokenAfter(syntax, lines[line]);
  const before = after - 1;
  if (before < 0) return false;
  if (after < tokens.length && start[tokens[after]] < lines[line + 1] - 1) return false;
  const gapEnd = after < tokens.length ? start[tokens[after]] : text.length;
  if (!PURE.test(text.slice(end[tokens[before]], gapEnd))) return false;
  if (isKind(syntax, tokens[before], EXACT) || (after < tokens.length && isKind(syntax, tokens[after], EXACT)))
    return false;
  // A line that goes on into the next: what it takes in is not there any more.
  if (/[\\`]\r?$/.test(file.lines(side)[line - 1] ?? "")) return false;
  // In Go an empty line parts a directive, or the text for C, from what it speaks of.
  if (syntax.language.id === "go" && isKind(syntax, tokens[before], COMMENT)) return false;
  // An order to a tool speaks of the line that follows.
  if (isOrder(syntax, tokens[before])) return false;
  // In Ruby a call that begins a line belongs to the line before it, unless that is empty.
  if (syntax.language.id === "ruby" && after < tokens.length && /^&?\./.test(tokenText(syntax, after))) return false;
  return !isHead(syntax, before);
}

/** Whether nothing but comments stands up to a token. */
function isHead(syntax: Syntax, token: number): boolean {
  const { tokens } = syntax;
  for (let i = 0; i <= token; i++) {
    if (!isKind(syntax, tokens[i], COMMENT)) return false;
  }
  return true;
}
