/** More of these in one text take long: each may begin or end something, and is looked at again for each other. */
const SIGNS = "*_[]!<`~>";
const MOST_SIGNS = 1_200;
/** Lines that underline a heading, and those that begin an item, a row, a quote or a heading: one costs as much as all before it. */
const UNDERLINES = /^[ \t>]*(?:=+|-+)[ \t]*$/gm;
const MOST_UNDERLINES = 500;
const BEGINNINGS = /^[ \t>]*(?:[-+*#|>]|\d{1,9}[.)])/gm;
const MOST_BEGINNINGS = 3_000;
/** Quotes in quotes and lists in lists on one line, as many as nobody writes: each is read within the one around it. */
const NESTED = /^[ \t]*(?:>[ \t]*|(?:[-+*]|\d{1,9}[.)])[ \t]+){20}/m;
/** In UTF-16 units. */
const LONGEST = 100_000;

/**
 * Whether text would take so long to be read as Markdown, or go so deep, that it had better stand as it was written. Markdown is read in more than
 * linear time where its signs are many or stand one in the other, and whoever reads waits for what anyone wrote. `most` signs are let be.
 *
 * @example isTangled("> ".repeat(5_000)) // true
 */
export function isTangled(text: string, most = MOST_SIGNS): boolean {
  if (text.length > LONGEST) return true;
  let signs = 0;
  for (const sign of text) if (SIGNS.includes(sign) && ++signs > most) return true;
  return NESTED.test(text) || isOver(text, UNDERLINES, MOST_UNDERLINES) || isOver(text, BEGINNINGS, MOST_BEGINNINGS);
}

function isOver(text: string, pattern: RegExp, most: number): boolean {
  let count = 0;
  for (const _ of text.matchAll(pattern)) if (++count > most) return true;
  return false;
}
