import { lineAt, ofTypes, type Syntax, tokenAfter, tokenText } from "../../grammar/syntax";
import { firstThat } from "../../plain/first-that";
import { isInBrackets } from "./brackets";
import { hasEvenBlocks } from "./even-blocks";
import { mayDiffer } from "./gaps";
import { idleAbove } from "./idle-signs";
import { sameButForIndent } from "./idle-space";
import { sameInQuotes } from "./quotes";
import { type Lines, type Range, rangeOf, withoutIdle } from "./range";
import type { SharedLines } from "./shared-lines";
import { signsOf } from "./signs";

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
  const isSame = (one: Range, other: Range, sameText: SameText) =>
    saysSame(one, other, sameText, shared) &&
    (!language.indented || (hasEvenBlocks(old) && hasEvenBlocks(next) && sameBelow(old, a.end, next, b.end, shared)));
  const [left, right] = [rangeOf(old, a), rangeOf(next, b)];
  if (isSame(left, right, isSameText)) return "layout";
  return signsOf(language.id) && isSame(withoutIdle(left), withoutIdle(right), isSameInQuotes) ? "style" : null;
}

/** Whether two tokens say the same; places among those of either side. */
type SameText = (old: Syntax, a: number, next: Syntax, b: number) => boolean;

const isSameText: SameText = (old, a, next, b) =>
  old.type[old.tokens[a]] === next.type[next.tokens[b]] &&
  (tokenText(old, a) === tokenText(next, b) || sameButForIndent(old, a, next, b));
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
  const above = outermost(next, to - 1);
  const last = Math.max(above, from >= 1 ? outermost(old, from - 1) - from + to : above);
  const elsewhere = linesElsewhere(old, next, shared);
  return !(elsewhere[firstThat(elsewhere.length, (at) => elsewhere[at] >= to)] <= last);
}

const ELSEWHERE = new WeakMap<SharedLines, number[]>();

/** The unchanged lines that lie deeper than they did, or less deep, as lines of the new state: of each file told once. */
function linesElsewhere(old: Syntax, next: Syntax, shared: SharedLines): number[] {
  let elsewhere = ELSEWHERE.get(shared);
  if (elsewhere) return elsewhere;
  elsewhere = [];
  for (let i = 0; i < old.lines.length - 1; i++) {
    const j = shared.old(i);
    if (j >= 0 && j < next.lines.length - 1 && liesElsewhere(old, i, next, j)) elsewhere.push(j);
  }
  ELSEWHERE.set(shared, elsewhere);
  return elsewhere;
}

function liesElsewhere(old: Syntax, i: number, next: Syntax, j: number): boolean {
  const [a, b] = [tokenAfter(old, old.lines[i]), tokenAfter(next, next.lines[j])];
  if (a >= old.tokens.length || b >= next.tokens.length) return false;
  const [x, y] = [old.tokens[a], next.tokens[b]];
  // An empty line lies nowhere, and what goes on in brackets where what it goes on with begins.
  if (old.start[x] >= old.lines[i + 1] && next.start[y] >= next.lines[j + 1]) return false;
  if (isInBrackets(old, a - 1) && isInBrackets(next, b - 1)) return false;
  return old.depth[x] !== next.depth[y];
}

/** The last line of what lies directly under the root and holds a line; both 0-based. */
function outermost(syntax: Syntax, line: number): number {
  const node = syntax.tokens[Math.min(tokenAfter(syntax, syntax.lines[line]), syntax.tokens.length - 1)];
  let at = node;
  while (syntax.depth[at] > 1) at = syntax.parent[at];
  return lineAt(syntax, Math.max(syntax.start[at], syntax.end[at] - 1)) + 1;
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
