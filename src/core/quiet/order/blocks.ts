import type { Hunk } from "../../diff/hunk";
import type { Syntax } from "../../grammar/syntax";
import { firstNodeOf, isDefinition, nameOf } from "../places";

/** So many unchanged lines beside a hunk tell which blocks are the same before and after it. */
const BESIDE = 3;

/** The named block around a node, 0 for none, and a number for the names of all that are around it: equal where those are the same. */
interface Around {
  block: number;
  names: number;
}

/** Tells which named blocks, such as functions, are the same in two states of a file. */
export class Blocks {
  private readonly numbers = new Map<string, number>();
  private readonly known = new WeakMap<Syntax, Map<number, Around>>();
  private readonly told = new WeakMap<Syntax, Set<string>>();

  /**
   * Whether two lines of the states of one file, 0-based, lie in the same block: in one with the same names around it, or in one that has unchanged
   * lines in common with the other. So a function that was given another name, or was put around what stood there, is no other place.
   */
  areSame(hunks: readonly Hunk[], old: Syntax, i: number, next: Syntax, j: number): boolean {
    const [was, is] = [this.around(old, i), this.around(next, j)];
    return was.names === is.names || this.shared(hunks, old, next).has(`${was.block} ${is.block}`);
  }

  /** What is around the first node of a line; around one without, as at the top of the file. */
  around(syntax: Syntax, line: number): Around {
    const top = { block: 0, names: 0 };
    const known = this.known.get(syntax) ?? new Map([-1, 0].map((node) => [node, top]));
    this.known.set(syntax, known);
    const path: number[] = [];
    let node = syntax.parent[firstNodeOf(syntax, line)?.node ?? 0];
    for (; !known.has(node); node = syntax.parent[node]) path.push(node);
    let around = known.get(node)!;
    for (const at of path.toReversed()) {
      const name = isDefinition(syntax, at) ? nameOf(syntax, at) : null;
      if (name !== null) around = { block: at, names: this.number(around.names, name) };
      known.set(at, around);
    }
    return around;
  }

  private number(above: number, name: string): number {
    const key = `${above} ${name}`;
    const number = this.numbers.get(key) ?? this.numbers.size + 1;
    this.numbers.set(key, number);
    return number;
  }

  /** The pairs of blocks in which the same unchanged line lies. */
  private shared(hunks: readonly Hunk[], old: Syntax, next: Syntax): ReadonlySet<string> {
    let told = this.told.get(next);
    if (told) return told;
    told = new Set();
    const count = Math.min(old.lines.length, next.lines.length);
    for (const [n, { oldStart, oldEnd, newStart, newEnd }] of hunks.entries()) {
      const from = hunks[n - 1]?.newEnd ?? 0;
      const until = hunks[n + 1]?.newStart ?? count;
      for (let by = 1; by <= BESIDE; by++) {
        if (newStart - by >= from) this.tell(told, old, oldStart - by, next, newStart - by);
        if (newEnd + by <= until) this.tell(told, old, oldEnd + by - 1, next, newEnd + by - 1);
      }
    }
    this.told.set(next, told);
    return told;
  }

  private tell(told: Set<string>, old: Syntax, i: number, next: Syntax, j: number): void {
    if (firstNodeOf(old, i) && firstNodeOf(next, j))
      told.add(`${this.around(old, i).block} ${this.around(next, j).block}`);
  }
}
