import { glob } from "./glob";

/** More wild cards than this in one pattern are a mistake. */
const MOST_WILD = 12;

/** Why a pattern for branches or paths cannot be used, in a sentence; null when it can. */
export function wrongPattern(pattern: string): string | null {
  if (pattern.trim() === "" || pattern !== pattern.trim()) return "A pattern is empty, or begins or ends with a blank.";
  if (pattern.length > 200) return "A pattern has at most 200 characters.";
  if ((pattern.match(/[*?[{(+@!]/g) ?? []).length > MOST_WILD) return `“${pattern}” has too many wild cards.`;
  if (/[()!+@]/.test(pattern)) return `“${pattern}”: of special signs only *, **, ?, [ ] and { } have a meaning here.`;
  return null;
}

/** Patterns are few and asked often; beyond this many the oldest is forgotten. */
const MOST_KEPT = 2_000;
const kept = new Map<string, (name: string) => boolean>();

/** Whether a name or path fits, as {@link glob} tells; what was made of a pattern is kept. */
export function matcher(pattern: string): (name: string) => boolean {
  const known = kept.get(pattern);
  if (known) return known;
  const fits = glob(pattern);
  if (kept.size >= MOST_KEPT) kept.delete(kept.keys().next().value ?? "");
  // With a second argument lists would hand over the place of the name.
  const made = (name: string) => fits(name);
  kept.set(pattern, made);
  return made;
}

/** How exactly a pattern says what it means: a plain name beats all others, then the one with more of its text given. */
export function exactness(pattern: string): number {
  if (!/[*?[{]/.test(pattern)) return Number.POSITIVE_INFINITY;
  return pattern.replace(/\{[^}]*\}|\[[^\]]*\]|[*?]/g, "").length;
}

/** No title or subject that fits anything is longer, in characters. */
const LONGEST_WORDS = 10_000;

/**
 * Whether a whole text fits a pattern in which `*` stands for any characters and `?` for one: for titles and messages, where a slash has
 * no meaning. Greedy with one place to go back to, so that time is bounded by the product of both lengths.
 */
export function fitsWords(text: string, pattern: string): boolean {
  if (text.length > LONGEST_WORDS) return false;
  let at = 0;
  let p = 0;
  let star = -1;
  let mark = 0;
  while (at < text.length) {
    if (pattern[p] === "*") {
      star = p++;
      mark = at;
    } else if (p < pattern.length && (pattern[p] === "?" || pattern[p] === text[at])) {
      p++;
      at++;
    } else if (star >= 0) {
      p = star + 1;
      at = ++mark;
    } else return false;
  }
  while (pattern[p] === "*") p++;
  return p === pattern.length;
}
