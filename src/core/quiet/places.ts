import { childrenOf } from "../grammar/children";
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

/**
 * The node that stands on a line, as whole as it begins there; where the line lies apart from all changes, what was left whole there, in which it is. Null where it begins with a
 * comment, or within a text, and where it says nothing.
 */
export function standingOn(syntax: Syntax, line: number): number | null {
  const first = firstNodeOf(syntax, line);
  if (first) return isKind(syntax, syntax.tokens[first.token], COMMENT) ? null : first.node;
  const { lines, start, text, tokens } = syntax;
  const whole = tokens[tokenAfter(syntax, lines[line])];
  if (whole === undefined || start[whole] >= lines[line] || isKind(syntax, whole, TEXT | COMMENT)) return null;
  return text.slice(lines[line], lines[line + 1]).trim() === "" ? null : whole;
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
