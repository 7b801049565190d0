import { firstThat } from "../plain/first-that";
import { type Syntax, tokenText } from "./syntax";

/** What is called so is taken for a macro; and whatever the text itself defines as one. */
const LOUD = /^_*[A-Z][A-Z0-9_]*$/;
const DEFINED = /^[ \t]*#[ \t]*define[ \t]+(\w+)/gm;

const NAMES = new WeakMap<Syntax, ReadonlySet<string>>();

/**
 * Whether a name of C may be that of a macro, which may make anything of what stands behind it.
 *
 * @example isMacro(syntax, "HOLD_BERTH") // true; so for `hold` below `#define hold(berth) …`
 */
export function isMacro(syntax: Syntax, name: string): boolean {
  let names = NAMES.get(syntax);
  if (!names) {
    names = new Set([...syntax.text.matchAll(DEFINED)].map(([, defined]) => defined));
    NAMES.set(syntax, names);
  }
  return LOUD.test(name) || names.has(name);
}

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
  const all: Given[] = [];
  const open: { at: number; isGiven: boolean }[] = [];
  let within = 0;
  const { text, tokens, start, end } = syntax;
  for (let at = 0; at < tokens.length; at++) {
    const place = start[tokens[at]];
    if (end[tokens[at]] - place !== 1) continue;
    if (text[place] === "(") {
      const name = at > 0 ? tokenText(syntax, at - 1) : "";
      const isGiven = isMacro(syntax, name);
      if (isGiven) within++;
      open.push({ at, isGiven });
    } else if (text[place] === ")") {
      const last = open.pop();
      if (last?.isGiven && --within === 0) all.push([last.at, at]);
    }
  }
  return all;
}
