import type { Language } from "../../grammar/languages";
import { isGivenToMacro } from "../../grammar/macros";
import { isOrder } from "../../grammar/orders";
import { COMMENT, EXACT, isKind, lineAt, type Syntax, TEXT, tokenAfter, tokenText, typeOf } from "../../grammar/syntax";
import { isInBrackets } from "./brackets";
import type { Range } from "./range";

/** White space that is nothing but layout: U+0020, U+0009, and the ends of lines. Anything else beside them is text. */
export const PURE = /^(?:[ \t]|\r?\n)*$/;

/** Characters that may grow together with what they come to stand beside. */
const GLUES = /[-+<>!=&|*/%^~?:.@#$\\`]/;
const WORD = /[\p{L}\p{N}_]/u;
const DIGIT = /^[0-9]/;

/** Whether the white space before the n-th token that is said may be what it is on either side. Where the stretch begins and ends, a line does on both. */
export function mayDiffer(a: Range, b: Range, n: number): boolean {
  const [old, next] = [gapWithin(a, n), gapWithin(b, n)];
  const { syntax } = b;
  const { language } = syntax;
  const hasPassed = old.passed > 0 || next.passed > 0;
  if (old.space === next.space && !hasPassed) return true;
  if (!PURE.test(old.space) || !PURE.test(next.space)) return false;
  if (language.tabless && next.space.includes("\t") && !old.space.includes("\t")) return false;
  const left = n > 0 || b.first > 0 ? syntax.tokens[next.before] : -1;
  const right = next.after < syntax.tokens.length ? syntax.tokens[next.after] : -1;
  if ((left >= 0 && isKind(syntax, left, EXACT)) || (right >= 0 && isKind(syntax, right, EXACT))) return false;
  // What stands before the first token is a place of its own, and a `\r` is for `endings` to judge.
  if (left < 0 || old.space.includes("\r") !== next.space.includes("\r")) return false;
  if (right < 0) return true;
  if ((n === 0 || n === a.said.length) && !hasPassed) return true;
  const leftText = tokenText(syntax, next.before);
  const rightText = tokenText(syntax, next.after);
  if ((old.space === "") !== (next.space === "")) {
    if (!mayTouch(language, syntax, left, leftText, right, rightText)) return false;
    if (language.macros && isGivenToMacro(syntax, next.after)) return false;
  }
  const breaksAlike = old.space.includes("\n") === next.space.includes("\n");
  if (breaksAlike && !hasPassed) return true;
  // A comment speaks of the line that it stands on, or of the next one.
  if (!breaksAlike && (isKind(syntax, left, COMMENT) || isKind(syntax, right, COMMENT) || isOrdered(syntax, left)))
    return false;
  if (language.directives && (rightText.startsWith("#") || isDirective(syntax, left))) return false;
  // Where a line ends on both sides right before what comes next, it is the same end.
  const ended = old.broken.at(-1) === old.after - 1 && next.broken.at(-1) === next.after - 1 ? 1 : 0;
  const mayBreakAll = ({ syntax }: Range, { broken }: Gap) =>
    broken.slice(0, broken.length - ended).every((token) => mayBreakBehind(syntax, token));
  return mayBreakAll(a, old) && mayBreakAll(b, next);
}

function mayBreakBehind(syntax: Syntax, token: number): boolean {
  const { language, tokens } = syntax;
  if (token + 1 >= tokens.length) return true;
  const [before, after] = [tokenText(syntax, token), tokenText(syntax, token + 1)];
  return mayBreak(language, before, after) && (!language.indented || isInBrackets(syntax, token));
}

/** What stands between two tokens that say something, as far as it belongs to their stretch. */
interface Gap {
  /** The tokens around it; the number of tokens where none follows. */
  before: number;
  after: number;
  space: string;
  /** How many tokens in it say nothing, and those behind which a line ends. */
  passed: number;
  broken: number[];
}

/** What stands before the n-th token of a stretch that says something; for their number, behind the last one. */
function gapWithin({ syntax, first, last, from, to, said }: Range, n: number): Gap {
  const { tokens, start, end, text } = syntax;
  const after = n < said.length ? said[n] : last;
  const before = n > 0 ? said[n - 1] : first - 1;
  const gap: Gap = { before, after, space: "", passed: 0, broken: [] };
  for (let token = before + 1; token <= after; token++) {
    const begin = token > 0 ? Math.max(end[tokens[token - 1]], from) : from;
    const close = token < last ? start[tokens[token]] : Math.min(to, text.length);
    const space = close > begin ? text.slice(begin, close) : "";
    if (space.includes("\n")) gap.broken.push(token - 1);
    gap.space += space;
    if (token < after) gap.passed++;
  }
  return gap;
}

/** Whether the line on which a token begins is one that an order in a comment speaks of. */
function isOrdered(syntax: Syntax, token: number): boolean {
  const first = tokenAfter(syntax, syntax.lines[lineAt(syntax, syntax.start[token])]);
  return first > 0 && isOrder(syntax, syntax.tokens[first - 1]);
}

/** Whether a token stands on a line that is for the preprocessor, and ends with the line. */
function isDirective(syntax: Syntax, token: number): boolean {
  const { lines, text, start, end } = syntax;
  const from = lines[lineAt(syntax, start[token])];
  return /^[ \t]*(?:#|%:|\?\?=)/.test(text.slice(from, Math.max(from + 1, end[token])));
}

/** Whether white space between two tokens may come or go. */
function mayTouch(
  language: Language,
  syntax: Syntax,
  left: number,
  leftText: string,
  right: number,
  rightText: string,
) {
  const [end, start] = [leftText.at(-1) ?? "", rightText[0] ?? ""];
  if (GLUES.test(end) && GLUES.test(start)) return false;
  // A name that begins behind a backslash takes in what stands before it: `return \pier()`. A number takes in a dot.
  if ((end === "\\" && WORD.test(start)) || (start === "\\" && WORD.test(end))) return false;
  if (language.holding?.test(leftText)) return false;
  if ((end === "." && DIGIT.test(start)) || (start === "." && DIGIT.test(leftText[0]))) return false;
  // A word beside a text may be part of it: `f"x"`, `"x"_km`.
  if ((isKind(syntax, left, TEXT) && WORD.test(start)) || (isKind(syntax, right, TEXT) && WORD.test(end))) return false;
  if (language.gaps === "free") return true;
  if (language.id !== "css") return false;
  if (/^[{};,]$/.test(leftText) || /^[{};,]$/.test(rightText)) return true;
  return leftText === ":" && typeOf(syntax, syntax.parent[left]) === "declaration";
}

/** Whether a line may be broken between two tokens, or joined. */
function mayBreak({ breaks }: Language, left: string, right: string): boolean {
  if (breaks === "free") return true;
  if (breaks === "kept") return false;
  if (breaks.clauses && left === "}" && /^(?:else|catch|finally|while)$/.test(right)) return true;
  return breaks.after.has(left) || breaks.before.has(right);
}
