import { childrenOf } from "../grammar/children";
import type { LanguageId } from "../grammar/languages";
import {
  COMMENT,
  isKind,
  lineAt,
  NAME,
  ofTypes,
  type Syntax,
  TEXT,
  tokenAfter,
  tokenText,
  typeOf,
} from "../grammar/syntax";

/** Nodes that define something as a whole: their place among others of their kind means nothing. */
const DEFINES =
  /(?:^|_)(?:function|method|class|interface|struct|enum|trait|impl|mod|module|namespace|constructor|record|union|type_alias)(?:_|$)|^(?:decorated_definition|type_declaration|type_definition)$/;
/** Nodes with such names that are no definitions. */
const DEFINES_NOT =
  /call|invocation|expression|_body|parameter|argument|heritage|_type$|_name$|modifier|list$|identifier|qualifier|namespace_use|_literal$|import|base_class|declarator|constant|assignment|variant|member|pattern|preproc/;
/** What may hold one definition: `export class …`, `const go = () => …`. */
const HOLDS =
  /^(?:export_statement|lexical_declaration|variable_declaration|variable_declarator|template_declaration)$/;
const HELD = /^(?:arrow_function|function_expression|class)$/;

/** Parts of a definition whose names are not its own. */
const ASIDE = /modifiers|annotation|attribute|decorator|parameter|heritage|superclass|argument/;

const defines = ofTypes((name) => DEFINES.test(name) && !DEFINES_NOT.test(name));
/** One that defines by its name, or is named so and is none, is asked no further. */
const mayHold = ofTypes((name) => HOLDS.test(name) && !DEFINES.test(name));
const isHeld = ofTypes((name) => HELD.test(name));
const isAside = ofTypes((name) => ASIDE.test(name));

