import { childrenOf, sizesOf } from "../../grammar/children";
import { isKind, lineAt, SMALL, type Syntax, TEXT } from "../../grammar/syntax";
import { firstThat } from "../../plain/first-that";
import type { Lines } from "../stretch/range";
import { type Member, memberOf, wordsOf } from "./members";

/** One state of a file, its members by what holds them. */
export class State {
  private readonly membersOf = new Map<number, { node: number; lines: Lines }[]>();
  private readonly known = new Map<number, Member>();
  private readonly places = new Map<number, number>();
  private readonly apart = new Map<number, boolean>();
  private readonly wordsIn = new Map<number, ReadonlySet<string>>();

  /** `whole` where all of it was taken apart, not only what changed. */
  constructor(
    readonly syntax: Syntax,
    private readonly whole: boolean,
  ) {}

  /** Whether of a node, or of something in it, no more than the text is known. */
  isApart(node: number): boolean {
    if (this.whole) return false;
    let apart = this.apart.get(node);
    if (apart === undefined) {
      const sizes = sizesOf(this.syntax);
      const { start, end } = this.syntax;
      apart = false;
      for (let at = node; at < node + sizes[node] && !apart; at++)
        apart = sizes[at] === 1 && end[at] - start[at] > SMALL && !isKind(this.syntax, at, TEXT);
      this.apart.set(node, apart);
    }
    return apart;
  }

  /** The members of a node. */
  private members(holder: number): { node: number; lines: Lines }[] {
    let members = this.membersOf.get(holder);
    if (!members) {
      members = childrenOf(this.syntax, holder).map((node) => ({ node, lines: linesOf(this.syntax, node) }));
      this.membersOf.set(holder, members);
    }
    return members;
  }

  /** Those of them that have lines in common with some, in their order. */
  *among(holder: number, { start, end }: Lines): Generator<{ node: number; lines: Lines }> {
    const members = this.members(holder);
    let at = firstThat(members.length, (place) => members[place].lines.end > start);
    for (; at < members.length && members[at].lines.start < end; at++) yield members[at];
  }

  /** Which of the children of its parent a node is. */
  placeOf(node: number): number {
    let place = this.places.get(node);
    if (place === undefined) {
      for (const [n, child] of childrenOf(this.syntax, this.syntax.parent[node]).entries()) this.places.set(child, n);
      place = this.places.get(node)!;
    }
    return place;
  }

  /** All words in a node. */
  words(node: number): ReadonlySet<string> {
    let words = this.wordsIn.get(node);
    if (!words) {
      words = wordsOf(this.syntax, node);
      this.wordsIn.set(node, words);
    }
    return words;
  }

  member(node: number): Member {
    let member = this.known.get(node);
    if (!member) {
      member = memberOf(this.syntax, node);
      this.known.set(node, member);
    }
    return member;
  }
}

/** The lines that a node has a part of. */
export function linesOf(syntax: Syntax, node: number): Lines {
  const { start, end } = syntax;
  return { start: lineAt(syntax, start[node]), end: lineAt(syntax, Math.max(start[node], end[node] - 1)) + 1 };
}
