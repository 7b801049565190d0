import { firstThat } from "../plain/first-that";
import { type Syntax, tokenText } from "./syntax";

/** What is called so is taken for a macro; and whatever the text itself defines as one. */
const LOUD = /^_*[A-Z][A-Z0-9_]*$/;
const DEFINED = /^[ \t]*#[ \t]*define[ \t]+(\w+)\(/gm;

/** What one macro is given: from the bracket that opens, to the one that closes, by their places among the tokens. */
type Given = readonly [open: number, close: number];

const KNOWN = new WeakMap<Syntax, Given[]>();

/**
 * Whether a gap before a token lies within what a macro of C is given, and not at the edge of it. A macro may make a text of that (`#x`), in which each
 * gap is a space and no gap is none.
 *
 * @example // of the gap before `-` in `SAY(a -b)`, not of that before `a`
 */
export function isGivenToMacro(syntax: Syntax, token: number): boolean {
  const all = KNOWN.get(syntax) ?? givenIn(syntax);
  KNOWN.set(syntax, all);
  const found = all[firstThat(all.length, (at) => all[at][1] >= token)];
  return found !== undefined && token > found[0] + 1 && token < found[1];
}

/** The outermost ones, in order. */
function givenIn(syntax: Syntax): Given[] {
  const defined = new Set([...syntax.text.matchAll(DEFINED)].map(([, name]) => name));
  const all: Given[] = [];
  const open: { at: number; isMacro: boolean }[] = [];
  let within = 0;
  const { text, tokens, start, end } = syntax;
  for (let at = 0; at < tokens.length; at++) {
    const place = start[tokens[at]];
    if (end[tokens[at]] - place !== 1) continue;
    if (text[place] === "(") {
      const name = at > 0 ? tokenText(syntax, at - 1) : "";
      const isMacro = LOUD.test(name) || defined.has(name);
      if (isMacro) within++;
      open.push({ at, isMacro });
    } else if (text[place] === ")") {
      const last = open.pop();
      if (last?.isMacro && --within === 0) all.push([last.at, at]);
    }
  }
  return all;
}
