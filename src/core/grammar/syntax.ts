import type { Tree } from "web-tree-sitter";
import { endWhereTheySeem } from "./heredocs";
import type { Language } from "./languages";

/**
 * A text as its grammar reads it: all nodes of the tree in the order in which they begin, flat, and those of them that are tokens. Places
 * are in UTF-16 units, 0-based, ends exclusive. Texts (strings, comments, templates, heredocs, regular expressions …) are one token each,
 * whatever stands in them.
 */
export interface Syntax {
  language: Language;
  text: string;
  /** Of each node: its type (a number that {@link Syntax.typeName} names), how deep it lies, where it begins and ends, and its parent. */
  type: Uint16Array;
  depth: Uint16Array;
  start: Int32Array;
  end: Int32Array;
  parent: Int32Array;
  /** The nodes that are tokens, in order: places in the lists above. */
  tokens: Int32Array;
  /** Where each line of the text begins; one more entry than there are lines. */
  lines: Int32Array;
  typeName: (type: number) => string;
  /** Of each type: what it is to us. */
  kinds: Uint8Array;
  /** Of each node, where they were asked for: the field of its parent that it is, a number that `fieldName` names; 0 for none. */
  field?: Uint16Array;
  fieldName?: (field: number) => string;
}

/** A type of node that is a text: kept byte for byte. */
export const TEXT = 1;
/** A type that is a comment. It is a text, too. */
export const COMMENT = 2;
/** A type that names something. */
export const NAME = 4;
/** A text beside which even the white space has a meaning. */
export const EXACT = 8;

const COMMENTS = /^(?:html_|line_|block_|doc_|multiline_)?comment$/;
const TEXTS =
  /^(?:.*string(?:_literal|_expression|_value|_scalar)?|.*_string(?:_.*)?|string_.*|template_string|regex.*|.*regex|.*char(?:acter)?(?:_literal)?|character|jsx_text|text|raw_text|.*heredoc.*|.*nowdoc.*|.*_scalar|hash_bang_line|shebang.*|token_tree|macro_definition|uninterpreted|subshell_literal|shell_command_expression|plain_value|delimited_symbol)$/;
/** Composites that have `string` in their names and are no text. */
const NO_TEXTS = /^(?:concatenated_string|string_array|template_substitution|string_conversion|program_text)$/;
/** In PHP a type in brackets that goes over several lines is a constant, and turns nothing into that type. */
const EXACTS = /heredoc|nowdoc|block_scalar|uninterpreted|^cast_type$/;

/** The kinds of a grammar's types, by their names. */
export function kindsOf(language: Language, types: readonly (string | null)[]): Uint8Array {
  return Uint8Array.from(types, (name) => {
    if (!name || !/^\w+$/.test(name)) return 0;
    let kind = 0;
    if (COMMENTS.test(name)) kind |= TEXT | COMMENT;
    else if ((TEXTS.test(name) && !NO_TEXTS.test(name)) || language.texts?.test(name)) kind |= TEXT;
    if (EXACTS.test(name)) kind |= EXACT;
    if (language.identifiers?.test(name)) kind |= NAME;
    return kind;
  });
}

/** More nodes than this are not read: such a text proves nothing. */
const MOST_NODES = 3_000_000;

/** Parts of a text that are asked about, as pairs of places: start, end, start, end … ascending. */
export type Interest = readonly number[];

/** Nodes of so few UTF-16 units are read to their tokens wherever they lie: names, declarations of imports, calls. */
export const SMALL = 80;

/**
 * Reads a tree of web-tree-sitter; null when the text has errors, or more nodes than anyone would look at, and where a text within it ends elsewhere. Where `interest` is given, nodes
 * that lie apart from it are not taken apart, unless they are small: each of those stands as one token of its own type. With `fieldName` the
 * fields are read, too, errors are let be, and texts are taken apart, since names may stand in them: such a syntax shows, and proves nothing.
 */
export function readTree(
  tree: Tree,
  text: string,
  language: Language,
  typeName: (type: number) => string,
  kinds: Uint8Array,
  interest: Interest | null = null,
  fieldName: ((field: number) => string) | null = null,
): Syntax | null {
  if (!fieldName && (tree.rootNode.hasError || !endWhereTheySeem(language.id, text))) return null;
  const cursor = tree.walk();
  const nodes = new Nodes();
  const fields: number[] = [];
  let depth = 0;
  let parent = -1;
  let near = 0;
  try {
    for (;;) {
      const type = cursor.nodeTypeId;
      const start = cursor.startIndex;
      const end = cursor.endIndex;
      const at = nodes.add(type, depth, start, end, parent);
      if (fieldName) fields.push(cursor.currentFieldId);
      if (at >= MOST_NODES || depth > 60_000) return null;
      let apart = false;
      if (interest && end - start > SMALL) {
        while (near < interest.length && interest[near + 1] < start) near += 2;
        apart = near >= interest.length || interest[near] > end;
      }
      const whole = (kinds[type] & (fieldName ? COMMENT : TEXT)) !== 0;
      if (!apart && !whole && cursor.gotoFirstChild()) {
        parent = at;
        depth++;
        continue;
      }
      nodes.token(at);
      while (!cursor.gotoNextSibling()) {
        if (!cursor.gotoParent()) {
          const syntax = nodes.syntax(language, text, typeName, kinds);
          return fieldName ? { ...syntax, field: Uint16Array.from(fields), fieldName } : syntax;
        }
        parent = nodes.parentOf(parent);
        depth--;
      }
    }
  } finally {
    cursor.delete();
  }
}

