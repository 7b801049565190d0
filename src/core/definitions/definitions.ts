import { isKind, NAME, type Syntax, tokenText, typeOf } from "../grammar/syntax";
import type { Definition, DefinitionKind } from "./definition";
import { keysIn } from "./keys";
import { BETWEEN, BY_TYPE } from "./rules";
import { fieldOf, lastLine, lineOf, MOST_WITHIN, type Survey, surveyOf } from "./survey";

/** Raised when the same text would define something else, or the same change would leave something else alone: what was kept is not used then. */
export const DEFINITIONS_ENGINE = 2;

/** Objects of which a member that something is assigned to is a field. */
const SELVES = /^(?:self|this)$/;

const LONGEST_SIGNATURE = 2_000;

/** A token that defines something, and the node that is the whole of it. */
interface Named {
  token: number;
  node: number;
  kind: DefinitionKind;
}

/**
 * Everything that a text defines, in order, as its grammar reads it. The syntax must have been read with its fields. What a name means elsewhere
 * is told by {@link meant}. Time is bounded by the length of the text.
 */
export function definitionsIn(syntax: Syntax): Definition[] {
  if (syntax.language.identifiers === null) return keysIn(syntax);
  const survey = surveyOf(syntax);
  const all: Named[] = [];
  /** The name of each node that defines one. */
  const names = new Map<number, string>();
  for (const token of syntax.tokens.keys()) {
    const named = namedBy(syntax, survey, token);
    if (!named) continue;
    all.push(named);
    if (!names.has(named.node)) names.set(named.node, tokenText(syntax, token));
  }
  const result: Definition[] = [];
  const known = new Set<string>();
  for (const { token, node, kind: told } of all) {
    const at = syntax.tokens[token];
    const scope = scopeOf(syntax, survey, node, told);
    const kind = scope === null && told === "constant" && isInClass(syntax, survey, node) ? "field" : told;
    const name = tokenText(syntax, token);
    // What is assigned again was defined before.
    const again = `${name} ${scope?.start} ${kind === "constant" || kind === "field" ? "" : syntax.start[at]}`;
    if (known.has(again)) continue;
    known.add(again);
    const line = lineOf(syntax, at);
    result.push({
      name,
      kind,
      line,
      column: syntax.start[at] - syntax.lines[line],
      scope,
      start: lineOf(syntax, node),
      end: lastLine(syntax, node) + 1,
      within: namesAround(syntax, survey, names, node, kind === "field"),
      signature: signatureOf(syntax, survey, node),
    });
  }
  return result;
}

/** What a token defines, if it does. */
function namedBy(syntax: Syntax, survey: Survey, token: number): Named | null {
  const node = syntax.tokens[token];
  const isName = isKind(syntax, node, NAME) || (typeOf(syntax, node) === "word" && fieldOf(syntax, node) === "name");
  if (!isName) return null;
  for (let at = node, steps = 0; steps < 8; steps++) {
    const above = syntax.parent[at];
    if (above <= 0) return null;
    const type = typeOf(syntax, above);
    const field = fieldOf(syntax, at) || "-";
    const rule = BY_TYPE.get(type);
    if (rule?.fields.has(field)) return { token, node: above, kind: survey.value.get(above) ?? rule.kind };
    if ((type === "attribute" || type === "member_expression") && isOwnField(syntax, above, at))
      return { token, node: syntax.parent[above], kind: "field" };
    if (!BETWEEN.get(type)?.has(field)) return null;
    at = above;
  }
  return null;
}

/** `self.slot = …` and `this.slot = …`. */
function isOwnField(syntax: Syntax, member: number, name: number): boolean {
  if (!/^(?:attribute|property)$/.test(fieldOf(syntax, name)) || fieldOf(syntax, member) !== "left") return false;
  return SELVES.test(syntax.text.slice(syntax.start[member + 1], syntax.end[member + 1]));
}

function scopeOf(syntax: Syntax, survey: Survey, node: number, kind: DefinitionKind): Definition["scope"] {
  // A field is found through what it belongs to, wherever that is.
  if (kind === "field") return null;
  const within = (at: number) => ({ start: lineOf(syntax, at), end: lastLine(syntax, at) + 1 });
  // The one parameter of an arrow is told by the arrow itself.
  if (kind === "parameter" && typeOf(syntax, node) === "arrow_function") return within(node);
  const around = survey.function[node];
  if (around >= 0) return within(around);
  // A parameter of what has no body means nothing beyond it.
  return kind === "parameter" ? within(syntax.parent[node]) : null;
}

function isInClass(syntax: Syntax, { holder }: Survey, node: number): boolean {
  for (let at = holder[node], steps = 0; at > 0 && steps < MOST_WITHIN; at = holder[at], steps++)
    if (BY_TYPE.get(typeOf(syntax, at))?.kind === "type") return true;
  return false;
}

/** The names of what a node lies in, the outermost first; of a field without the function in which it is assigned to. */
function namesAround(
  syntax: Syntax,
  { holder }: Survey,
  names: ReadonlyMap<number, string>,
  node: number,
  isField: boolean,
): string[] {
  const result: string[] = [];
  for (let at = holder[node], steps = 0; at > 0 && steps < MOST_WITHIN; at = holder[at], steps++) {
    const type = typeOf(syntax, at);
    if (isField && BY_TYPE.get(type)?.kind === "function") continue;
    const name = type === "impl_item" ? implemented(syntax, at) : names.get(at);
    if (name) result.push(name);
  }
  return result.reverse();
}

/** What an `impl` of Rust is of. */
function implemented(syntax: Syntax, node: number): string {
  const { depth, start, end, text } = syntax;
  for (let at = node + 1, steps = 0; depth[at] > depth[node] && steps < 200; at++, steps++)
    if (depth[at] === depth[node] + 1 && fieldOf(syntax, at) === "type") return text.slice(start[at], end[at]);
  return "";
}

/** The text of a definition up to its body, or to its end. */
function signatureOf({ text, start, end }: Syntax, { body }: Survey, node: number): string {
  const stop = Math.min(body.get(node) ?? end[node], start[node] + LONGEST_SIGNATURE);
  return text.slice(start[node], stop).replace(/\s+/g, " ").trim();
}
