import type { Hunk } from "../diff/hunk";
import type { Language } from "../grammar/languages";
import { isGivenToMacro } from "../grammar/macros";
import { isOrder } from "../grammar/orders";
import {
  COMMENT,
  EXACT,
  isKind,
  lineAt,
  ofTypes,
  type Syntax,
  TEXT,
  tokenAfter,
  tokenText,
  typeOf,
} from "../grammar/syntax";
import { firstThat } from "../plain/first-that";
import { hasEvenBlocks } from "./even-blocks";
import { idleAbove, idleNodes, knowsIdleSigns, sameInQuotes } from "./idle-signs";

/** Lines, 0-based, end exclusive. */
export interface Lines {
  start: number;
  end: number;
}

/** Where a line stands among those that both states share: the same number for the same unchanged line, a negative one for each hunk. */
export interface SharedLines {
  old: (line: number) => number;
  next: (line: number) => number;
}

/** Numbers the lines of two states alike where they are the same. */
export function sharedLines(hunks: readonly Hunk[]): SharedLines {
  const finder = (start: "oldStart" | "newStart", end: "oldEnd" | "newEnd") => (line: number) => {
    const behind = firstThat(hunks.length, (at) => hunks[at][start] > line);
    const hunk = hunks[behind - 1];
    if (!hunk) return line;
    if (line < hunk[end]) return -behind;
    return line - hunk[end] + hunk.newEnd;
  };
  return { old: finder("oldStart", "oldEnd"), next: finder("newStart", "newEnd") };
}

/**
 * Whether two stretches of lines say the same: the same tokens byte for byte, in the same structure, within the same enclosing structure,
 * and between them white space of which only the amount differs, or what the language lets come and go. This is the proof of `layout`. Where besides that signs differ that say
 * nothing ({@link idleNodes}), or the quotes around plain texts, it is that of `style`. Null where they do not say the same.
 */
export function sameStretch(
  old: Syntax,
  a: Lines,
  next: Syntax,
  b: Lines,
  shared: SharedLines,
): "layout" | "style" | null {
  const { language } = next;
  const isSame = (left: Range, right: Range, sameText: SameText) =>
    saysSame(left, right, sameText, shared) &&
    (!language.indented || (hasEvenBlocks(old) && hasEvenBlocks(next) && sameBelow(old, a.end, next, b.end, shared)));
  if (isSame(rangeOf(old, a), rangeOf(next, b), isSameText)) return "layout";
  if (!knowsIdleSigns(language.id)) return null;
  return isSame(withoutIdle(rangeOf(old, a)), withoutIdle(rangeOf(next, b)), isSameInQuotes) ? "style" : null;
}

/** Whether two tokens say the same; places among those of either side. */
type SameText = (old: Syntax, a: number, next: Syntax, b: number) => boolean;

const isSameText: SameText = (old, a, next, b) =>
  old.type[old.tokens[a]] === next.type[next.tokens[b]] && tokenText(old, a) === tokenText(next, b);
const isSameInQuotes: SameText = (...tokens) => isSameText(...tokens) || sameInQuotes(...tokens);

function saysSame(left: Range, right: Range, sameText: SameText, shared: SharedLines): boolean {
  const count = left.said.length;
  if (count !== right.said.length || count === 0) return false;
  if (!sameAncestors(left, right, shared) || !sameNodes(left, right)) return false;
  for (let i = 0; i < count; i++) {
    if (!sameText(left.syntax, left.said[i], right.syntax, right.said[i])) return false;
    if (right.syntax.language.placed?.test(tokenText(right.syntax, right.said[i]))) return false;
  }
  for (let i = 0; i <= count; i++) if (!mayDiffer(left, right, i)) return false;
  return true;
}

/** Whether what is said is made of the same nodes, tokens aside, and leaves as much open behind it. */
function sameNodes(left: Range, right: Range): boolean {
  const [a, b] = [left.syntax, right.syntax];
  const [aboveA, aboveB] = [idleAbove(a, left.idle), idleAbove(b, right.idle)];
  const [lastA, lastB] = [a.tokens[left.last - 1], b.tokens[right.last - 1]];
  let [i, j] = [a.tokens[left.said[0]], b.tokens[right.said[0]]];
  let [tokenA, tokenB] = [0, 0];
  for (;;) {
    while (i <= lastA && left.idle.has(i)) i++;
    while (j <= lastB && right.idle.has(j)) j++;
    if (i > lastA || j > lastB) break;
    if (a.depth[i] - aboveA(i) !== b.depth[j] - aboveB(j)) return false;
    const areTokens = [i === a.tokens[left.said[tokenA]], j === b.tokens[right.said[tokenB]]];
    if (areTokens[0] !== areTokens[1] || (!areTokens[0] && a.type[i] !== b.type[j])) return false;
    if (areTokens[0]) tokenA++;
    if (areTokens[1]) tokenB++;
    i++;
    j++;
  }
  // How far what stood open is closed behind the stretch.
  return i > lastA && j > lastB && (a.depth[lastA + 1] ?? -1) === (b.depth[lastB + 1] ?? -1);
}

/**
 * Whether the unchanged lines that follow lie as deep as they did, to the end of the outermost block: where indentation is structure, that of
 * one line decides what the lines below it belong to, and grammars forgive what the language would not.
 */
