import { codePoint, oddCharacters } from "./characters";

/** A text with its odd characters written out, `⟨U+200B⟩`: safe to print on a terminal, and to be read for what it is. */
export function visible(text: string): string {
  let result = "";
  let at = 0;
  for (const place of oddCharacters(text)) {
    if (place.kind === "letter") continue;
    result += `${text.slice(at, place.at)}⟨${codePoint(text.slice(place.at))}⟩`;
    at = place.at + place.length;
  }
  return result + text.slice(at);
}
