import { sizesOf } from "../../grammar/children";
import { isKind, NAME, ofTypes, type Syntax, tokenText, typeOf } from "../../grammar/syntax";
import { firstThat } from "../../plain/first-that";
import { finderOf } from "../names";
import type { Nesting } from "./nesting";
import { statementsOf, type Unit } from "./unit";

/** What has names of its own, that nothing outside of it can mean. */
const isFunction = ofTypes((name) => /function|method|arrow|lambda|closure|constructor|accessor/.test(name));
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
  const { text, start, end, lines } = syntax;
  const from = lines[units[0].lines.start];
  const to = lines[units[units.length - 1].lines.end];
  let isMeant = false;
  const find = finderOf(names);
  for (const part of [text.slice(start[scope], from), text.slice(to, end[scope])])
    find(part, () => {
      isMeant = true;
    });
  return !isMeant;
}

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
