import { childrenOf, sizesOf } from "../../grammar/children";
import { isKind, NAME, nodeText, ofTypes, type Syntax, tokenText, typeOf } from "../../grammar/syntax";
import { firstThat } from "../../plain/first-that";
import { addTo } from "../../plain/grouped";
import type { Nesting } from "./nesting";
import { statementsOf, type Unit } from "./unit";

/** What has names of its own, that nothing outside of it can mean. */
const isFunction = ofTypes((name) =>
  /(?:function|method|arrow|lambda|closure|constructor|accessor)(?!_invocation)/.test(name),
);
/** What is named by what stands before its value, and not by all that stands before its brackets. */
const isOfValues = ofTypes((name) =>
  /^(?:lexical|local_variable|variable|short_var|var|const)_declaration$|^local_declaration|^declaration$/.test(name),
);

/**
 * Whether all that units name for their block alone is meant nowhere outside of them: between the first and the last of them in their function. `within` is a node that holds them, and what they are put into.
 */
export function namesStayWithin(units: readonly Unit[], within: number, nesting: Nesting): boolean {
  const { local } = nesting;
  const { syntax } = units[0];
  if (!local) return true;
  const declared = units.flatMap((unit) => statementsOf(unit).filter((node) => local(syntax, node)));
  if (declared.length === 0) return true;
  const names = new Set(declared.flatMap((node) => namesOf(syntax, node)));
  let scope = within;
  while (scope >= 0 && !isFunction(syntax, scope)) scope = syntax.parent[scope];
  // What is known to a whole file may be known to others, too.
  if (scope < 0 || names.size === 0) return false;
  const words = wordsIn(syntax, scope);
  const from = syntax.lines[units[0].lines.start];
  const to = syntax.lines[units[units.length - 1].lines.end];
  return [...names].every((name) => {
    const [first, last] = words.get(name) ?? [from, from];
    return first >= from && last < to;
  });
}

/** Stands for any name: `using namespace tide;`, and `use tide::Ebb;`, which may bring methods. */
export const ANY = "*";
const brings = ofTypes((name) => /^us(?:e|ing)_declaration$/.test(name));
const MANY = /^(?:pub\b.*\s)?use\b|^using\s+(?:namespace|enum)\b/;

/** By each name the statements that give it. */
export type NamedIn = ReadonlyMap<string, readonly number[]>;

/** What the statements of a list name for it alone, and perhaps some more words; or {@link ANY}. */
export function namedIn(syntax: Syntax, list: number, nesting: Nesting): NamedIn {
  const named = new Map<string, number[]>();
  for (const node of childrenOf(syntax, list))
    for (const name of new Set(namesGivenBy(syntax, node, nesting))) addTo(named, name, node);
  return named;
}

function namesGivenBy(syntax: Syntax, node: number, nesting: Nesting): readonly string[] {
  const binds = nesting.binds?.(syntax, node) ?? false;
  if (!binds && !nesting.local?.(syntax, node)) return [];
  if (brings(syntax, node) && MANY.test(nodeText(syntax, node))) return [ANY];
  const isWhole = sizesOf(syntax)[node] === 1;
  return binds || isWhole ? (nodeText(syntax, node).match(WORD) ?? []) : namesOf(syntax, node);
}

/** The words of a part of a text, wherever they stand in it. */
export function wordsOf({ text }: Syntax, from: number, to: number): Set<string> {
  return new Set(text.slice(from, to).match(WORD));
}

const WORDS_IN = new WeakMap<Syntax, Map<number, Map<string, [first: number, last: number]>>>();

/** Where each word of a function stands first and last, wherever it stands: in a text, too. Gone through once. */
function wordsIn(syntax: Syntax, scope: number): Map<string, [first: number, last: number]> {
  const known = WORDS_IN.get(syntax) ?? new Map<number, Map<string, [number, number]>>();
  WORDS_IN.set(syntax, known);
  let words = known.get(scope);
  if (words) return words;
  words = new Map();
  for (const { 0: word, index } of nodeText(syntax, scope).matchAll(WORD)) {
    const place = syntax.start[scope] + index;
    const places = words.get(word);
    if (places) places[1] = place;
    else words.set(word, [place, place]);
  }
  known.set(scope, words);
  return words;
}
const WORD = /[\p{L}\p{N}\p{M}_$]+/gu;

/** The names that a declaration may give, and perhaps some more. */
function namesOf(syntax: Syntax, declaration: number): string[] {
  const { tokens } = syntax;
  const end = declaration + sizesOf(syntax)[declaration];
  const ofValues = isOfValues(syntax, declaration);
  const names: string[] = [];
  let depth = 0;
  let isNaming = true;
  for (
    let at = firstThat(tokens.length, (n) => tokens[n] >= declaration);
    at < tokens.length && tokens[at] < end;
    at++
  ) {
    const text = tokenText(syntax, at);
    if (!ofValues && /^[({=]$/.test(text)) break;
    if (depth === 0 && /^:?=$/.test(text)) isNaming = false;
    else if (depth === 0 && /^[,;]$/.test(text)) isNaming = true;
    else if (/^[([{]$/.test(text)) depth++;
    else if (/^[)\]}]$/.test(text)) depth--;
    else if (isNaming && isNameOf(syntax, tokens[at], ofValues)) names.push(text);
  }
  return names;
}

function isNameOf(syntax: Syntax, node: number, ofValues: boolean): boolean {
  const type = typeOf(syntax, node);
  if (ofValues && /^(?:type_identifier|primitive_type|predefined_type)$/.test(type)) return false;
  return isKind(syntax, node, NAME) || /identifier|name/.test(type);
}
