import { type Syntax, tokenText } from "../../grammar/syntax";
import { names, type OfType, signsOf } from "./signs";

/** Whether two tokens are one plain text in other quotes. Places among the tokens of either side. */
export function sameInQuotes(old: Syntax, a: number, next: Syntax, b: number): boolean {
  const quotes = signsOf(next.language.id)?.quotes;
  if (!quotes?.node(old, old.tokens[a]) || !quotes.node(next, next.tokens[b])) return false;
  if (isCharset(old, old.tokens[a]) || isCharset(next, next.tokens[b])) return false;
  const [left, right] = [unquoted(tokenText(old, a)), unquoted(tokenText(next, b))];
  if (!left || !right || left.before !== right.before || left.quotes !== right.quotes) return false;
  if (quotes.not.test(left.within) || quotes.not.test(right.within)) return false;
  if (!/['"]/.test(left.within) && left.within === right.within) return true;
  // A quote is itself behind a backslash, in both kinds; not so in texts with letters before them, or between marks.
  if (!quotes.escapes || left.before !== "" || isMarked(old, old.tokens[a]) || isMarked(next, next.tokens[b]))
    return false;
  return bare(left.within) === bare(right.within);
}

/** The quotes within a text without the backslashes before them; all else behind one stays as it is. */
function bare(within: string): string {
  return within.replace(/\\([\s\S])/g, (all, sign) => (sign === "'" || sign === '"' ? sign : all));
}

const within = (type: OfType) => (syntax: Syntax, node: number) => type(syntax, syntax.parent[node]);
const isCharset = within(names(/^charset_statement$/));
const isMarked = within(names(/^jsx_attribute$/));

/** A text without its quotes: what stands before them, what is within, and how many there are at an end. */
function unquoted(text: string): { before: string; within: string; quotes: number } | null {
  const found = /^([a-z]{0,3})("""|'''|"|')/i.exec(text);
  if (!found) return null;
  const [head, before, quote] = found;
  if (text.length < head.length + quote.length || !text.endsWith(quote)) return null;
  return { before, within: text.slice(head.length, text.length - quote.length), quotes: quote.length };
}
