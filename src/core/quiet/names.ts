import type { Language } from "../grammar/languages";
import { type Syntax, tokenAfter } from "../grammar/syntax";

/** Words that are names to a grammar and values to whoever reads them. */
const VALUES = new Set(["true", "false", "null", "nil", "none", "undefined", "nan", "infinity", "inf", "yes", "not"]);

/** Words of a text, and what stands between them. */
export const WORDS = /[\p{L}\p{N}\p{M}_$]+|[^\p{L}\p{N}\p{M}_$]+/gu;

/** Text of nothing else, which nearly all code is: words are found in it several times faster. */
export const ASCII = /^[\x00-\x7f]*$/;

/** Of the characters of ASCII: whether words are made of it. */
const IN_WORDS = Uint8Array.from({ length: 128 }, (_, code) => Number(/[\w$]/.test(String.fromCharCode(code))));

/**
 * Makes what finds some names in texts, as whole words, in the order in which they stand there; places in UTF-16 units.
 *
 * @example finderOf(new Set(["berth"]))("hold(berth, berths)", (name, place) => …) // "berth", 5
 */
export function finderOf(
  names: ReadonlySet<string>,
): (text: string, found: (name: string, place: number) => void) => void {
  // Nearly all words are none of them, which is told without making a text of each.
  const [lengths, firsts] = [new Set<number>(), new Uint8Array(128)];
  for (const name of names) {
    lengths.add(name.length);
    firsts[name.charCodeAt(0)] = 1;
  }
  return (text, found) => {
    for (let at = 0; at < text.length; at++) {
      const start = at;
      let isAscii = true;
      for (; at < text.length; at++) {
        const code = text.charCodeAt(at);
        if (code >= 128) isAscii = false;
        else if (IN_WORDS[code] === 0) break;
      }
      if (isAscii) {
        if (at === start || firsts[text.charCodeAt(start)] === 0 || !lengths.has(at - start)) continue;
        const word = text.slice(start, at);
        if (names.has(word)) found(word, start);
      } else {
        // What is no letter beyond ASCII parts words as well.
        for (const { 0: word, index } of text.slice(start, at).matchAll(WORDS))
          if (names.has(word)) found(word, start + index);
      }
    }
  };
}

/** A name, or a whole text, as names are compared in a language: places in it stay. Of letters beyond ASCII none is another's capital to it. */
export function compared({ caseless }: Language, text: string): string {
  return caseless ? text.replace(/[A-Z]+/g, (letters) => letters.toLowerCase()) : text;
}

/** The tokens that begin on a line or go on there, by their places among the tokens. */
export function tokensOn(syntax: Syntax, line: number): number[] {
  const result: number[] = [];
  for (let t = tokenAfter(syntax, syntax.lines[line]); t < syntax.tokens.length; t++) {
    if (syntax.start[syntax.tokens[t]] >= syntax.lines[line + 1]) break;
    result.push(t);
  }
  return result;
}

/** What stands before a token, on its line. */
export function gapOf({ text, start, end, tokens, lines }: Syntax, token: number, line: number): string {
  const from = token > 0 ? Math.max(end[tokens[token - 1]], lines[line]) : lines[line];
  return text.slice(from, start[tokens[token]]);
}

/** Whether a word names something: three letters or more, and none of the values that are written like names. */
export function isName(text: string): boolean {
  const letters = text.match(/\p{L}/gu)?.length ?? 0;
  return letters >= 3 && /^[#$@]?[\p{L}_$][\p{L}\p{N}\p{M}_$]*$/u.test(text) && !VALUES.has(text.toLowerCase());
}

/** Whether two comments say the same but for names that were replaced. */
export function sameComment(old: string, next: string, names: ReadonlyMap<string, string>): boolean {
  const left = old.match(WORDS) ?? [];
  const right = next.match(WORDS) ?? [];
  return left.length === right.length && left.every((word, n) => word === right[n] || names.get(word) === right[n]);
}