/** Statements behind which nothing of the same block is reached. */
const ENDS = /^(?:(?:return|throw|raise|break|continue|goto|exit)(?:_statement|_expression)?|flow_control_statement)$/;
/** What ends a program, or throws, as a call: by how it begins. */
const EXITS: Partial<Record<LanguageId, RegExp>> = {
  bash: /^(?:(?:exit|return)\b|exec\s+[A-Za-z./"$])/,
  c: /^(?:_?exit|_Exit|abort|longjmp)\(/,
  cpp: /^(?:(?:std::)?(?:_?exit|_Exit|abort|terminate)|longjmp)\(/,
  csharp: /^(?:System\.)?Environment\.(?:Exit|FailFast)\(/,
  go: /^(?:os\.Exit|panic|log\.(?:Fatal|Panic)\w*|runtime\.Goexit)\(/,
  java: /^System\.exit\(/,
  javascript: /^process\.(?:exit|abort)\(/,
  typescript: /^process\.(?:exit|abort)\(/,
  tsx: /^process\.(?:exit|abort)\(/,
  php: /^(?:exit|die|__halt_compiler)\b/i,
  python: /^(?:(?:sys\.|os\._)?exit|quit)\(/,
  ruby: /^(?:exit!?|abort|raise|throw|fail)(?![\w.?=])/,
  rust: /^(?:(?:std::)?process::(?:exit|abort)\(|(?:panic|unreachable|todo|unimplemented)!)/,
};
/** So much of a call is looked at, in UTF-16 units. */
const LONGEST_EXIT = 40;
/** A block by itself: what leaves it leaves the one around it. */
const isPlainBlock = ofTypes((name) => /^(?:statement_block|compound_statement|block)$/.test(name));
/** So many blocks in blocks are looked into. */
const MOST_WITHIN = 50;
/** What takes over where a block is left by an error, or is not gone through. */
const takesOver = ofTypes((name) =>
  /^(?:rescue|ensure|else|elsif|(?:catch|except|except_group|finally|else|elif)_clause)$/.test(name),
);
/** Where a jump leads. */
const isLabel = ofTypes((name) => name === "labeled_statement");
const holdsStatements = ofTypes((name) =>
  /block|body|compound|statement_list|case|clause|^(?:program|module|source_file|translation_unit|then|else|ensure|rescue|begin|do|do_group|subshell)$/.test(
    name,
  ),
);
const mayExit = ofTypes((name) =>
  /^(?:command|call|identifier|(?:function_)?call_expression|macro_invocation|(?:method_)?invocation(?:_expression)?)$/.test(
    name,
  ),
);
const BRANCHES = /^(?:if|elif|while|unless|preproc_if|preproc_elif|conditional|ternary|switch|else_if|elsif)(?:_|$)/;
const endsBlock = ofTypes((name) => ENDS.test(name));
const isBranch = ofTypes((name) => BRANCHES.test(name));
const isStatement = ofTypes((name) => name === "expression_statement");
const isJoined = ofTypes((name) => name === "binary_expression");
/** What is joined by it to nothing is never asked. */
const NEVER_GOES_ON = /^(?:false|null|undefined|0|''|"")\s*&&/;

/** A node that defines something, with its name; null at the top level of a file. */
export interface NamedBlock {
  node: number;
  name: string;
}

export function isDefinition(syntax: Syntax, node: number): boolean {
  const { depth } = syntax;
  if (!(depth[node + 1] > depth[node])) return false;
  return defines(syntax, node) || (mayHold(syntax, node) && holdsOne(syntax, node));
}

const HOLDING = new WeakMap<Syntax, Map<number, boolean>>();

/** Whether a node that may hold a definition does; all that lies in it is gone through once. */
function holdsOne(syntax: Syntax, node: number): boolean {
  const known = HOLDING.get(syntax) ?? new Map<number, boolean>();
  HOLDING.set(syntax, known);
  let holds = known.get(node);
  if (holds === undefined) {
    const isOne = (at: number) =>
      (isHeld(syntax, at) && syntax.depth[at + 1] > syntax.depth[at]) || isDefinition(syntax, at);
    holds = childrenOf(syntax, node).some(isOne);
    known.set(node, holds);
  }
  return holds;
}

/** The innermost definition that a node lies in, itself aside. */
export function namedBlock(syntax: Syntax, node: number): NamedBlock | null {
  for (let at = syntax.parent[node]; at > 0; at = syntax.parent[at]) {
    const name = isDefinition(syntax, at) ? nameOf(syntax, at) : null;
    if (name !== null) return { node: at, name };
  }
  return null;
}

/** The name of the innermost definition that the first node of a line lies in; null at the top level, and on a line without a node. */
export function blockName(syntax: Syntax, line: number): string | null {
  const first = firstNodeOf(syntax, line);
  return first && (namedBlock(syntax, first.node)?.name ?? null);
}

/** Whether a line begins with code: not with a comment, and not within something that began above. */
export function isCodeLine(syntax: Syntax, line: number): boolean {
  const first = firstNodeOf(syntax, line);
  return first !== null && !isKind(syntax, syntax.tokens[first.token], COMMENT);
}

/** The name of a definition; null where that cannot be told. */
export function nameOf(syntax: Syntax, node: number): string | null {
  const token = nameToken(syntax, node);
  return token < 0 ? null : tokenText(syntax, token);
}

/** The token that is the first name among the parts of a definition; -1 when there is none. */
export function nameToken(syntax: Syntax, node: number): number {
  const { tokens, start, end, parent } = syntax;
  for (let t = tokenAfter(syntax, start[node]); t < tokens.length && start[tokens[t]] < end[node]; t++) {
    const token = tokens[t];
    if (!isKind(syntax, token, NAME)) continue;
    let steps = 0;
    for (let at = token; at !== node && at > 0; at = parent[at]) steps += isAside(syntax, at) ? 9 : 1;
    if (steps <= 3) return t;
  }
  return -1;
}

/** Tells of nodes whether they can never be reached: in a branch whose condition is false as it stands, or behind what leaves their block. */
export function deadNodes(syntax: Syntax): (node: number) => boolean {
  const { parent, start, end, text, depth } = syntax;
  const known = new Map<number, boolean>();
  /** Of a node, the first of its children that leaves it, and the first behind that to which something may jump. */
  const leaves = new Map<number, [leaving: number, label: number]>();
  const exits = EXITS[syntax.language.id];
  const isExit = (at: number) =>
    mayExit(syntax, at) && exits!.test(text.slice(start[at], Math.min(end[at], start[at] + LONGEST_EXIT)));
  const leaving = (above: number, within = 0): [number, number] => {
    const found = leaves.get(above);
    if (found !== undefined) return found;
    const isList = holdsStatements(syntax, above);
    const isLeft = (block: number) => {
      const [first, label] = leaving(block, within + 1);
      return Number.isFinite(first) && !Number.isFinite(label);
    };
    const ends = (node: number) => {
      // `exit();` and the like are wrapped once.
      const at = isStatement(syntax, node) && depth[node + 1] > depth[node] ? node + 1 : node;
      if (endsBlock(syntax, at)) return true;
      if (!isList) return false;
      return (
        (exits !== undefined && isExit(at)) || (within < MOST_WITHIN && isPlainBlock(syntax, node) && isLeft(node))
      );
    };
    // What leaves its block is itself reached as a whole.
    const children = endsBlock(syntax, above) ? [] : childrenOf(syntax, above);
    const first = children.find(ends) ?? Number.POSITIVE_INFINITY;
    const label = children.find((node) => node > first && isLabel(syntax, node)) ?? Number.POSITIVE_INFINITY;
    leaves.set(above, [first, label]);
    return [first, label];
  };
  const isBehind = (node: number, above: number) => {
    const [first, label] = leaving(above);
    return first < node && node < label && !takesOver(syntax, node);
  };
  /** Brackets and words that close a block are not what is reached in it. */
  const isReached = (node: number) => depth[node + 1] > depth[node] || isKind(syntax, node, NAME);
  const isDead = (node: number): boolean => {
    const above = parent[node];
    if (above < 0) return false;
    const before = known.get(node);
    if (before !== undefined) return before;
    const dead =
      (isJoined(syntax, above) &&
        NEVER_GOES_ON.test(text.slice(start[above], Math.min(end[above], start[above] + 30)))) ||
      (isBranch(syntax, above) && neverHolds(text.slice(start[above], Math.min(end[above], start[above] + 300)))) ||
      (isBehind(node, above) && isReached(node) && !isDefinition(syntax, node)) ||
      isDead(above);
    known.set(node, dead);
    return dead;
  };
  return isDead;
}

/** Whether a branch begins with a condition that is never met: `if (false) {`, `#if 0`, `while False:`, `if 0 && x`. */
function neverHolds(branch: string): boolean {
  return /^#?\s*\w+\s*(?:\(\s*)*(?:!\s*true|!\s*1|not\s+True|false|False|0+|nil|null|None|\$false|''|"")\s*(?:[){:\n;?&]|and\b|then\b|$)/.test(
    branch,
  );
}

/**
 * The outermost node that begins with the first token of code on a line, and that token; with a comment where nothing else begins there, null where nothing does.
 * A block that no bracket opens begins with its first statement, and is not it.
 */
export function firstNodeOf(syntax: Syntax, line: number): { node: number; token: number } | null {
  const { tokens, start, parent, lines } = syntax;
  let token = tokenAfter(syntax, lines[line]);
  if (start[tokens[token]] < lines[line]) token++;
  const first = token;
  const isThere = (at: number) => at < tokens.length && start[tokens[at]] < lines[line + 1];
  while (isThere(token) && isKind(syntax, tokens[token], COMMENT)) token++;
  if (!isThere(token)) token = first;
  if (!isThere(token)) return null;
  const leaf = tokens[token];
  let node = leaf;
  while (parent[node] > 0 && start[parent[node]] === start[leaf] && !isIndentedBlock(syntax, parent[node]))
    node = parent[node];
  return { node, token };
}

/** Whether a node is a block that is made by how deep its lines are: it begins with its first statement. */
export function isIndentedBlock(syntax: Syntax, node: number): boolean {
  return syntax.language.indented && typeOf(syntax, node) === "block";
}

/** Whether a text token covers the beginning of a line, and where it begins: a line before; -1 where none does. */
export function textFrom(syntax: Syntax, line: number): number {
  const node = syntax.tokens[tokenAfter(syntax, syntax.lines[line])];
  if (node === undefined || syntax.start[node] >= syntax.lines[line] || !isKind(syntax, node, TEXT)) return -1;
  return lineAt(syntax, syntax.start[node]);
}