function sameBelow(old: Syntax, from: number, next: Syntax, to: number, shared: SharedLines): boolean {
  let j = to;
  const above = outermost(next, to - 1);
  const last = Math.max(above, from >= 1 ? outermost(old, from - 1) - from + to : above);
  const partners = new Map<number, number>();
  for (let i = from; i < old.lines.length - 1; i++) {
    const place = shared.old(i);
    if (place >= 0) partners.set(place, i);
    if (place > last) break;
  }
  for (; j <= last && j < next.lines.length - 1; j++) {
    const place = shared.next(j);
    const i = place >= 0 ? partners.get(place) : undefined;
    if (i === undefined) continue;
    const [a, b] = [tokenAfter(old, old.lines[i]), tokenAfter(next, next.lines[j])];
    if (a >= old.tokens.length || b >= next.tokens.length) continue;
    // An empty line lies nowhere.
    if (old.start[old.tokens[a]] >= old.lines[i + 1] && next.start[next.tokens[b]] >= next.lines[j + 1]) continue;
    // What goes on in brackets lies where what it goes on with begins.
    if (isInBrackets(old, a - 1) && isInBrackets(next, b - 1)) continue;
    if (old.depth[old.tokens[a]] !== next.depth[next.tokens[b]]) return false;
  }
  return true;
}

/** The last line of what lies directly under the root and holds a line; both 0-based. */
function outermost(syntax: Syntax, line: number): number {
  const node = syntax.tokens[Math.min(tokenAfter(syntax, syntax.lines[line]), syntax.tokens.length - 1)];
  let at = node;
  while (syntax.depth[at] > 1) at = syntax.parent[at];
  return lineAt(syntax, Math.max(syntax.start[at], syntax.end[at] - 1)) + 1;
}

/** Tokens of a stretch, `first` to `last`, end exclusive, and where its lines begin and end in the text. */
interface Range {
  syntax: Syntax;
  first: number;
  last: number;
  from: number;
  to: number;
  /** Nodes that say nothing, and the tokens of all others. */
  idle: ReadonlySet<number>;
  said: number[];
}

function rangeOf(syntax: Syntax, { start, end }: Lines): Range {
  const from = syntax.lines[start];
  const to = syntax.lines[end];
  const first = tokenAfter(syntax, from);
  let last = first;
  while (last < syntax.tokens.length && syntax.start[syntax.tokens[last]] < to) last++;
  return { syntax, first, last, from, to, idle: NONE, said: Array.from({ length: last - first }, (_, n) => first + n) };
}

const NONE: ReadonlySet<number> = new Set();

function withoutIdle(range: Range): Range {
  const { syntax, first, last, said } = range;
  const idle = idleNodes(syntax, first, last);
  return { ...range, idle, said: said.filter((token) => !idle.has(syntax.tokens[token])) };
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

/** `var` and `const` of JavaScript hold alike what they are given: which of them it is stands on its own line. */
const isDeclaration = ofTypes((name) => /^(?:lexical|variable)_declaration$/.test(name));

function sameAncestors(left: Range, right: Range, shared: SharedLines): boolean {
  const [old, next] = [left.syntax, right.syntax];
  let i = old.tokens[left.said[0]];
  let j = next.tokens[right.said[0]];
  for (;;) {
    const [oldLine, newLine] = [lineAt(old, old.start[i]), lineAt(next, next.start[j])];
    const place = shared.old(oldLine);
    if (place !== shared.next(newLine)) return false;
    if (place >= 0 && old.start[i] - old.lines[oldLine] !== next.start[j] - next.lines[newLine]) return false;
    i = old.parent[i];
    j = next.parent[j];
    while (left.idle.has(i)) i = old.parent[i];
    while (right.idle.has(j)) j = next.parent[j];
    if (i < 0 || j < 0) return i === j;
    if (old.type[i] !== next.type[j] && !(isDeclaration(old, i) && isDeclaration(next, j))) return false;
    // The root begins where its first node does.
    if (old.parent[i] < 0 || next.parent[j] < 0) return old.parent[i] === next.parent[j];
  }
}

/** White space that is nothing but layout: U+0020, U+0009, and the ends of lines. Anything else beside them is text. */
export const PURE = /^(?:[ \t]|\r?\n)*$/;

/** Characters that may grow together with what they come to stand beside. */
const GLUES = /[-+<>!=&|*/%^~?:.@#$\\`]/;
const WORD = /[\p{L}\p{N}_]/u;
const DIGIT = /^[0-9]/;

/** Whether the white space before the n-th token that is said may be what it is on either side. Where the stretch begins and ends, a line does on both. */
function mayDiffer(a: Range, b: Range, n: number): boolean {
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

const open = new WeakMap<Syntax, Int32Array>();

/** Whether a bracket stands open behind a token: only there a line goes on where indentation is structure, whatever a grammar forgives. */
function isInBrackets(syntax: Syntax, token: number): boolean {
  let depths = open.get(syntax);
  if (!depths) {
    let depth = 0;
    depths = Int32Array.from(syntax.tokens, (_, n) => {
      const text = tokenText(syntax, n);
      if (/^[([{]$/.test(text)) depth++;
      else if (/^[)\]}]$/.test(text)) depth--;
      return depth;
    });
    open.set(syntax, depths);
  }
  return (depths[token] ?? 0) > 0;
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
