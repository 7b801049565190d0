import { childrenOf } from "../grammar/children";
import type { LanguageId } from "../grammar/languages";
import { isGivenToMacro } from "../grammar/macros";
import { COMMENT, isKind, NAME, nodeText, ofTypes, type Syntax, tokenText } from "../grammar/syntax";

type OfType = ReturnType<typeof ofTypes>;

/** Of a language, which signs say nothing. What is missing here says something. */
interface Signs {
  /** Nodes in which a comma behind the last part says nothing. */
  lists: OfType;
  /** The same where there are two commas or more: one alone makes a list of what would be none. */
  tuples?: OfType;
  /** Nodes that are brackets around one thing, and nodes within which those say nothing. */
  brackets?: Brackets;
  /** Nodes that are brackets around several, with or without. */
  bare?: OfType;
  /** Nodes that are blocks, what one says nothing around when that is all it holds, and nodes that hold either. */
  blocks?: { node: OfType; around: OfType; within: OfType };
  /** Nodes that end where their line does, also without a semicolon; and nodes whose parts do, with a comma as well. */
  ended?: { node: OfType; parts: OfType };
  /** Nodes that are plain texts, and what within one means something else in other quotes. `escapes`: a backslash means the same in both. */
  quotes?: { node: OfType; not: RegExp; escapes?: true };
}

interface Brackets {
  node: OfType;
  within: OfType;
  /** Of those, the ones whose first part they say something around: `(berth): int = 1` declares nothing. */
  assigns: OfType;
  /** What they are needed around. */
  keeps: OfType;
  /** Operators that ask for them, whatever a grammar forgives. */
  asks?: RegExp;
}

const names = (pattern: RegExp): OfType => ofTypes((name) => pattern.test(name));

/** Statements that declare nothing: what is declared in a block is known in it alone. */
const STATEMENTS =
  /^(?:expression|return|throw|break|continue|if|for|for_in|foreach|enhanced_for|while|do|switch|try|echo)_statement$/;
const BRANCHES = /^(?:(?:if|for|for_in|foreach|enhanced_for|while|do)_statement|else_clause|else_if_clause)$/;
const blocks = (node: RegExp) => ({ node: names(node), around: names(STATEMENTS), within: names(BRANCHES) });

const SCRIPT: Signs = {
  lists: names(
    /^(?:arguments|array|object|formal_parameters|object_pattern|array_pattern|named_imports|export_clause|enum_body|tuple_type|type_parameters)$/,
  ),
  brackets: {
    node: names(/^parenthesized_(?:expression|type)$/),
    within: names(
      /^(?:parenthesized_expression|type_(?:annotation|arguments|alias_declaration)|union_type|arguments|array|pair|variable_declarator|assignment_expression|augmented_assignment_expression|return_statement|arrow_function|binary_expression|ternary_expression)$/,
    ),
    assigns: names(/^(?:assignment_expression|augmented_assignment_expression|arrow_function|pair)$/),
    // An object would be a block, and a comma would part two.
    keeps: names(/^(?:object|sequence_expression|comment)$/),
    asks: /^(?:\*\*|\?\?|in)$/,
  },
  quotes: { node: names(/^string$/), not: /[\r\n]/, escapes: true },
  blocks: blocks(/^statement_block$/),
  ended: {
    node: names(
      /^(?:(?:expression|return|throw|break|continue|import|export|debugger|do)_statement|(?:lexical|variable|type_alias)_declaration)$/,
    ),
    parts: names(/^(?:object_type|interface_body)$/),
  },
};