/** Lists that grow. */
class Nodes {
  private size = 0;
  private tokenCount = 0;
  private types = new Uint16Array(1024);
  private depths = new Uint16Array(1024);
  private places = new Int32Array(3 * 1024);
  private tokens = new Int32Array(1024);

  add(type: number, depth: number, start: number, end: number, parent: number): number {
    if (this.size === this.types.length) {
      this.types = grown(this.types, new Uint16Array(2 * this.size));
      this.depths = grown(this.depths, new Uint16Array(2 * this.size));
      this.places = grown(this.places, new Int32Array(6 * this.size));
    }
    this.types[this.size] = type;
    this.depths[this.size] = depth;
    this.places[3 * this.size] = start;
    this.places[3 * this.size + 1] = end;
    this.places[3 * this.size + 2] = parent;
    return this.size++;
  }

  token(node: number): void {
    if (this.tokenCount === this.tokens.length) this.tokens = grown(this.tokens, new Int32Array(2 * this.tokenCount));
    this.tokens[this.tokenCount++] = node;
  }

  parentOf(node: number): number {
    return this.places[3 * node + 2];
  }

  syntax(language: Language, text: string, typeName: (type: number) => string, kinds: Uint8Array): Syntax {
    const column = (offset: number) => {
      const result = new Int32Array(this.size);
      for (let i = 0; i < this.size; i++) result[i] = this.places[3 * i + offset];
      return result;
    };
    return {
      language,
      text,
      typeName,
      kinds,
      lines: lineStarts(text),
      type: this.types.slice(0, this.size),
      depth: this.depths.slice(0, this.size),
      start: column(0),
      end: column(1),
      parent: column(2),
      tokens: this.tokens.slice(0, this.tokenCount),
    };
  }
}

function grown<T extends Uint16Array | Int32Array>(old: T, larger: T): T {
  larger.set(old);
  return larger;
}

/** Where each line of a text begins, and one entry more for where a line behind the last would. */
export function lineStarts(text: string): Int32Array {
  const starts = [0];
  for (let at = text.indexOf("\n"); at >= 0; at = text.indexOf("\n", at + 1)) starts.push(at + 1);
  starts.push(text.length + 1);
  return Int32Array.from(starts);
}

/** The line, 0-based, on which a place of the text lies. */
export function lineAt({ lines }: Syntax, place: number): number {
  let low = 0;
  let high = lines.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (lines[middle] <= place) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** The first token that ends behind a place; the number of tokens when there is none. */
export function tokenAfter({ tokens, end }: Syntax, place: number): number {
  let low = 0;
  let high = tokens.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (end[tokens[middle]] > place) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** The text of a token, given by its place among the tokens. */
export function tokenText({ text, start, end, tokens }: Syntax, token: number): string {
  return text.slice(start[tokens[token]], end[tokens[token]]);
}

/** The text of a node. */
export function nodeText({ text, start, end }: Syntax, node: number): string {
  return text.slice(start[node], end[node]);
}

/** What stands between a token and the one before it; for the number of tokens, what stands behind the last. */
export function gapBefore({ text, start, end, tokens }: Syntax, token: number): string {
  const from = token > 0 ? end[tokens[token - 1]] : 0;
  return text.slice(from, token < tokens.length ? start[tokens[token]] : text.length);
}

/** The name of a node's type. */
export function typeOf(syntax: Syntax, node: number): string {
  return syntax.typeName(syntax.type[node]);
}

/**
 * Tells of nodes whether the name of their type is one of some: each type of a grammar is looked at once.
 *
 * @example const isCall = ofTypes((name) => /call/.test(name)); // isCall(syntax, node)
 */
export function ofTypes(holds: (name: string) => boolean): (syntax: Syntax, node: number) => boolean {
  /** By the kinds of a grammar: of each type 0 for not yet known, 1 for no, 2 for yes. */
  const known = new WeakMap<Uint8Array, Uint8Array>();
  return (syntax, node) => {
    const { kinds, type } = syntax;
    let types = known.get(kinds);
    if (!types) {
      types = new Uint8Array(kinds.length);
      known.set(kinds, types);
    }
    const of = type[node];
    if (types[of] > 0) return types[of] === 2;
    const is = holds(typeOf(syntax, node));
    if (of < types.length) types[of] = is ? 2 : 1;
    return is;
  };
}

/** Whether a node's type is of a kind, such as {@link TEXT}. */
export function isKind({ kinds, type }: Syntax, node: number, kind: number): boolean {
  return (kinds[type[node]] & kind) !== 0;
}

/** Whether a line begins within a text or comment that was opened on a line before it. */
export function beginsWithinText(syntax: Syntax, line: number): boolean {
  const place = syntax.lines[line];
  const node = syntax.tokens[tokenAfter(syntax, place)];
  return node !== undefined && syntax.start[node] < place && isKind(syntax, node, TEXT);
}
