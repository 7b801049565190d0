import { childrenOf } from "../grammar/children";
import { COMMENT, isKind, lineAt, type Syntax, typeOf } from "../grammar/syntax";
import { addTo } from "../plain/grouped";
import { type MovedSide, movedWhole } from "./definition-order";
import { nameOfMember } from "./members";

/** Of so many UTF-16 units of a member is told what it gives a name to. */
const HEAD = 300;
/** What stands before a definition and says something of it. */
const MARKS = /^(?:\s*@.*\n)+/;
/** Where what a member gives a name to has been said. */
const SAID = /\b(?:extends|implements)\b|[(={:;<]/;
/** What is given to a part of something takes no name from another. */
const PARTS = /[\p{L}\p{N}_$]+(?:\s*\.\s*[\p{L}\p{N}_$]+)+/gu;
/** Of types, two of one name are one. What is called, or given on, gives no name. */
const GIVES_NONE = /^(?:interface_declaration|type_alias_declaration|return_statement)$/;
const CALLED = /^(?:export\s+default\s+)?[\p{L}\p{N}_$]+\s*[(;]/u;
/** What may define things further in, such as a condition. */
const HOLDS_MORE = /^(?:if|for|while|with|try|match|begin|case|unless|until|switch)/;
const DEFINED_IN =
  /\b(?:def|class|function|import|as|const|let|var)\s+([\p{L}\p{N}_$]{1,200})|(?<![\p{L}\p{N}_$])([\p{L}\p{N}_$]{1,200})\s*=(?!=)/gu;

/**
 * Tells of definitions that went elsewhere whether another of their name is there, or was beside them where they come from. Of two of one name one
 * counts: so a check that only seems to have moved may be none there, or another may take its place where it was.
 */
export class Namesakes {
  private readonly known = new WeakMap<Syntax, Map<number, Map<string, number[]>>>();

  /** Asks it of the definition that a moved line lies in. */
  has(syntax: Syntax, line: number, { lines, all }: MovedSide): boolean {
    const { order } = syntax.language;
    // Where there is one of a name, or several are told apart, nothing takes the place of another.
    if (order === "always" || order === "declared") return false;
    const node = movedWhole(syntax, line, lines);
    const name = node < 0 ? null : nameOfMember(syntax, node);
    if (name === null) return false;
    const named = this.namedIn(syntax, Math.max(0, syntax.parent[node])).get(name) ?? [];
    return named.some((other) => other !== node && !all.has(lineAt(syntax, syntax.start[other])));
  }

  /** The members of a holder by the words that they may give a name to. What lies apart from what changed is not taken apart: its first words are told. */
  private namedIn(syntax: Syntax, holder: number): Map<string, number[]> {
    const holders = this.known.get(syntax) ?? new Map<number, Map<string, number[]>>();
    this.known.set(syntax, holders);
    let named = holders.get(holder);
    if (!named) {
      named = new Map();
      for (const member of childrenOf(syntax, holder))
        for (const word of givenBy(syntax, member)) addTo(named, word, member);
      holders.set(holder, named);
    }
    return named;
  }
}

function givenBy(syntax: Syntax, node: number): Iterable<string> {
  const { text, start, end, language } = syntax;
  const type = typeOf(syntax, node);
  if (isKind(syntax, node, COMMENT) || GIVES_NONE.test(type)) return [];
  const all = text.slice(start[node], end[node]);
  if (HOLDS_MORE.test(type)) return [...all.matchAll(DEFINED_IN)].map(([, defined, given]) => defined ?? given);
  if (/^(?:expression|export)_statement$/.test(type) && CALLED.test(all)) return [];
  const first = all.slice(0, HEAD).replace(MARKS, "");
  const head = type.includes("import") ? first : first.slice(0, SAID.exec(first)?.index).replace(PARTS, "");
  return new Set((language.id === "php" ? head.toLowerCase() : head).match(/[\p{L}\p{N}_$]+/gu));
}
