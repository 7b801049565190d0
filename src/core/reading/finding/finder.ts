import { RE2JS, RE2JSException } from "re2js";
import { done, type Outcome, refuse } from "../../plain/outcome";
import type { As } from "./ways";

/** Where in a line something begins, in characters, 0-based, and how long it is; null where it is not. */
export type Finder = (line: string) => { at: number; length: number } | null;

/** Whether capitals count: where some are asked for. In an expression those of its own signs, such as `\W`, are none. */
export function mindsCapitals(words: string, as: As): boolean {
  const letters = as === "expression" ? words.replace(/\\(?:[pP]\{[^}]*\}|[pP]?.)|\[:\^?\w+:\]/gs, "") : words;
  return letters !== letters.toLowerCase();
}

/**
 * What finds the first place of some words in a line. Expressions are those of RE2: time grows with the length of the line and no faster, whatever is
 * asked, so there is no looking ahead and no referring back. Refuses, with a sentence, what is none, and what stands everywhere.
 */
export function finderOf(words: string, as: As): Outcome<Finder> {
  const exact = mindsCapitals(words, as);
  if (as === "expression") return expressionFinder(words, exact);
  const sought = exact ? words : words.toLowerCase();
  return done((line) => {
    const text = exact ? line : line.toLowerCase();
    for (let at = text.indexOf(sought); at >= 0; at = text.indexOf(sought, at + 1))
      if (as === "words" || isWhole(text, at, sought.length)) return { at, length: sought.length };
    return null;
  });
}

function expressionFinder(words: string, exact: boolean): Outcome<Finder> {
  let pattern: RE2JS;
  try {
    pattern = RE2JS.compile(words, exact ? 0 : RE2JS.CASE_INSENSITIVE);
  } catch (error) {
    if (!(error instanceof RE2JSException)) throw error;
    return refuse(
      "invalid",
      `This expression cannot be read: ${error.message.replace(/^error parsing regexp: /, "")}.`,
    );
  }
  if (pattern.matcher("").find()) return refuse("invalid", "This expression fits where nothing stands: say more.");
  return done((line) => {
    // The end of a line is before its carriage return, too.
    const matcher = pattern.matcher(line.endsWith("\r") ? line.slice(0, -1) : line);
    return matcher.find() ? { at: matcher.start(), length: matcher.end() - matcher.start() } : null;
  });
}

const WORD = /[\p{L}\p{N}_]/u;

/** Whether what stands at a place begins and ends with the word that it is in. */
function isWhole(text: string, at: number, length: number): boolean {
  const inWord = (place: number) => place >= 0 && place < text.length && WORD.test(text[place]);
  return !(inWord(at - 1) && inWord(at)) && !(inWord(at + length - 1) && inWord(at + length));
}

/** Signs that mean something other than themselves. */
const META = /[.*+?^${}()|[\]\\]/;

/**
 * The longest piece of text that is in whatever an expression fits, so that lines without it need not be looked at; "" where none is certain.
 *
 * @example `hold\w+\(slot` has "(slot", since of "hold" and "(slot" that is the longer
 */
export function certainIn(expression: string): string {
  if (/[|]|\(\?/.test(expression)) return "";
  let best = "";
  let run = "";
  let depth = 0;
  const end = () => {
    if (run.length > best.length) best = run;
    run = "";
  };
  for (let at = 0; at < expression.length; at++) {
    let sign = expression[at];
    let itself = !META.test(sign);
    if (sign === "\\") {
      sign = expression[++at] ?? "";
      // Of letters and digits after a backslash each means something else, some up to a closing bracket.
      itself = sign !== "" && !/[\p{L}\p{N}]/u.test(sign);
      if (!itself && /[pPxQ]/.test(sign)) return "";
    } else if (sign === "[") {
      end();
      at++;
      if (expression[at] === "^") at++;
      if (expression[at] === "]") at++;
      for (; at < expression.length && expression[at] !== "]"; at++) {
        if (expression[at] === "\\") at++;
        else if (expression.startsWith("[:", at)) return "";
      }
      continue;
    } else if (sign === "{") {
      // How often: no text.
      end();
      const close = expression.indexOf("}", at);
      if (close < 0) return best;
      at = close;
      continue;
    } else if (sign === "(") depth++;
    else if (sign === ")") depth--;
    // What may be left out is not certain; what may come again ends what follows each other.
    const behind = expression[at + 1] ?? "";
    if (!itself || depth > 0) end();
    else if (/[*?{]/.test(behind)) end();
    else {
      run += sign;
      if (behind === "+") end();
    }
  }
  end();
  return best;
}
