import { firstThat } from "../plain/first-that";
import { addTo } from "../plain/grouped";
import type { LanguageId } from "./languages";

/** How texts begin that go on to a line that says their word, and what that line has to be. */
interface Heredocs {
  /** The sign, with its mark, up to the word or what that stands in. */
  begins: RegExp;
  /** The word as it is, in quotes, or behind a backslash; nothing where it is put together in another way. */
  word: RegExp;
  /** What may stand before the word on the line that ends the text, by the mark. */
  indent: (mark: string) => RegExp;
}

const HEREDOCS: Partial<Record<LanguageId, Heredocs>> = {
  bash: {
    begins: /(?<!<)<<(?!<)(-?)[ \t]*/g,
    word: /^(?:'([^'\n]*)'|"([^"\n$`\\]*)"|\\?([^\s;|&<>()'"\\$`]+))(?![^\s;|&<>()])/,
    indent: (mark) => (mark === "-" ? /^\t*$/ : /^$/),
  },
  ruby: {
    begins: /(?<!<)<<([-~]?)(?=["'`A-Za-z_])/g,
    word: /^(?:'([^'\n]+)'|["`]([^"`\n]+)["`]|([A-Za-z_]\w*))/,
    indent: (mark) => (mark === "" ? /^$/ : /^[ \t]*$/),
  },
};

/** A longer word proves nothing, in UTF-16 units, what it stands in included. */
const LONGEST = 200;

/**
 * Whether each text that goes on to a line of its own ends where its grammar takes it to: that forgives spaces before and behind the word, and takes for
 * code what the language reads as more of the text. Told by the first line behind it that says the word, with spaces or without.
 *
 * @example endWhereTheySeem("bash", "cat <<EOF\n  EOF\nrm x\nEOF\n") // false: `rm x` is text
 */
export function endWhereTheySeem(language: LanguageId, text: string): boolean {
  const heredocs = HEREDOCS[language];
  if (!heredocs || !text.includes("<<")) return true;
  let said: Map<string, number[]> | undefined;
  for (const { 0: sign, 1: mark, index } of text.matchAll(heredocs.begins)) {
    const behind = text.slice(index + sign.length, index + sign.length + LONGEST);
    const found = heredocs.word.exec(behind);
    if (found?.[0].length === LONGEST) return false;
    const word = found?.[1] ?? found?.[2] ?? found?.[3];
    // A number is shifted by another; a word that is put together could be any.
    if (word === undefined && !/^(?:[\d(]|$)/.test(behind)) return false;
    if (word === undefined) continue;
    said ??= linesBySaying(text);
    const places = said.get(word) ?? [];
    const place = places[firstThat(places.length, (at) => places[at] > index)];
    if (place === undefined) continue;
    const end = text.indexOf("\n", place);
    const line = text.slice(place, end < 0 ? text.length : end);
    if (!line.endsWith(word) || !heredocs.indent(mark).test(line.slice(0, line.length - word.length))) return false;
  }
  return true;
}

/** Where lines begin, by what they say without the spaces around it. */
function linesBySaying(text: string): Map<string, number[]> {
  const result = new Map<string, number[]>();
  for (let at = 0; at < text.length; ) {
    const found = text.indexOf("\n", at);
    const end = found < 0 ? text.length : found;
    const line = text.slice(at, end).trim();
    if (line.length <= LONGEST) addTo(result, line, at);
    at = end + 1;
  }
  return result;
}
