import { childrenOf, sizesOf } from "../../grammar/children";
import { COMMENT, isKind, lineAt, nodeText, ofTypes, type Syntax, tokenAfter, tokenText } from "../../grammar/syntax";
import { range } from "../../plain/range";
import type { SharedLines } from "../stretch/shared-lines";
import type { Nesting } from "./nesting";
import { ANY, type NamedIn, namedIn, wordsOf } from "./own-names";
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

/** A name that more statements give is taken for one that nobody sees: each would be looked at for each group of lines. */
const MOST_ASKED = 50;

/** What a reader sees of the lines of one side, 0-based. */
export interface Seen {
  isRead: (line: number) => boolean;
  /** What another kind of quiet took may be folded, and tells another story. */
  isTaken: (line: number) => boolean;
}

/** What holds statements on one side, and what a reader sees of it. Each holder is looked at once. */
export class Sight {
  /** Of lists: whether all of their own words are read, and the word behind which their statements stand; -1 where there is none. */
  private readonly lists = new Map<number, { read: boolean; opens: number }>();
  private readonly named = new Map<number, NamedIn>();

  constructor(
    private readonly syntax: Syntax,
    private readonly nesting: Nesting,
    private readonly seen: Seen,
  ) {}

  /**
   * Whether what was put around a unit, or taken away from around it, is all before the reader's eyes: each of its holders on that side only decides whether it is run, and every
   * word and bracket of theirs stands on a line that is read.
   */
  holds(unit: Unit, holders: readonly number[]): boolean {
    const { syntax, nesting } = this;
    let child = unit.first;
    let isBranch = false;
    for (const holder of holders) {
      const isLoop = nesting.loops?.(syntax, holder) ?? false;
      if (!isLoop && !nesting.holders(syntax, holder)) return false;
      // What stands in the `else` of a loop is run unless the loop is left: hardly anyone knows.
      if (isLoop && (isBranch || leavesLoop(unit))) return false;
      if (!(nesting.lists(syntax, holder) ? this.isListRead(holder, child) : this.isHeadRead(holder, child, isBranch)))
        return false;
      isBranch = nesting.branches(syntax, holder);
      child = holder;
    }
    return true;
  }

  /** Whether units mean something that one of their holders names for what stands in it, other than by themselves, on a line that nobody reads. */
  meansUnseen(units: readonly Unit[], holders: readonly number[]): boolean {
    const { syntax, nesting } = this;
    const lists = holders.filter((holder) => nesting.lists(syntax, holder)).map((list) => this.namedIn(list));
    if (lists.every(({ size }) => size === 0)) return false;
    const own = new Set(units.flatMap(({ lines }) => range(lines.start, lines.end)));
    const isUnseen = (statement: number) =>
      !this.linesOf(statement).every((line) => own.has(line) || this.seen.isRead(line));
    const isNamed = (name: string) =>
      lists.some((named) => {
        const statements = named.get(name) ?? [];
        return statements.length > MOST_ASKED || statements.some(isUnseen);
      });
    const words = units.map(({ lines }) => wordsOf(syntax, syntax.lines[lines.start], syntax.lines[lines.end]));
    return isNamed(ANY) || words.some((some) => [...some].some(isNamed));
  }

  private namedIn(list: number): NamedIn {
    let named = this.named.get(list);
    if (!named) {
      named = namedIn(this.syntax, list, this.nesting);
      this.named.set(list, named);
    }
    return named;
  }

  private isListRead(list: number, child: number): boolean {
    let known = this.lists.get(list);
    if (!known) {
      known = this.lookAtList(list);
      this.lists.set(list, known);
    }
    return known.read && (!this.nesting.opens || (known.opens >= 0 && known.opens < child));
  }

  private lookAtList(list: number): { read: boolean; opens: number } {
    const { syntax, nesting } = this;
    const children = childrenOf(syntax, list);
    const opens = children.find((node) => isSign(syntax, node) && nesting.opens?.test(nodeText(syntax, node))) ?? -1;
    const isOwn = (node: number) => isSign(syntax, node) || node < opens || nesting.heads?.(syntax, node);
    return { read: children.every((node) => !isOwn(node) || this.isPartRead(node)), opens };
  }

  /** `isBranch`: the child is a branch, whose own head says what it goes on with. */
  private isHeadRead(holder: number, child: number, isBranch: boolean): boolean {
    const { syntax } = this;
    const children = childrenOf(syntax, holder);
    const at = children.indexOf(child);
    // Behind `else` it does not matter what is asked before it; what is named there does.
    const isElse = (node: number) => isSign(syntax, node) && nodeText(syntax, node) === "else";
    const otherwise = isBranch ? children.length : children.findLastIndex((node, n) => n < at && isElse(node));
    return children.every((node, n) => {
      if (node === child || isKind(syntax, node, COMMENT)) return true;
      if (!isSign(syntax, node) && this.isOtherPart(node)) return !this.linesOf(node).some(this.seen.isTaken);
      return n < otherwise ? !this.namesSomething(node) : this.isPartRead(node);
    });
  }

  private isPartRead(node: number): boolean {
    return !this.namesSomething(node) && this.linesOf(node).every(this.seen.isRead);
  }

  /** Whether a part of a holder stands beside the one that was changed, and holds other statements. */
  private isOtherPart(node: number): boolean {
    const { syntax, nesting } = this;
    return nesting.lists(syntax, node) || nesting.branches(syntax, node) || (nesting.aside?.(syntax, node) ?? false);
  }

  private namesSomething(node: number): boolean {
    const { syntax, nesting } = this;
    const end = node + sizesOf(syntax)[node];
    for (let at = node; at < end; at++) if (NAMING(syntax, at) || nesting.naming?.(syntax, at)) return true;
    return false;
  }

  /** The lines that a node stands on, white space at its end left out. */
  private linesOf(node: number): number[] {
    const { syntax } = this;
    const first = lineAt(syntax, syntax.start[node]);
    const length = nodeText(syntax, node).trimEnd().length;
    const last = lineAt(syntax, syntax.start[node] + Math.max(0, length - 1));
    return Array.from({ length: last - first + 1 }, (_, n) => first + n);
  }
}

function leavesLoop({ syntax, lines }: Unit): boolean {
  const { tokens, start } = syntax;
  for (let at = tokenAfter(syntax, syntax.lines[lines.start]); at < tokens.length; at++) {
    if (start[tokens[at]] >= syntax.lines[lines.end]) return false;
    if (LEAVES_LOOP.test(tokenText(syntax, at))) return true;
  }
  return false;
}