const BY_LANGUAGE: Partial<Record<LanguageId, Signs>> = {
  javascript: SCRIPT,
  typescript: SCRIPT,
  tsx: SCRIPT,
  python: {
    lists: names(/^(?:argument_list|parameters|list|set|dictionary|import_from_statement)$/),
    tuples: names(/^tuple$/),
    brackets: {
      node: names(/^parenthesized_expression$/),
      within: names(
        /^(?:parenthesized_expression|argument_list|keyword_argument|default_parameter|list|pair|assignment|augmented_assignment|return_statement|raise_statement|assert_statement|if_statement|elif_clause|while_statement|for_statement|not_operator|boolean_operator|comparison_operator|binary_operator|conditional_expression)$/,
      ),
      assigns: names(/^(?:assignment|augmented_assignment|for_statement|pair)$/),
      keeps: names(/yield|named_expression|generator|splat|comment/),
    },
    bare: names(/^import_from_statement$/),
    quotes: { node: names(/^string$/), not: /(?!)/, escapes: true },
  },
  ruby: { lists: names(/^(?:argument_list|array|hash)$/), quotes: { node: names(/^string$/), not: /[\\#]/ } },
  php: {
    lists: names(/^(?:arguments|array_creation_expression|formal_parameters)$/),
    blocks: blocks(/^compound_statement$/),
    quotes: { node: names(/^(?:encapsed_)?string$/), not: /[\\$]/ },
  },
  css: { lists: names(/(?!)/), quotes: { node: names(/^string_value$/), not: /[\r\n]/, escapes: true } },
  go: { lists: names(/^(?:argument_list|parameter_list|literal_value)$/) },
  rust: {
    lists: names(
      /^(?:arguments|parameters|array_expression|field_declaration_list|ordered_field_declaration_list|field_initializer_list|enum_variant_list|use_list)$/,
    ),
    tuples: names(/^tuple_(?:expression|type)$/),
  },
  java: { lists: names(/^array_initializer$/), blocks: blocks(/^block$/) },
  csharp: {
    lists: names(/^(?:initializer_expression|enum_member_declaration_list)$/),
    blocks: blocks(/^block$/),
  },
  c: { lists: names(/^(?:initializer_list|enumerator_list)$/) },
  cpp: { lists: names(/^(?:initializer_list|enumerator_list)$/) },
};

/** Parts behind which no comma may stand in all that reads the language. */
const isLastAnyway = names(/rest|splat|spread|variadic|base_field|remaining|block_argument/);
/** So far up the last part of a list is looked for. */
const FURTHEST = 1_000;

/** Whether a language knows signs that say nothing. */
export function knowsIdleSigns(language: LanguageId): boolean {
  return BY_LANGUAGE[language] !== undefined;
}

/**
 * The nodes of some tokens that say nothing where they stand: a comma behind the last of several, brackets around what is one without them. Those of
 * brackets only where both lie among the tokens. `first` and `last` are places among the tokens, end exclusive.
 *
 * @example // of `hold(\n  berth,\n)` the last comma; of `return (tide)` both brackets and the node that holds them, in Python and JavaScript
 */
export function idleNodes(syntax: Syntax, first: number, last: number): ReadonlySet<number> {
  const idle = new Set<number>();
  const signs = BY_LANGUAGE[syntax.language.id];
  if (!signs) return idle;
  for (let token = first; token < last; token++) {
    const node = syntax.tokens[token];
    if (syntax.end[node] - syntax.start[node] !== 1) continue;
    const text = tokenText(syntax, token);
    if (text === "," && (isIdleComma(syntax, signs, token) || isIdleEnd(syntax, signs, token))) idle.add(node);
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

/** Whether a semicolon ends what ends there anyway: where its line does, or a block. Behind the parts of a type a comma does the same. */
function isIdleEnd(syntax: Syntax, { ended }: Signs, token: number): boolean {
  const { tokens, parent, start, end, text } = syntax;
  const above = parent[tokens[token]];
  if (!ended || token === 0 || above < 0 || isFor(syntax, parent[above])) return false;
  const isEnd = ended.node(syntax, above) && end[above] === end[tokens[token]] && tokenText(syntax, token) === ";";
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
  const isBare = bare?.(syntax, holder) ?? false;
  const isOne = brackets !== undefined && brackets.node(syntax, holder) && saysNothing(syntax, brackets, holder);
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

/** Whether two tokens are one plain text in other quotes. Places among the tokens of either side. */
export function sameInQuotes(old: Syntax, a: number, next: Syntax, b: number): boolean {
  const quotes = BY_LANGUAGE[next.language.id]?.quotes;
  if (!quotes?.node(old, old.tokens[a]) || !quotes.node(next, next.tokens[b])) return false;
  if (isCharset(old, old.tokens[a]) || isCharset(next, next.tokens[b])) return false;
  const [left, right] = [unquoted(tokenText(old, a)), unquoted(tokenText(next, b))];
  if (!left || !right || left.before !== right.before || left.quotes !== right.quotes) return false;
  if (quotes.not.test(left.within) || quotes.not.test(right.within)) return false;
  if (!/['"]/.test(left.within) && left.within === right.within) return true;
  // A quote is itself behind a backslash, in both kinds; not so in texts with letters before them, or between marks.
  if (!quotes.escapes || left.before !== "" || isMarked(old, old.tokens[a]) || isMarked(next, next.tokens[b]))
    return false;
  return bare(left.within) === bare(right.within);
}

/** The quotes within a text without the backslashes before them; all else behind one stays as it is. */
function bare(within: string): string {
  return within.replace(/\\([\s\S])/g, (all, sign) => (sign === "'" || sign === '"' ? sign : all));
}

const within = (type: OfType) => (syntax: Syntax, node: number) => type(syntax, syntax.parent[node]);
const isCharset = within(names(/^charset_statement$/));
const isMarked = within(names(/^jsx_attribute$/));

/** A text without its quotes: what stands before them, what is within, and how many there are at an end. */
function unquoted(text: string): { before: string; within: string; quotes: number } | null {
  const found = /^([a-z]{0,3})("""|'''|"|')/i.exec(text);
  if (!found) return null;
  const [head, before, quote] = found;
  if (text.length < head.length + quote.length || !text.endsWith(quote)) return null;
  return { before, within: text.slice(head.length, text.length - quote.length), quotes: quote.length };
}

/** How many of a node's own kind it lies in that say nothing: so much less deep it lies without them. */
export function idleAbove(syntax: Syntax, idle: ReadonlySet<number>): (node: number) => number {
  if (idle.size === 0) return () => 0;
  const first = Math.min(...idle);
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
