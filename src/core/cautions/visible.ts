import { type OddPlace, oddCharacters, USUAL_IN_WORDS } from "./characters";

/** A text with its odd characters written out, `⟨U+200B⟩`: safe to print on a terminal, and to be read for what it is. */
export function visible(text: string): string {
  return writtenOut(text, () => false);
}

/**
 * The same for words of people, of one line or of several: what is usual in them stays, such as the signs that make one picture of two.
 *
 * @example visibleWords("Mend\u202e it ❤\ufe0f") // "Mend⟨U+202E⟩ it ❤\ufe0f"
 */
export function visibleWords(text: string): string {
  const lines = text.split("\n");
  return lines.map((line) => writtenOut(line, isUsualInWords)).join("\n");
}

const isUsualInWords = (character: string) => USUAL_IN_WORDS.test(character);

/**
 * What of a text does not show, each kind of sign with how often it is there, and the text without it: what is a space of some kind becomes a plain one. In
 * `words`, what is usual in those of people is left.
 *
 * @example hiddenIn("a\u200bb\u200b", "code") // { signs: [{ code: "U+200B", count: 2 }], without: "ab" }
 */
export function hiddenIn(
  text: string,
  what: "words" | "code",
): { signs: { code: string; count: number }[]; without: string } {
  const counts = new Map<string, number>();
  const lines = text.split("\n").map((line) =>
    replaced(line, what === "words" ? isUsualInWords : () => false, ({ code, kind }) => {
      counts.set(code, (counts.get(code) ?? 0) + 1);
      return kind === "space" ? " " : "";
    }),
  );
  return { signs: [...counts].map(([code, count]) => ({ code, count })), without: lines.join("\n") };
}

function writtenOut(text: string, isUsual: (character: string) => boolean): string {
  return replaced(text, isUsual, ({ code }) => `⟨${code}⟩`);
}

/** A line with something else in the place of each odd character that is not usual; a letter of another script shows. */
function replaced(text: string, isUsual: (character: string) => boolean, by: (odd: OddPlace) => string): string {
  let result = "";
  let at = 0;
  for (const place of oddCharacters(text)) {
    if (place.kind === "letter" || isUsual(text[place.at])) continue;
    result += text.slice(at, place.at) + by(place);
    at = place.at + place.length;
  }
  return result + text.slice(at);
}
