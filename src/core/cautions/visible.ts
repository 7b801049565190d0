import { codePoint, oddCharacters, USUAL_IN_WORDS } from "./characters";

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
  return lines.map((line) => writtenOut(line, (character) => USUAL_IN_WORDS.test(character))).join("\n");
}

function writtenOut(text: string, isUsual: (character: string) => boolean): string {
  let result = "";
  let at = 0;
  for (const place of oddCharacters(text)) {
    if (place.kind === "letter" || isUsual(text[place.at])) continue;
    result += `${text.slice(at, place.at)}⟨${codePoint(text.slice(place.at))}⟩`;
    at = place.at + place.length;
  }
  return result + text.slice(at);
}
