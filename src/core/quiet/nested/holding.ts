import { childrenOf, sizesOf } from "../../grammar/children";
import { COMMENT, isKind, lineAt, nodeText, ofTypes, type Syntax, tokenAfter, tokenText } from "../../grammar/syntax";
import type { SharedLines } from "../stretch/shared-lines";
import type { Nesting } from "./nesting";
import { isSign, type Unit } from "./unit";

/** What holds a unit on either side and does not hold the other, from the inside out; and the innermost node that holds both. */
export interface Holding {
  old: number[];
  next: number[];
  within: { old: number; next: number };
}

/** Parts two units' holders into those that hold both and those that do not. Both hold what begins at the same place of a line that did not change. */
export function holdingOf(a: Unit, b: Unit, shared: SharedLines): Holding {
  const [old, next] = [above(a), above(b)];
  let [i, j] = [old.length, next.length];
  const isShared = (x: number, y: number) => {
    const [left, right] = [a.syntax, b.syntax];
    if (left.type[x] !== right.type[y]) return false;
    // The root begins where its first node does.
    if (left.parent[x] < 0) return right.parent[y] < 0;
    const [oldLine, newLine] = [lineAt(left, left.start[x]), lineAt(right, right.start[y])];
    const place = shared.old(oldLine);
    const column = left.start[x] - left.lines[oldLine];
    return place >= 0 && place === shared.next(newLine) && column === right.start[y] - right.lines[newLine];
  };
  while (i > 0 && j > 0 && isShared(old[i - 1], next[j - 1])) [i, j] = [i - 1, j - 1];
  return { old: old.slice(0, i), next: next.slice(0, j), within: { old: old[i] ?? -1, next: next[j] ?? -1 } };
}

/** All that holds a unit, from its list to the root. */
function above({ syntax, list }: Unit): number[] {
  const nodes: number[] = [];
  for (let node = list; node >= 0; node = syntax.parent[node]) nodes.push(node);
  return nodes;
}

/** What names something in a head for what stands behind it. */
const NAMING = ofTypes((name) => /pattern|declarat|let_cond|^type_test/.test(name));
const LEAVES_LOOP = /^(?:break|continue|next|redo|retry|last)$/;

/**
 * Whether what was put around a unit, or taken away from around it, is all before the reader's eyes: each of its holders on that side only decides whether it is run, and every word and
 * bracket of theirs stands on a line that is read.
 */
export function isHeldInSight(
  unit: Unit,
  holders: readonly number[],
  nesting: Nesting,
  isRead: (line: number) => boolean,
): boolean {
  const { syntax } = unit;
  let child = unit.first;
  let isBranch = false;
  for (const holder of holders) {
    const isLoop = nesting.loops?.(syntax, holder) ?? false;
    if (!isLoop && !nesting.holders(syntax, holder)) return false;
    if (isLoop && leavesLoop(unit)) return false;
    // The head of a branch says what it goes on with.
    if (!isBranch && !isHeadRead(syntax, holder, child, nesting, isRead)) return false;
    isBranch = nesting.branches(syntax, holder);
    child = holder;
  }
  return true;
}

function isHeadRead(
  syntax: Syntax,
  holder: number,
  child: number,
  nesting: Nesting,
  isRead: (line: number) => boolean,
): boolean {
  const isRun = nesting.lists(syntax, holder);
  const children = childrenOf(syntax, holder);
  const at = children.indexOf(child);
  // Behind `else` it does not matter what stands before it.
  const otherwise = children.findLastIndex(
    (node, n) => n < at && nodeText(syntax, node) === "else" && isSign(syntax, node),
  );
  const opens = isRun
    ? children.findIndex((node) => nesting.opens?.test(nodeText(syntax, node)) && isSign(syntax, node))
    : -1;
  if (isRun && nesting.opens && (opens < 0 || opens > (at < 0 ? Number.POSITIVE_INFINITY : at))) return false;
  return children.every((node, n) => {
    if (node === child || isKind(syntax, node, COMMENT)) return true;
    if (n < otherwise) return true;
    if (isRun && !isSign(syntax, node) && !nesting.heads?.(syntax, node) && n > opens) return true;
    if (!isSign(syntax, node) && isOtherPart(syntax, node, nesting)) return true;
    return !namesSomething(syntax, node) && linesOf(syntax, node).every(isRead);
  });
}

/** Whether a part of a holder stands beside the one that was changed, and holds other statements. */
function isOtherPart(syntax: Syntax, node: number, nesting: Nesting): boolean {
  return nesting.lists(syntax, node) || nesting.branches(syntax, node) || (nesting.aside?.(syntax, node) ?? false);
}

function namesSomething(syntax: Syntax, node: number): boolean {
  const end = node + sizesOf(syntax)[node];
  for (let at = node; at < end; at++) if (NAMING(syntax, at)) return true;
  return false;
}

function leavesLoop({ syntax, lines }: Unit): boolean {
  const { tokens, start } = syntax;
  for (let at = tokenAfter(syntax, syntax.lines[lines.start]); at < tokens.length; at++) {
    if (start[tokens[at]] >= syntax.lines[lines.end]) return false;
    if (LEAVES_LOOP.test(tokenText(syntax, at))) return true;
  }
  return false;
}

/** The lines that a node stands on, white space at its end left out. */
function linesOf(syntax: Syntax, node: number): number[] {
  const first = lineAt(syntax, syntax.start[node]);
  const length = nodeText(syntax, node).trimEnd().length;
  const last = lineAt(syntax, syntax.start[node] + Math.max(0, length - 1));
  return Array.from({ length: last - first + 1 }, (_, n) => first + n);
}
