import { childrenOf } from "../../grammar/children";
import { isGivenToMacro } from "../../grammar/macros";
import { COMMENT, isKind, NAME, nodeText, type Syntax, tokenText } from "../../grammar/syntax";
import { type Brackets, names, type Signs, signsOf } from "./signs";

/** Parts behind which no comma may stand in all that reads the language: of what takes all the rest, not of what gives it. */
const isLastAnyway = names(/rest|splat_pattern|splat_parameter|variadic|base_field|remaining|block_argument/);
/** So far up the last part of a list is looked for. */
const FURTHEST = 1_000;

/**
 * The nodes of some tokens that say nothing where they stand: a comma behind the last of several, brackets around what is one without them. Those of
 * brackets only where both lie among the tokens. `first` and `last` are places among the tokens, end exclusive.
 *
 * @example // of `hold(\n  berth,\n)` the last comma; of `return (tide)` both brackets and the node that holds them, in Python and JavaScript
 */
export function idleNodes(syntax: Syntax, first: number, last: number): ReadonlySet<number> {
  const idle = new Set<number>();
  const signs = signsOf(syntax.language.id);
  if (!signs) return idle;
  for (let token = first; token < last; token++) {
    const node = syntax.tokens[token];
    if (syntax.end[node] - syntax.start[node] !== 1) continue;
    const text = tokenText(syntax, token);
    if (text === "," && isIdleComma(syntax, signs, token)) idle.add(node);
    else if (text === ";" && isIdleEnd(syntax, signs, token)) idle.add(node);
    else if (text === "{") for (const one of idleBlock(syntax, signs, token, last)) idle.add(one);
    else if (text === "(") for (const one of idleBrackets(syntax, signs, token, last)) idle.add(one);
  }
  return idle;
}

