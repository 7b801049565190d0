/**
 * A text without some characters at its end. A pattern for that is asked anew at each of a million blanks that stand within a line.
 *
 * @param characters all of them, each one UTF-16 unit
 * @example withoutEnd("quay #", "# ") // "quay"
 */
export function withoutEnd(text: string, characters: string): string {
  let end = text.length;
  while (end > 0 && characters.includes(text[end - 1])) end--;
  return text.slice(0, end);
}
