import { type Syntax, tokenAfter } from "../../grammar/syntax";
import { idleNodes } from "./idle-signs";

/** Lines, 0-based, end exclusive. */
export interface Lines {
  start: number;
  end: number;
}

/** Tokens of a stretch, `first` to `last`, end exclusive, and where its lines begin and end in the text. */
export interface Range {
  syntax: Syntax;
  first: number;
  last: number;
  from: number;
  to: number;
  /** Nodes that say nothing, and the tokens of all others. */
  idle: ReadonlySet<number>;
  said: number[];
}

export function rangeOf(syntax: Syntax, { start, end }: Lines): Range {
  const from = syntax.lines[start];
  const to = syntax.lines[end];
  const first = tokenAfter(syntax, from);
  let last = first;
  while (last < syntax.tokens.length && syntax.start[syntax.tokens[last]] < to) last++;
  return { syntax, first, last, from, to, idle: NONE, said: Array.from({ length: last - first }, (_, n) => first + n) };
}

const NONE: ReadonlySet<number> = new Set();

/** The same without what says nothing. */
export function withoutIdle(range: Range): Range {
  const { syntax, first, last, said } = range;
  const idle = idleNodes(syntax, first, last);
  return { ...range, idle, said: said.filter((token) => !idle.has(syntax.tokens[token])) };
}
