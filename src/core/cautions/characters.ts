/** What a character that the eye does not see, or takes for another, does. */
export type Odd = "hidden" | "direction" | "control" | "space" | "letter";

/**
 * Characters that have to be drawn as what they are. U+0009 is none; U+000D is one unless it ends its line. U+FEFF is one even at the
 * beginning of a file, where it marks the byte order: then it is nothing to worry about, and still there. Some of them have no meaning yet, and are drawn as nothing all the same.
 */
export const ODD =
  // biome-ignore lint/suspicious/noMisleadingCharacterClass: each stands for itself
  /[\x00-\x08\x0b-\x1f\x7f-\xa0\xad\u034f\u061c\u115f\u1160\u1680\u17b4\u17b5\u180b-\u180f\u2000-\u200f\u2028-\u202f\u205f-\u206f\u2800\u3000\u3164\ufb37\ufb3d\ufb3f\ufb42\ufb45\ufe00-\ufe0f\ufeff\uffa0\ufff0-\ufffc]|[\u{13430}-\u{1343f}\u{16fe4}\u{1bca0}-\u{1bca3}\u{1d159}\u{1d173}-\u{1d17a}\u{e0000}-\u{e0fff}]/u;

/** What joins letters of some scripts and parts of pictures, and spaces that keep words together: odd in code, and usual where people write. */
export const USUAL_IN_WORDS = /\u200c|\u200d|\ufe0e|\ufe0f|\xa0|\u202f|\u3000/;

const ODDS = new RegExp(ODD.source, "gu");
/** Texts of these alone hold no odd character; nearly all lines of code are such, and are told at once. */
const PLAIN = /^[\t\x20-\x7e]*\r?$/;

export function oddKind(character: string): Odd {
  const code = character.codePointAt(0)!;
  if (/[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/.test(character)) return "direction";
  if (/[\xa0\u1680\u2000-\u200a\u202f\u205f\u2800\u3000\u{1d159}]/u.test(character)) return "space";
  return code < 0xa0 || code === 0x2028 || code === 0x2029 ? "control" : "hidden";
}

/** One odd character: where it stands in its line, in UTF-16 units from 0, and how many units it takes. */
export interface OddPlace {
  at: number;
  length: number;
  kind: Odd;
  /** As it is written in the Unicode standard, `U+200B`. */
  code: string;
}

/** Scripts whose letters are taken for each other's. */
export const SCRIPTS = [
  /\p{Script=Latin}/u,
  /\p{Script=Cyrillic}/u,
  /\p{Script=Greek}/u,
  /\p{Script=Armenian}/u,
  /\p{Script=Cherokee}/u,
  // Of these hardly any word is written, and never together with the others.
  /[\p{Script=Bamum}\p{Script=Canadian_Aboriginal}\p{Script=Carian}\p{Script=Caucasian_Albanian}\p{Script=Coptic}\p{Script=Deseret}\p{Script=Elbasan}\p{Script=Georgian}\p{Script=Gothic}\p{Script=Lisu}\p{Script=Lycian}\p{Script=Lydian}\p{Script=Miao}\p{Script=Ogham}\p{Script=Old_Italic}\p{Script=Osage}\p{Script=Runic}\p{Script=Tifinagh}\p{Script=Vai}\p{Script=Warang_Citi}]/u,
];
/** Letters that look like signs of code: a name that holds one looks like several. */
const LIKE_SIGNS = /[\u01c0-\u01c3\u0241\u0294\u02d0\u07fa\u097d\ua778]/u;
const BEYOND_LATIN = new RegExp([...SCRIPTS.slice(1), LIKE_SIGNS].map(({ source }) => source).join("|"), "u");
const WORDS = /[\p{L}_$][\p{L}\p{N}\p{M}_$]*/gu;

/** Whether a word is made of letters of several scripts. */
export function isMixed(word: string): boolean {
  return SCRIPTS.filter((script) => script.test(word)).length > 1;
}

/** Whether a word has a letter in it that looks like a sign of code, among those of ASCII. */
export function holdsSign(word: string): boolean {
  return LIKE_SIGNS.test(word) && /[A-Za-z]/.test(word);
}

/** The letters that are not Latin in words that are made of several scripts, and those that look like signs. */
function* foreignLetters(line: string): Generator<OddPlace> {
  for (const word of line.matchAll(WORDS)) {
    if (!isMixed(word[0]) && !holdsSign(word[0])) continue;
    let at = word.index;
    for (const letter of word[0]) {
      if (LIKE_SIGNS.test(letter) || (/\p{L}/u.test(letter) && !SCRIPTS[0].test(letter)))
        yield { at, length: letter.length, kind: "letter", code: codePoint(letter) };
      at += letter.length;
    }
  }
}

/** The odd characters of a line, in order. A `\r` at its end is none, unless the text is only a piece of a line. */
export function oddCharacters(line: string, whole = true): OddPlace[] {
  if (PLAIN.test(line) && (whole || !line.endsWith("\r"))) return [];
  const places: OddPlace[] = [];
  const mixed = BEYOND_LATIN.test(line) && /[A-Za-z]/.test(line) && line.length < 20_000;
  if (!mixed && !ODD.test(line)) return places;
  for (const found of line.matchAll(ODDS)) {
    const [character] = found;
    if (whole && character === "\r" && found.index === line.length - 1) continue;
    places.push({ at: found.index, length: character.length, kind: oddKind(character), code: codePoint(character) });
  }
  const letters = mixed ? [...foreignLetters(line)] : [];
  return letters.length === 0 ? places : [...places, ...letters].sort((a, b) => a.at - b.at);
}

/** How the Unicode standard writes a character. */
export function codePoint(character: string): string {
  return `U+${character.codePointAt(0)!.toString(16).toUpperCase().padStart(4, "0")}`;
}

/** So many characters of a word are spelled. */
const SPELLED = 4;

/** The characters of a word that are not ASCII, as the Unicode standard writes them; the first of all where there are none. */
export function spelled(word: string): string {
  const odd = [...word].filter((character) => character > "\x7f");
  return (odd.length > 0 ? odd : [...word]).slice(0, SPELLED).map(codePoint).join(" ");
}

/** Whether a line can hold anything odd at all. */
export function isPlain(line: string): boolean {
  return PLAIN.test(line);
}
