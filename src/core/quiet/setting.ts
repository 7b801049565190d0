import { childrenOf, siblingBefore } from "../grammar/children";
import { isOrder, orderAbove } from "../grammar/orders";
import { COMMENT, isKind, type Syntax, typeOf } from "../grammar/syntax";
import { firstThat } from "../plain/first-that";
import { isDefinition, nameToken } from "./places";

/** What holds a definition and says something of it, on a line of its own as a rule. */
const WRAPS = /^(?:decorated_definition|export_statement|template_declaration|ambient_declaration|labeled_statement)$/;
/** What stands before a definition and says something of it. */
const MARKS = /attribute|decorator|annotation/;
/** What divides the members of a class. */
const DIVIDES = /^(?:access_specifier|identifier|call|visibility)$/;
const SECTION = /^(?:public|private|protected|internal|module_function|private_class_method|package)\b/;
const CONDITIONS = /^(?:preproc_(?:if|ifdef|elif|elifdef|else)|if_directive)$/;

/**
 * What is said of moved lines by what did not move: null where a decorator, an attribute or the like stands before them and was left
 * behind, or waits for them; else the section of a class (`private:`), what a checker was told above, and the conditions of a preprocessor that
 * they stand in. `from` is the first line of the block, 0-based. Lines have moved only between settings that say the same.
 */
export function settingOf(syntax: Syntax, node: number, from: number): string | null {
  const { parent, start, lines } = syntax;
  let top = node;
  while (parent[top] > 0 && start[parent[top]] >= lines[from]) top = parent[top];
  const known = KNOWN.get(syntax) ?? new Map<number, string | null>();
  KNOWN.set(syntax, known);
  const key = top * (lines.length + 1) + from;
  let setting = known.get(key);
  if (setting === undefined) {
    setting = settingOfTop(syntax, top, from);
    known.set(key, setting);
  }
  return setting;
}

/** Many lines of a block have the same outermost node in it: each is asked about once. */
const KNOWN = new WeakMap<Syntax, Map<number, string | null>>();

function settingOfTop(syntax: Syntax, top: number, from: number): string | null {
  const { parent, start, lines } = syntax;
  const startsWithin = (at: number) => start[at] >= lines[from];
  if (parent[top] > 0 && WRAPS.test(typeOf(syntax, parent[top]))) return null;
  const before = sibling(syntax, top);
  if (before >= 0 && !startsWithin(before) && isMark(syntax, before)) return null;
  let said = `${section(syntax, top)}\0${orderAbove(syntax, lines[from])}`;
  for (let at = parent[top]; at > 0; at = parent[at]) {
    // A definition of which the name moved and what stands before the name did not.
    if (isDefinition(syntax, at)) {
      const name = nameToken(syntax, at);
      if (name >= 0 && startsWithin(syntax.tokens[name])) return null;
    }
    if (CONDITIONS.test(typeOf(syntax, at))) said += `\0${firstLine(syntax, at)}`;
  }
  return said;
}

/** The nearest sibling before a node that is no comment, unless the comment gives orders; -1 when there is none. */
function sibling(syntax: Syntax, node: number): number {
  for (let at = siblingBefore(syntax, node); at >= 0; at = siblingBefore(syntax, at)) {
    if (!isKind(syntax, at, COMMENT) || isMark(syntax, at)) return at;
  }
  return -1;
}

function isMark(syntax: Syntax, node: number): boolean {
  return isKind(syntax, node, COMMENT) ? isOrder(syntax, node) : MARKS.test(typeOf(syntax, node));
}

/** The word that divides the members among which a node stands; empty when none does. */
function section(syntax: Syntax, node: number): string {
  if (!syntax.language.sections) return "";
  const known = SECTIONS.get(syntax) ?? new Map<number, Section[]>();
  SECTIONS.set(syntax, known);
  const holder = Math.max(0, syntax.parent[node]);
  let sections = known.get(holder);
  if (!sections) {
    sections = sectionsIn(syntax, holder);
    known.set(holder, sections);
  }
  const behind = firstThat(sections.length, (at) => sections[at].node >= node);
  return sections[behind - 1]?.word ?? "";
}

/** A word that divides members, and the node that it is. */
interface Section {
  node: number;
  word: string;
}

/** Those of each holder that was asked about: it may have thousands of members. */
const SECTIONS = new WeakMap<Syntax, Map<number, Section[]>>();

function sectionsIn(syntax: Syntax, holder: number): Section[] {
  const { text, start, end } = syntax;
  return childrenOf(syntax, holder).flatMap((node) => {
    if (!DIVIDES.test(typeOf(syntax, node))) return [];
    const word = text.slice(start[node], Math.min(end[node], start[node] + 40)).trim();
    return SECTION.test(word) ? [{ node, word }] : [];
  });
}

function firstLine({ text, start }: Syntax, node: number): string {
  const end = text.indexOf("\n", start[node]);
  return text.slice(start[node], end < 0 ? text.length : end).trim();
}
