import { ODD, USUAL_IN_WORDS } from "../cautions/characters";

const USUAL = new RegExp(USUAL_IN_WORDS, "g");

/**
 * Whether a text of one line, such as a title or the name of a person, holds signs that cannot be seen: line endings and tabs too. Those
 * that are usual in words, such as what joins the parts of a picture, are let be: see {@link USUAL_IN_WORDS}.
 *
 * @example
 * hasHiddenSigns("Hold a berth\u202e"); // true
 */
export function hasHiddenSigns(text: string): boolean {
  return /[\t\n\r]/.test(text) || ODD.test(text.replaceAll(USUAL, ""));
}

/** Why a text cannot be the full name of a person; null when it can. */
export function wrongName(name: string): string | null {
  if (name.trim() === "") return "A person needs a full name, to be shown to others.";
  if (name.length > 100) return "A name has at most 100 characters.";
  return hasHiddenSigns(name) ? "A name holds no signs that cannot be seen." : null;
}
