/** Letters that are written from right to left, with what is written among them: the blocks of Unicode Standard Annex 9 in which a sign has that direction even before it has a meaning. */
const LETTERS = String.raw`\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufefe\u{10800}-\u{10fff}\u{1e800}-\u{1efff}`;
const WORD = String.raw`[${LETTERS}][${LETTERS}\p{M}]*`;
const WORDS = new RegExp(`${WORD}(?: +${WORD})*`, "gu");
/** Any of these letters. */
export const RIGHT_TO_LEFT = new RegExp(`[${LETTERS}]`, "u");

/** A stretch of a text, and whether its letters are written from right to left. */
export interface Stretch {
  text: string;
  isRightToLeft: boolean;
}

/**
 * The parts of a line of code whose letters are written from right to left, and those between. Drawn as one text such words take along what stands between them: of
 * `קצב > 5 && 3 < אבג` the end would stand first. Each has to be drawn by itself, so that all else stays in the order in which the file holds it. Together the parts are the line.
 *
 * @example stretchesOf("f(א, 1)") // [{ text: "f(", isRightToLeft: false }, { text: "א", isRightToLeft: true }, { text: ", 1)", isRightToLeft: false }]
 */
export function stretchesOf(line: string): Stretch[] {
  if (!RIGHT_TO_LEFT.test(line)) return line === "" ? [] : [{ text: line, isRightToLeft: false }];
  const parts: Stretch[] = [];
  let at = 0;
  for (const { 0: words, index } of line.matchAll(WORDS)) {
    if (index > at) parts.push({ text: line.slice(at, index), isRightToLeft: false });
    parts.push({ text: words, isRightToLeft: true });
    at = index + words.length;
  }
  if (at < line.length) parts.push({ text: line.slice(at), isRightToLeft: false });
  return parts;
}
