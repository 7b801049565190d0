import type { Hunk } from "../diff/hunk";
import type { Language } from "../grammar/languages";
import { isGivenToMacro } from "../grammar/macros";
import { isOrder } from "../grammar/orders";
import { COMMENT, EXACT, isKind, lineAt, type Syntax, TEXT, tokenAfter, tokenText, typeOf } from "../grammar/syntax";
import { firstThat } from "../plain/first-that";
import { hasEvenBlocks } from "./even-blocks";

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
 * and between them white space of which only the amount differs, or what the language lets come and go. This is the proof of `layout`.
 */
export function sameStretch(old: Syntax, a: Lines, next: Syntax, b: Lines, shared: SharedLines): boolean {
  const { language } = next;
  const left = rangeOf(old, a);
  const right = rangeOf(next, b);
  const count = left.last - left.first;
  if (count !== right.last - right.first || count === 0) return false;
  if (!sameAncestors(old, left.first, next, right.first, shared)) return false;
  const base = old.tokens[left.first];
  const other = next.tokens[right.first];
  const size = old.tokens[left.last - 1] - base;
  if (next.tokens[right.last - 1] - other !== size) return false;
  for (let i = 0; i <= size; i++) {
    if (old.type[base + i] !== next.type[other + i] || old.depth[base + i] !== next.depth[other + i]) return false;
  }
  // How far what stood open is closed behind the stretch.
  if ((old.depth[base + size + 1] ?? -1) !== (next.depth[other + size + 1] ?? -1)) return false;
  for (let i = 0; i < count; i++) {
    const text = tokenText(next, right.first + i);
    if (tokenText(old, left.first + i) !== text || language.placed?.test(text)) return false;
  }
  for (let i = 0; i <= count; i++) {
    const before = i > 0 || left.first > 0 ? right.first + i - 1 : -1;
    const gaps = [gapWithin(old, left, i), gapWithin(next, right, i)] as const;
    if (!mayDiffer(language, next, before, right.first + i, gaps, i === 0 || i === count)) return false;
  }
  if (!language.indented) return true;
  return hasEvenBlocks(old) && hasEvenBlocks(next) && sameBelow(old, a.end, next, b.end, shared);
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

/** Tokens of a stretch, and where its lines begin and end in the text. */
interface Range {
  first: number;
  last: number;
  from: number;
  to: number;
}

function rangeOf(syntax: Syntax, { start, end }: Lines): Range {
  const from = syntax.lines[start];
  const to = syntax.lines[end];
  const first = tokenAfter(syntax, from);
  let last = first;
  while (last < syntax.tokens.length && syntax.start[syntax.tokens[last]] < to) last++;
  return { first, last, from, to };
}

/** What stands before the n-th token of a stretch, as far as it belongs to it; for the number of tokens, behind the last one. */
function gapWithin(syntax: Syntax, { first, last, from, to }: Range, n: number): string {
  const token = first + n;
  const begin = token > 0 ? Math.max(syntax.end[syntax.tokens[token - 1]], from) : from;
  const end = token < last ? syntax.start[syntax.tokens[token]] : to;
  return end > begin ? syntax.text.slice(begin, Math.min(end, syntax.text.length)) : "";
}

function sameAncestors(old: Syntax, a: number, next: Syntax, b: number, shared: SharedLines): boolean {
  let i = old.tokens[a];
  let j = next.tokens[b];
  if (old.depth[i] !== next.depth[j]) return false;
  for (; i >= 0 && j >= 0; i = old.parent[i], j = next.parent[j]) {
    if (old.type[i] !== next.type[j]) return false;
    if (old.parent[i] < 0) break;
    const [oldLine, newLine] = [lineAt(old, old.start[i]), lineAt(next, next.start[j])];
    const place = shared.old(oldLine);
    if (place !== shared.next(newLine)) return false;
    if (place >= 0 && old.start[i] - old.lines[oldLine] !== next.start[j] - next.lines[newLine]) return false;
  }
  return true;
}

/** White space that is nothing but layout: U+0020, U+0009, and the ends of lines. Anything else beside them is text. */
export const PURE = /^(?:[ \t]|\r?\n)*$/;

/** Characters that may grow together with what they come to stand beside. */
const GLUES = /[-+<>!=&|*/%^~?:.@#$\\`]/;
const WORD = /[\p{L}\p{N}_]/u;
const DIGIT = /^[0-9]/;

/** Whether the white space between two tokens may be either of two. `edge` is where the stretch begins or ends: there a line ends on both sides. */
function mayDiffer(
  language: Language,
  syntax: Syntax,
  before: number,
  after: number,
  [old, next]: readonly [string, string],
  edge: boolean,
): boolean {
  if (old === next) return true;
  if (!PURE.test(old) || !PURE.test(next)) return false;
  if (language.tabless && next.includes("\t") && !old.includes("\t")) return false;
  const left = before >= 0 ? syntax.tokens[before] : -1;
  const right = after < syntax.tokens.length ? syntax.tokens[after] : -1;
  if ((left >= 0 && isKind(syntax, left, EXACT)) || (right >= 0 && isKind(syntax, right, EXACT))) return false;
  // What stands before the first token is a place of its own, and a `\r` is for `endings` to judge.
  if (left < 0 || old.includes("\r") !== next.includes("\r")) return false;
  if (edge || right < 0) return true;
  const leftText = tokenText(syntax, before);
  const rightText = tokenText(syntax, after);
  if ((old === "") !== (next === "")) {
    if (!mayTouch(language, syntax, left, leftText, right, rightText)) return false;
    if (language.macros && isGivenToMacro(syntax, after)) return false;
  }
  if (old.includes("\n") === next.includes("\n")) return true;
  // A comment speaks of the line that it stands on, or of the next one.
  if (isKind(syntax, left, COMMENT) || isKind(syntax, right, COMMENT) || isOrdered(syntax, left)) return false;
  if (language.directives && (rightText.startsWith("#") || isDirective(syntax, left))) return false;
  return mayBreak(language, leftText, rightText) && (!language.indented || isInBrackets(syntax, before));
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
  return depths[token] > 0;
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
