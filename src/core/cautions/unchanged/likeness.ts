/** So much of a line is looked at, in UTF-16 units. */
const LOOKED_AT = 400;
const WORDS = /[\p{L}\p{N}_$]+/gu;

/**
 * Whether a line that begins something goes on in one of some others, rather than in the one that has its place now: one of them is at least as like it.
 *
 * @example goesOnIn("function check() {", "function unused() {", ["function check() {}"]) // true
 * @example goesOnIn("if (a) {", "} else if (a) {", ["if (b) {"]) // false
 */
export function goesOnIn(line: string, now: string, others: readonly string[]): boolean {
  const like = likeness(line, now);
  return others.some((other) => likeness(line, other) >= like);
}

/** How many words two lines have in common, and as a part of one, in how many characters they begin alike. */
function likeness(one: string, another: string): number {
  const [a, b] = [one, another].map((line) => line.trim().slice(0, LOOKED_AT));
  const words = new Set(a.match(WORDS));
  const common = new Set(b.match(WORDS)?.filter((word) => words.has(word))).size;
  let same = 0;
  while (same < a.length && a[same] === b[same]) same++;
  return common + same / (LOOKED_AT + 1);
}
