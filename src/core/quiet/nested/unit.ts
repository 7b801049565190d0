import { sizesOf } from "../../grammar/children";
import { COMMENT, isKind, lineAt, nodeText, type Syntax, tokenAfter, tokenText, typeOf } from "../../grammar/syntax";
import { firstThat } from "../../plain/first-that";
import { mayDiffer } from "../stretch/gaps";
import { sameButForIndent } from "../stretch/idle-space";
import { type Lines, rangeOf } from "../stretch/range";
import type { Nesting } from "./nesting";

/** Statements of one list that fill whole lines, with what stands behind them there. */
export interface Unit {
  syntax: Syntax;
  /** The list, and the first of the statements; the node behind the last. */
  list: number;
  first: number;
  end: number;
  lines: Lines;
}

/** The statements that begin on a line, 0-based, to where a line ends with one; null where none does. */
export function unitAt(syntax: Syntax, nesting: Nesting, line: number): Unit | null {
  const { tokens, parent, start, lines } = syntax;
  const sizes = sizesOf(syntax);
  let first = tokens[tokenAfter(syntax, lines[line])];
  if (first === undefined || lineAt(syntax, start[first]) !== line) return null;
  while (!isStatement(syntax, nesting, first)) {
    const above = parent[first];
    if (above < 0 || start[above] !== start[first]) return null;
    first = above;
  }
  let end = first + sizes[first];
  let last = lastLine(syntax, end);
  while (end < parent.length && parent[end] === parent[first] && lineAt(syntax, start[end]) === last) {
    if (!isStatement(syntax, nesting, end) && nodeText(syntax, end) !== ";") return null;
    end += sizes[end];
    last = lastLine(syntax, end);
  }
  const next = firstThat(tokens.length, (at) => tokens[at] >= end);
  if (next < tokens.length && start[tokens[next]] < lines[last + 1]) return null;
  return { syntax, list: parent[first], first, end, lines: { start: line, end: last + 1 } };
}

/** Whether a node is one of those that a list holds, and no word or bracket of it, nor a branch: that belongs to what it branches from. */
function isStatement(syntax: Syntax, nesting: Nesting, node: number): boolean {
  const above = syntax.parent[node];
  if (above < 0 || !nesting.lists(syntax, above) || isSign(syntax, node)) return false;
  return !(nesting.heads?.(syntax, node) || nesting.branches(syntax, node) || nesting.aside?.(syntax, node));
}

const LONGEST_SIGN = 20;

/** Whether a node is a word of the language, or a sign: a grammar calls them by what they are. */
export function isSign(syntax: Syntax, node: number): boolean {
  return syntax.end[node] - syntax.start[node] <= LONGEST_SIGN && typeOf(syntax, node) === nodeText(syntax, node);
}

/** The line on which the last token before a node ends. */
function lastLine(syntax: Syntax, node: number): number {
  const { tokens, end } = syntax;
  const last = tokens[firstThat(tokens.length, (at) => tokens[at] >= node) - 1];
  return lineAt(syntax, Math.max(syntax.start[last], end[last] - 1));
}

/** Whether two units are the same statements: the same tokens, in the same structure, with nothing but layout between them. */
export function isSameUnit(a: Unit, b: Unit): boolean {
  const [old, next] = [a.syntax, b.syntax];
  const size = a.end - a.first;
  if (size !== b.end - b.first) return false;
  const depth = next.depth[b.first] - old.depth[a.first];
  for (let n = 0; n < size; n++) {
    const [i, j] = [a.first + n, b.first + n];
    if (old.type[i] !== next.type[j] || old.depth[i] + depth !== next.depth[j]) return false;
  }
  const [left, right] = [rangeOf(old, a.lines), rangeOf(next, b.lines)];
  const count = left.said.length;
  if (count !== right.said.length) return false;
  const { placed } = next.language;
  for (let n = 0; n < count; n++) {
    const [x, y] = [left.said[n], right.said[n]];
    if (old.tokens[x] - a.first !== next.tokens[y] - b.first) return false;
    const text = tokenText(next, y);
    if (placed?.test(text) || (tokenText(old, x) !== text && !sameButForIndent(old, x, next, y))) return false;
    if (n > 0 && !mayDiffer(left, right, n)) return false;
  }
  return true;
}

/** The statements of a unit, as nodes; comments and signs between them are none. */
export function statementsOf(unit: Unit): number[] {
  return partsOf(unit).filter((at) => !isKind(unit.syntax, at, COMMENT) && !isSign(unit.syntax, at));
}

/** The comments between the statements of a unit, as nodes. */
export function commentsOf(unit: Unit): number[] {
  return partsOf(unit).filter((at) => isKind(unit.syntax, at, COMMENT));
}

function partsOf({ syntax, first, end }: Unit): number[] {
  const sizes = sizesOf(syntax);
  const parts: number[] = [];
  for (let at = first; at < end; at += sizes[at]) parts.push(at);
  return parts;
}
