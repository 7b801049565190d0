import { counted, shortened } from "../plain/words";
import type { Caution, Texts } from "./caution";
import { holdsSign, isMixed, isPlain, spelled } from "./characters";
import { confusable, looksPlain, skeleton } from "./confusable";

const ASCII_WORDS = /[A-Za-z_$][\w$]*/g;
const WORDS = /[\p{L}_$][\p{L}\p{N}\p{M}_$]*/gu;
/** So much of a line is looked at, in UTF-16 units. */
const LOOKED_AT = 20_000;
const MOST_NAMED = 3;
/** So much is quoted of a name, in UTF-16 units: thousands of files can each have one of a megabyte. */
export const LONGEST_NAMED = 200;

/** Words of mixed scripts, and words that look like another of the same file. */
export function aboutWords(texts: Texts, foreign: ReadonlyMap<string, number>): Caution[] {
  const cautions: Caution[] = [];
  const mixed = [...foreign].filter(([word]) => isMixed(word));
  if (mixed.length > 0) {
    const named = mixed.slice(0, MOST_NAMED).map(([word]) => quoted(word));
    const says = `${counted(mixed.length, "word")} made of letters of several scripts: ${named.join(", ")}.`;
    cautions.push({ kind: "mixed-scripts", says, line: mixed[0][1] });
  }
  const signs = [...foreign].filter(([word]) => holdsSign(word));
  if (signs.length > 0) {
    const named = signs.slice(0, MOST_NAMED).map(([word]) => `${quoted(word)} (${spelled(word)})`);
    const says = `${counted(signs.length, "name")} with a letter that looks like a sign of code: ${named.join(", ")}.`;
    cautions.push({ kind: "confusable", says, line: signs[0][1] });
  }
  const alike = [...lookalikes(texts, foreign), ...twiceWritten(texts, foreign)];
  if (alike.length > 0) {
    const named = alike
      .slice(0, MOST_NAMED)
      .map(({ word, other }) => `${quoted(word)} (${spelled(word)}) and ${quoted(other)}`);
    const says = `Names that look the same and are not: ${named.join("; ")}.`;
    cautions.push({ kind: "confusable", says, line: alike[0].line });
  }
  return cautions;
}

function quoted(word: string): string {
  return `“${shortened(word, LONGEST_NAMED)}”`;
}

/** Letters and digits of ASCII that are taken for each other. */
const FOLDS = /[1I|0]|rn/;
/** Sets of characters, one of each of two words at the first place where they differ, if they are the same once folded. */
const FOLDED = ["1Il|", "0O", "rm"];
const fold = (word: string) => word.replace(/[1I|]/g, "l").replaceAll("0", "O").replaceAll("rn", "m");

function canLookAlike(next: string, at: number, end: number, old: string, from: number, to: number): boolean {
  if (end - at <= 2) return false;
  let n = 0;
  while (at + n < end && from + n < to && next[at + n] === old[from + n]) n++;
  const differ = at + n < end && from + n < to;
  return differ && FOLDED.some((set) => set.includes(next[at + n]) && set.includes(old[from + n]));
}

/** The words of two texts, but for some, that look like one of those given, by what they look like; the last one of each. */
function wordsOfLooks(
  texts: readonly (readonly string[])[],
  looks: ReadonlySet<string>,
  but: ReadonlyMap<string, number>,
): Map<string, string> {
  const found = new Map<string, string>();
  const seen = new Set<string>();
  let longest = 0;
  for (const { length } of looks) longest = Math.max(longest, length);
  for (const line of texts.flat()) {
    const text = line.slice(0, LOOKED_AT);
    const isAscii = isPlain(text);
    for (const [word] of text.matchAll(isAscii ? ASCII_WORDS : WORDS)) {
      // What ASCII looks like is never shorter.
      if (word.length <= 2 || (isAscii && word.length > longest) || seen.has(word) || but.has(word)) continue;
      seen.add(word);
      const look = skeleton(word);
      if (looks.has(look)) found.set(look, word);
    }
  }
  return found;
}

function* lookalikes(
  { old, next, pairs }: Texts,
  foreign: ReadonlyMap<string, number>,
): Generator<{ word: string; other: string; line: number }> {
  for (const { old: i, next: j, oldSpans, newSpans } of pairs) {
    if (oldSpans.length !== newSpans.length) continue;
    for (let s = 0; s < newSpans.length; s += 2) {
      // Nearly all words that stand for each other differ at once.
      if (!canLookAlike(next[j], newSpans[s], newSpans[s + 1], old[i], oldSpans[s], oldSpans[s + 1])) continue;
      const word = next[j].slice(newSpans[s], newSpans[s + 1]);
      const other = old[i].slice(oldSpans[s], oldSpans[s + 1]);
      if (word.length <= 2 || (!FOLDS.test(word) && !FOLDS.test(other))) continue;
      if (/^[A-Za-z_]\w*$/.test(word) && fold(word) === fold(other)) yield { word, other, line: j + 1 };
    }
  }
  // Only what looks like a word of ASCII alone is taken for another: a word of another language is not.
  const likely = [...foreign].filter(([word]) => looksPlain(word));
  if (likely.length === 0) return;
  const looks = likely.map(([word]) => skeleton(word));
  const found = wordsOfLooks([old, next], new Set(looks), foreign);
  for (const [n, [word, line]] of likely.entries()) {
    const other = found.get(looks[n]);
    if (other && confusable(word, other)) yield { word, other, line };
  }
}

/**
 * Words that another one of the same text is as well, written in other signs: a letter with its accent in one sign, or in two. To a reader they are the same, and to most programs two.
 * Unicode Standard Annex 15, canonical equivalence.
 */
function* twiceWritten(
  { old, next }: Texts,
  foreign: ReadonlyMap<string, number>,
): Generator<{ word: string; other: string; line: number }> {
  const inTwoWays = [...foreign].filter(([word]) => word.normalize("NFD") !== word.normalize("NFC"));
  if (inTwoWays.length === 0) return;
  const lines = [...old, ...next].filter((line) => !isPlain(line));
  // Nearly always all are written in one way, and it is this one.
  if (lines.every((line) => line.normalize("NFC") === line)) return;
  const forms = new Map(inTwoWays.map(([word]) => [word.normalize("NFC"), new Set<string>()]));
  for (const line of lines)
    for (const [word] of line.slice(0, LOOKED_AT).matchAll(WORDS)) forms.get(word.normalize("NFC"))?.add(word);
  for (const [word, line] of inTwoWays) {
    const other = [...forms.get(word.normalize("NFC"))!].find((form) => form !== word);
    if (other !== undefined) yield { word, other, line };
  }
}
