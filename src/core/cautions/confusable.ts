import looksLike from "unhomoglyph";

/** What each character that was met looks like: asked of the table once. */
const LOOKS = new Map<string, string>();

function lookOf(character: string): string {
  let look = LOOKS.get(character);
  if (look === undefined) {
    look = looksLike(character);
    LOOKS.set(character, look);
  }
  return look;
}

/** What a text looks like: its skeleton of Unicode Technical Standard 39, as far as single characters make it. */
export function skeleton(text: string): string {
  let result = "";
  for (const character of text.normalize("NFD")) result += lookOf(character);
  return result.normalize("NFD");
}

const PLAIN = new Map<string, boolean>();
/** So many words are remembered: those of other languages come again in file after file. */
const REMEMBERED = 50_000;

/** Whether a word looks like one of ASCII alone: no word looks as if it had a space in it. */
export function looksPlain(word: string): boolean {
  let plain = PLAIN.get(word);
  if (plain === undefined) {
    if (PLAIN.size >= REMEMBERED) PLAIN.clear();
    plain = /^[\x21-\x7e]+$/.test(skeleton(word));
    PLAIN.set(word, plain);
  }
  return plain;
}

/** Whether two different texts look the same: `admin`, and `аdmin` whose first letter is Cyrillic. */
export function confusable(a: string, b: string): boolean {
  return a !== b && skeleton(a) === skeleton(b);
}
