/** Formats in which a comment goes over several lines, and by what it begins and ends. */
const COMMENTS: readonly [paths: RegExp, open: string, close: string][] = [
  [/\.(?:html?|xhtml|xml|svg|vue|svelte|astro|md|markdown|xaml|csproj)$/i, "<!--", "-->"],
  [
    /\.(?:sql|scss|less|styl|kts?|swift|scala|sc|dart|groovy|gradle|proto|sol|d|v|jsonc|json5|hcl|tf|m|mm|cu|ino)$/i,
    "/*",
    "*/",
  ],
  // Of these there are grammars, which do not read each text of them.
  [/\.(?:[cm]?[jt]sx?|go|java|rs|c|h|cc|cpp|cxx|hh|hpp|hxx|cs|php|css)$/i, "/*", "*/"],
  [/\.lua$/i, "--[[", "]]"],
  [/\.(?:hs|lhs|elm|purs)$/i, "{-", "-}"],
];

/** Texts in quotes that end on their line, without signs that are escaped: so each place of a line is looked at once, whatever stands there. */
export const QUOTED = /"[^"\\]*"|'[^'\\]*'/g;

/**
 * Of a text that no grammar reads, on which lines a comment stands open that began above; null where that is not known of its format. As far as its look tells: what stands in
 * quotes begins none, and no comment lies in another.
 *
 * @example openComments("a.sql", ["/* a", "b", "*\/ c"]) // 1 for the second and the third
 */
export function openComments(path: string, lines: readonly string[]): Uint8Array | null {
  const [, open, close] = COMMENTS.find(([paths]) => paths.test(path)) ?? [];
  if (open === undefined || close === undefined) return null;
  let isOpen = 0;
  return Uint8Array.from(lines, (line) => {
    const above = isOpen;
    if (!line.includes(open) && !line.includes(close)) return above;
    const bare = isOpen ? line : line.replace(QUOTED, (text) => " ".repeat(text.length));
    for (let at = 0; ; ) {
      const found = isOpen ? line.indexOf(close, at) : bare.indexOf(open, at);
      if (found < 0) return above;
      at = found + (isOpen ? close : open).length;
      isOpen = 1 - isOpen;
    }
  });
}
