import { COMMENT, isKind, lineAt, type Syntax, tokenAfter, typeOf } from "../../grammar/syntax";

const BLOCK = /^(?:block|module)$/;
/** What goes on with the statement that it belongs to, and stands as far to the right as that. */
const CLAUSE = /^(?:elif|else|except|except_group|finally)_clause$/;

const even = new WeakMap<Syntax, boolean>();

/**
 * Whether the statements of each block of Python begin alike, by the same spaces and tabs, and deeper than what the block belongs to, and what goes on with a
 * statement as deep as that. Where they do not, the language refuses the text and the grammar forgives it: nothing that it says of depth is proven then.
 */
export function hasEvenBlocks(syntax: Syntax): boolean {
  const known = even.get(syntax);
  if (known !== undefined) return known;
  const all = tellEven(syntax);
  even.set(syntax, all);
  return all;
}

function tellEven(syntax: Syntax): boolean {
  const { start, parent } = syntax;
  const indents = new Map<number, string>();
  for (let node = 0; node < start.length; node++) {
    const above = parent[node];
    if (above < 0) continue;
    const type = typeOf(syntax, above);
    const isInBlock = BLOCK.test(type);
    if (!isInBlock && type !== "decorated_definition" && !CLAUSE.test(typeOf(syntax, node))) continue;
    const indent = indentOf(syntax, node);
    // What stands behind something else on its line has no column of its own.
    if (indent === null || isKind(syntax, node, COMMENT)) continue;
    // Of anything else, such as a form feed, nobody sees how deep it is.
    if (!/^[ \t]*$/.test(indent)) return false;
    if (!isInBlock) {
      if (indent !== (indentOf(syntax, above) ?? indent)) return false;
      continue;
    }
    const first = indents.get(above);
    if (first === undefined) {
      if (!isDeeper(syntax, indent, above)) return false;
      indents.set(above, indent);
    } else if (indent !== first) return false;
  }
  return true;
}

function isDeeper(syntax: Syntax, indent: string, block: number): boolean {
  const above = syntax.parent[block];
  if (above < 0) return indent === "";
  const outer = indentOf(syntax, above);
  return outer === null || (indent.length > outer.length && indent.startsWith(outer));
}

/** What a node's line begins with; null where something stands before the node. */
function indentOf(syntax: Syntax, node: number): string | null {
  const { start, lines, text, tokens } = syntax;
  const line = lines[lineAt(syntax, start[node])];
  if (start[tokens[tokenAfter(syntax, line)]] !== start[node]) return null;
  return text.slice(line, start[node]).replace(/^\ufeff/, "");
}
