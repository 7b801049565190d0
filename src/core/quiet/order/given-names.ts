import { COMMENT, isKind, type Syntax, typeOf } from "../../grammar/syntax";
import { compared } from "../names";

/** Of so many UTF-16 units of a member is told what it gives a name to. */
const HEAD = 300;
/** What stands before a definition and says something of it. */
const MARKS = /^(?:\s*@.*\n)+/;
/** Where what a member gives a name to has been said. */
const SAID = /\b(?:extends|implements)\b|[(={:;<]/;
/** What is given to a part of something takes no name from another. */
const PARTS = /[\p{L}\p{N}_$]+(?:\s*\.\s*[\p{L}\p{N}_$]+)+/gu;
/** What only says of which type something is takes no place: of two of one name both count. Nor does what is given on. */
const GIVES_NONE =
  /^(?:(?:interface|type_alias|ambient)_declaration|(?:function|(?:abstract_)?method|property)_signature|return_statement)$/;
const CALLED = /^(?:export\s+default\s+)?[\p{L}\p{N}_$]+\s*[(;]/u;
/** What may define things further in, such as a condition. */
const HOLDS_MORE = /^(?:if|for|while|with|try|match|begin|case|unless|until|switch)/;
const DEFINED_IN =
  /\b(?:def|class|function|import|as|const|let|var)\s+([\p{L}\p{N}_$]{1,200})|(?<![\p{L}\p{N}_$])([\p{L}\p{N}_$]{1,200})\s*=(?!=)/gu;

/** The words that a member may give a name to, by what its text looks like: its first words, but for what they are given on to. Of one that gives none, none. */
export function givenBy(syntax: Syntax, node: number): Iterable<string> {
  const { text, start, end } = syntax;
  const type = typeOf(syntax, node);
  if (isKind(syntax, node, COMMENT) || GIVES_NONE.test(type)) return [];
  const all = text.slice(start[node], end[node]);
  if (HOLDS_MORE.test(type))
    return [...all.matchAll(DEFINED_IN)].map(([, defined, given]) => compared(syntax.language, defined ?? given));
  if (/^(?:expression|export)_statement$/.test(type) && CALLED.test(all)) return [];
  const first = all.slice(0, HEAD).replace(MARKS, "");
  const head = type.includes("import") ? first : first.slice(0, SAID.exec(first)?.index).replace(PARTS, "");
  return new Set(compared(syntax.language, head).match(/[\p{L}\p{N}_$]+/gu));
}
