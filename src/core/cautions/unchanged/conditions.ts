import { shortened } from "../../plain/words";

/** Files whose lines a preprocessor leaves out, or takes in, by conditions. */
export const HAS_CONDITIONS = /\.(?:[ch]|cc|cpp|cxx|hh|hpp|hxx|ipp|inl|mm?|cu|ino|cs)$/i;

const CONDITION = /^[ \t]*#[ \t]*(if|ifdef|ifndef|elif|elifdef|elifndef|else|endif)\b(.*)/;
/** So much is told of one condition, in UTF-16 units. */
const LONGEST = 1_000;
/** What lies deeper is not said: each line would say all of what it lies in. */
const MOST_DEEP = 20;
/** The same of what lies in so much, in UTF-16 units. */
const MOST_SAID = 2_000;

/**
 * The conditions under which each line stands, as text, the outermost first; empty for none. What keeps a header from being taken in twice is none. Conditions themselves stand under those
 * around them.
 *
 * @example conditionsOf(["#if A", "x();", "#else", "y();", "#endif"]) // ["", "#if A", "", "not #if A", ""]
 */
export function conditionsOf(lines: readonly string[]): string[] {
  /** Of each condition that is open, what it says itself, and what it says with those around it. */
  const open: { own: string; all: string }[] = [];
  const now = () => open.at(-1)?.all ?? "";
  const put = (own: string) => {
    const around = now();
    const isSaid = own !== "" && open.length < MOST_DEEP && around.length < MOST_SAID;
    open.push({ own, all: isSaid && around !== "" ? `${around} and ${own}` : isSaid ? own : around });
  };
  return lines.map((line, n) => {
    const [, word, rest] = (line.includes("#") && CONDITION.exec(line)) || [];
    if (word === undefined) return now();
    const condition = `#${word} ${shortened(wholeOf(lines, n, rest), LONGEST)}`.trim();
    const last = word.startsWith("if") ? null : (open.pop() ?? null);
    const outside = now();
    if (word.startsWith("if")) put(isGuard(lines, n) ? "" : condition);
    else if (word !== "endif" && last) put(last.own === "" ? "" : passedBy(last.own, condition));
    return outside;
  });
}

/** A condition with the lines that it goes on over, each behind a backslash; of white space, one space. */
function wholeOf(lines: readonly string[], line: number, rest: string): string {
  let whole = rest;
  for (let at = line + 1; at < lines.length && whole.length <= LONGEST && /\\\r?$/.test(whole); at++)
    whole = whole.replace(/\\\r?$/, ` ${lines[at]}`);
  return whole.trim().replace(/\s+/g, " ");
}

/** What holds behind `#else` or `#elif`: not what came before it. */
function passedBy(last: string, condition: string): string {
  const not = last.startsWith("not ") ? last : `not ${last}`;
  return condition.startsWith("#else") ? not : `${shortened(not, LONGEST)}, ${condition}`;
}

/** `#ifndef X` with `#define X` right below it. */
function isGuard(lines: readonly string[], line: number): boolean {
  const name = /^[ \t]*#[ \t]*ifndef[ \t]+(\w+)/.exec(lines[line])?.[1];
  return name !== undefined && /^[ \t]*#[ \t]*define[ \t]+(\w+)/.exec(lines[line + 1] ?? "")?.[1] === name;
}