function isIdleComma(syntax: Syntax, signs: Signs, token: number): boolean {
  const { tokens, parent, language } = syntax;
  const node = tokens[token];
  const list = parent[node];
  if (list < 0 || !(signs.lists(syntax, list) || signs.tuples?.(syntax, list))) return false;
  let behind = token + 1;
  while (behind < tokens.length && isKind(syntax, tokens[behind], COMMENT)) behind++;
  if (behind >= tokens.length || parent[tokens[behind]] !== list || !/^[)\]}>]$/.test(tokenText(syntax, behind)))
    return false;
  const before = partBefore(syntax, token);
  if (before < 0 || !/[\p{L}\p{N}_"'`)\]}]$/u.test(nodeText(syntax, before).slice(-2))) return false;
  if (isLastAnyway(syntax, before)) return false;
  if (language.macros && isGivenToMacro(syntax, token)) return false;
  if (language.id === "python" && isPrinted(syntax, list) && commasIn(syntax, list) === 1) return false;
  return signs.lists(syntax, list) || commasIn(syntax, list) > 1;
}

/** What goes on with a statement on the line above it where no semicolon stands. */
const GOES_ON = /^(?:[([`+\-*/,.<>=%&|^?:;]|in$|instanceof$|as$|satisfies$)/;

/** Words that may begin something with what comes on the next line. */
const MAY_BEGIN =
  /^(?:abstract|accessor|async|await|declare|enum|get|global|interface|let|module|namespace|new|of|readonly|set|static|type|using|yield)$/;
const isFor = names(/^for(?:_in)?_statement$/);

/** Whether a semicolon ends what ends there anyway: where its line does, or a block. */
function isIdleEnd(syntax: Syntax, { ended }: Signs, token: number): boolean {
  const { tokens, parent, start, end, text } = syntax;
  const above = parent[tokens[token]];
  if (!ended || token === 0 || above < 0 || isFor(syntax, parent[above])) return false;
  const isEnd = ended.node(syntax, above) && end[above] === end[tokens[token]];
  if (!(isEnd || ended.parts(syntax, above)) || MAY_BEGIN.test(tokenText(syntax, token - 1))) return false;
  let behind = token + 1;
  while (behind < tokens.length && isKind(syntax, tokens[behind], COMMENT)) behind++;
  if (behind >= tokens.length) return true;
  const next = tokenText(syntax, behind);
  const isOnItsLine = !text.slice(end[tokens[token]], start[tokens[behind]]).includes("\n");
  return next === "}" || !(isOnItsLine || GOES_ON.test(next));
}

/** The brackets of a block that holds one statement which could stand without them, and the block. */
function idleBlock(syntax: Syntax, { blocks }: Signs, token: number, last: number): number[] {
  const { tokens, parent, end } = syntax;
  const open = tokens[token];
  const block = parent[open];
  if (!blocks || block < 0 || !blocks.node(syntax, block) || !blocks.within(syntax, parent[block])) return [];
  const children = childrenOf(syntax, block);
  if (children.length !== 3 || !blocks.around(syntax, children[1])) return [];
  const close = children[2];
  return nodeText(syntax, close) === "}" && end[close] <= end[tokens[last - 1]] ? [block, open, close] : [];
}

/** What `print` is given: an older Python prints it as a list. */
function isPrinted(syntax: Syntax, list: number): boolean {
  const { start, text } = syntax;
  return /\bprint[ \t]*$/.test(text.slice(Math.max(0, start[list] - 20), start[list]));
}

/** The part of a list that a comma stands behind; -1 where none does. */
function partBefore({ tokens, parent, depth, kinds, type }: Syntax, token: number): number {
  let before = token - 1;
  while (before >= 0 && (kinds[type[tokens[before]]] & COMMENT) !== 0) before--;
  if (before < 0) return -1;
  let part = tokens[before];
  for (let steps = 0; depth[part] > depth[tokens[token]]; part = parent[part]) if (++steps > FURTHEST) return -1;
  return parent[part] === parent[tokens[token]] ? part : -1;
}

function commasIn(syntax: Syntax, list: number): number {
  return childrenOf(syntax, list).filter((child) => nodeText(syntax, child) === ",").length;
}

/** The brackets that one opens, and the nodes that are nothing but them; none where they say something. */
function idleBrackets(syntax: Syntax, signs: Signs, token: number, last: number): number[] {
  const { tokens, parent, end } = syntax;
  const open = tokens[token];
  const holder = parent[open];
  if (holder < 0) return [];
  // What a comment says of brackets is said of them: `/** @type {Berth} */ (slot)`.
  if (token > 0 && isKind(syntax, tokens[token - 1], COMMENT)) return [];
  const { brackets, bare } = signs;
  const isBare = bare?.(syntax, holder);
  const isOne = brackets?.node(syntax, holder) && saysNothing(syntax, brackets, holder);
  const children = isBare || isOne || isOnlyParameter(syntax, holder) ? childrenOf(syntax, holder) : [];
  const close = children.at(-1);
  if (close === undefined || nodeText(syntax, close) !== ")" || end[close] > end[tokens[last - 1]]) return [];
  if (isBare) return [open, close];
  if (isOne) return [holder, open, close];
  // A parameter with a type of its own, or a value, is more than a name.
  const wrapped = children.length === 3 ? children[1] : open;
  if (isKind(syntax, wrapped, NAME)) return [holder, open, close];
  const inner = childrenOf(syntax, wrapped);
  return inner.length === 1 && isKind(syntax, inner[0], NAME) ? [holder, open, wrapped, close] : [];
}

const isArrow = names(/^arrow_function$/);
const isParameters = names(/^formal_parameters$/);

/** `(slot) => …`, which is `slot => …`. */
function isOnlyParameter(syntax: Syntax, holder: number): boolean {
  return isParameters(syntax, holder) && isArrow(syntax, syntax.parent[holder]);
}

/** Whether brackets around one thing say nothing where they stand: the structure without them is told by comparing it. */
function saysNothing(syntax: Syntax, { within, assigns, keeps, asks }: Brackets, node: number): boolean {
  const above = syntax.parent[node];
  if (above < 0 || !within(syntax, above)) return false;
  // The first part begins where all of it does.
  if (assigns(syntax, above) && syntax.start[above] === syntax.start[node]) return false;
  const held = childrenOf(syntax, node);
  if (held.length !== 3 || keeps(syntax, held[1])) return false;
  if (!asks) return true;
  const isAsked = (one: number) =>
    isBinary(syntax, one) && childrenOf(syntax, one).some((part) => asks.test(nodeText(syntax, part)));
  return !isAsked(above) && !isAsked(held[1]);
}

const isBinary = names(/^binary_expression$/);

/** How many of a node's own kind it lies in that say nothing: so much less deep it lies without them. */
export function idleAbove(syntax: Syntax, idle: ReadonlySet<number>): (node: number) => number {
  // They were put in as they stand in the text.
  const [first] = idle;
  if (first === undefined) return () => 0;
  const known = new Map<number, number>();
  return (node) => {
    const passed: number[] = [];
    let at = node;
    for (; at > first && !known.has(at); at = syntax.parent[at]) passed.push(at);
    let above = known.get(at) ?? 0;
    for (const one of passed.reverse()) {
      above = (known.get(syntax.parent[one]) ?? 0) + (idle.has(syntax.parent[one]) ? 1 : 0);
      known.set(one, above);
    }
    return above;
  };
}
