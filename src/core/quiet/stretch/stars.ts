import { COMMENT, isKind, lineAt, type Syntax, tokenAfter, tokenText } from "../../grammar/syntax";
import type { SharedLines } from "./stretch";

/**
 * A comment without the white space before the stars that its lines begin with: it says nothing, to programs and to those who make pages of comments. Any other line keeps what it begins with.
 *
 * @example behindStars("/* Ebb\n   * and flood. *\/") // "/* Ebb\n* and flood. *\/"
 */
export function behindStars(comment: string): string {
  return comment.startsWith("/*") ? comment.replace(/\n[ \t]+\*/g, "\n*") : comment;
}

/** Whether a token is the same comment on both sides but for what {@link behindStars} leaves out; places among the tokens of either side. */
export function sameBehindStars(old: Syntax, a: number, next: Syntax, b: number): boolean {
  if (!mayHaveStars(next) || !isKind(old, old.tokens[a], COMMENT) || !isKind(next, next.tokens[b], COMMENT))
    return false;
  return behindStars(tokenText(old, a)) === behindStars(tokenText(next, b));
}

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
