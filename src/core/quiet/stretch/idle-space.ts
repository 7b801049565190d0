import { COMMENT, isKind, lineAt, ofTypes, type Syntax, tokenAfter, tokenText } from "../../grammar/syntax";
import type { SharedLines } from "./shared-lines";

/**
 * A comment without the white space before the stars that its lines begin with: it says nothing, to programs and to those who make pages of comments. Any other line keeps what it begins with.
 *
 * @example behindStars("/* Ebb\n   * and flood. *\/") // "/* Ebb\n* and flood. *\/"
 */
function behindStars(comment: string): string {
  return comment.startsWith("/*") ? comment.replace(/\n[ \t]+\*/g, "\n*") : comment;
}

const isMarkedUp = ofTypes((name) => name === "jsx_text");

/**
 * Whether a token is the same on both sides but for white space within it that says nothing: before the stars of a comment, and before the lines of a text between marks of JSX, which is
 * read without it. Places among the tokens of either side.
 */
export function sameButForIndent(old: Syntax, a: number, next: Syntax, b: number): boolean {
  const both = (holds: (syntax: Syntax, node: number) => boolean) =>
    holds(old, old.tokens[a]) && holds(next, next.tokens[b]);
  if (both(isMarkedUp)) return unindented(tokenText(old, a)) === unindented(tokenText(next, b));
  if (!mayHaveStars(next) || !both((syntax, node) => isKind(syntax, node, COMMENT))) return false;
  return behindStars(tokenText(old, a)) === behindStars(tokenText(next, b));
}

const unindented = (text: string) => text.replace(/\n[ \t]+/g, "\n");

/** Whether a line of either side, 0-based, goes on with the same comment, which begins on a line that did not change. What stands on them is for the caller to compare. */
export function inSameComment(old: Syntax, i: number, next: Syntax, j: number, shared: SharedLines): boolean {
  if (!mayHaveStars(next)) return false;
  const [a, b] = [commentOver(old, i), commentOver(next, j)];
  if (a < 0 || b < 0) return false;
  const [above, below] = [lineAt(old, old.start[a]), lineAt(next, next.start[b])];
  const place = shared.old(above);
  const column = old.start[a] - old.lines[above];
  return place >= 0 && place === shared.next(below) && column === next.start[b] - next.lines[below];
}

/** In Go a comment may be a program in C. */
const mayHaveStars = ({ language }: Syntax) => language.id !== "go";

/** The comment that was opened above a line and holds all of it; -1 where there is none. */
function commentOver(syntax: Syntax, line: number): number {
  const { text, lines, start, end, tokens } = syntax;
  const token = tokenAfter(syntax, lines[line]);
  const node = tokens[token];
  if (node === undefined || start[node] >= lines[line] || !isKind(syntax, node, COMMENT)) return -1;
  if (!text.startsWith("/*", start[node])) return -1;
  const close = Math.min(lines[line + 1], text.length);
  return end[node] >= close || text.slice(end[node], close).trim() === "" ? node : -1;
}
