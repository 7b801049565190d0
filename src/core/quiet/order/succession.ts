import type { Syntax } from "../../grammar/syntax";
import { addTo, groupedBy } from "../../plain/grouped";
import { isCodeLine } from "../places";
import type { Blocks } from "./blocks";
import { type MovedLines, movedWhole } from "./definition-order";

type Pair = [old: number, next: number];

/** Comments, lines with nothing on them, and definitions that are there wherever they stand. */
const FREE = "";

/** A part of a moved block that went from one named block to another. */
interface Part {
  isWhole: boolean;
  old: [first: number, last: number];
  next: [first: number, last: number];
}

/**
 * Holds what goes from one named block or file to another to its order: what stood before something else that went the same way stands before it
 * there, too, since the order of statements is what they do. Of definitions only those that are run where they stand, against statements.
 */
export class Succession {
  private readonly parts = new WeakMap<Syntax, WeakMap<Syntax, Map<string, Part[]>>>();

  constructor(private readonly blocks: Blocks) {}

  /** Of the lines of a moved block those that keep their order among all that were asked about before: larger blocks are asked about first. */
  keeping(pairs: readonly Pair[], moved: MovedLines, old: Syntax, next: Syntax): Pair[] {
    const before = this.between(old, next);
    const { order } = next.language;
    const areFree = order === "always" || order === "ahead";
    const wayOf = ([i, j]: Pair) => {
      if (!isCodeLine(next, j)) return FREE;
      const isWhole = movedWhole(next, j, moved.next.lines) >= 0;
      if (isWhole && areFree) return FREE;
      return `${this.blocks.around(old, i).block} ${this.blocks.around(next, j).block} ${isWhole}`;
    };
    const out = new Set<string>();
    for (const [way, [first, ...more]] of groupedBy(pairs, wayOf)) {
      if (way === FREE) continue;
      const last = more.at(-1) ?? first;
      const [was, is, isWhole] = way.split(" ");
      const part: Part = { isWhole: isWhole === "true", old: [first[0], last[0]], next: [first[1], last[1]] };
      const others = before.get(`${was} ${is}`) ?? [];
      if (others.every((other) => follows(part, other))) addTo(before, `${was} ${is}`, part);
      else out.add(way);
    }
    return out.size === 0 ? [...pairs] : pairs.filter((pair) => !out.has(wayOf(pair)));
  }

  private between(old: Syntax, next: Syntax): Map<string, Part[]> {
    const from = this.parts.get(old) ?? new WeakMap<Syntax, Map<string, Part[]>>();
    this.parts.set(old, from);
    const parts = from.get(next) ?? new Map<string, Part[]>();
    from.set(next, parts);
    return parts;
  }
}

/** Whether two parts stand in the same order before and after, or are two definitions, which may stand in any. */
function follows(one: Part, other: Part): boolean {
  if (one.isWhole && other.isWhole) return true;
  if (one.old[1] < other.old[0]) return one.next[1] < other.next[0];
  return one.old[0] > other.old[1] && one.next[0] > other.next[1];
}
