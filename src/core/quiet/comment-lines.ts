/** So many lines above are looked at for where a comment begins. */
const FURTHEST = 200;

/**
 * Whether a line goes on with a comment that was opened above with `/*`, as far as its look tells: it and all lines up to that one begin with
 * a star. No grammar is asked, so that files of which only comments changed are not parsed: what is said of layout and names is proven by whole
 * tokens, and a line of a comment is none. Where the look errs, a line is left to be read. Lines are 0-based.
 *
 * @example goesOnInComment(["/* Ebb", "* and flood."], 1) // true
 */
export function goesOnInComment(lines: readonly string[], line: number): boolean {
  for (let at = line; at >= 0 && at >= line - FURTHEST; at--) {
    const text = lines[at].trimStart();
    if (!text.startsWith("*")) return at < line && text.lastIndexOf("/*") > text.lastIndexOf("*/");
    if (at < line && text.includes("*/")) return false;
  }
  return false;
}
