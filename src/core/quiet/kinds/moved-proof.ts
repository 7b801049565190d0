import type { ParseAsk } from "../../grammar/parse";
import { COMMENT, isKind, type Syntax, tokenAfter, typeOf } from "../../grammar/syntax";
import type { ClassedFile, Side } from "../classes";
import type { Blocks } from "../order/blocks";
import { DefinitionOrder, type MovedLines } from "../order/definition-order";
import { Namesakes } from "../order/namesakes";
import { Seams } from "../order/seams";
import { Succession } from "../order/succession";
import { blockName, firstNodeOf, isCodeLine, textFrom } from "../places";
import { Reach } from "../reached";
import { settingOf } from "../setting";
import { hasEvenBlocks } from "../stretch/even-blocks";
import { printsText } from "./layout-stretches";

type Pair = [old: number, next: number];

/** A state of a file as it is asked again and again. */
interface Place {
  syntax: Syntax;
  reach: Reach;
}

/**
 * What proves of a line that it moved: both files are of one language and parse without errors; the line is made of the same kinds of tokens
 * at both ends, so it went neither into nor out of a comment or text; no end lies where nothing is ever reached; where indentation is
 * structure, both ends have the same kind of parent; and what stays within the same named block is a whole definition that may stand
 * elsewhere in it, see {@link DefinitionOrder}; and what goes elsewhere meets no other of its name, see {@link Namesakes},
 * and stays in its order, see {@link Succession}; and what stands around either place is no other without it, see {@link Seams}.
 */
export class MoveProof {
  private readonly places = new Map<string, Place | null>();
  private readonly orders = new Map<number, DefinitionOrder>();
  private readonly seams = new Map<number, Seams>();
  private readonly namesakes = new Namesakes();
  private readonly succession: Succession;

  constructor(
    private readonly files: readonly ClassedFile[],
    private readonly blocks: Blocks,
  ) {
    this.succession = new Succession(blocks);
  }

  /** The pairs of lines, 0-based, for which it holds. */
  proven(from: number, to: number, pairs: readonly Pair[], moved: MovedLines): Pair[] {
    const old = this.place(from, "old");
    const next = old && this.place(to, "new");
    if (!old || !next || old.syntax.language !== next.syntax.language) return [];
    const partner = new Map(pairs.map(([i, j]) => [i, j]));
    const isAmongOthers = (pair: Pair) => {
      const [i, j] = pair;
      const stays = from === to && this.blocks.areSame(this.files[from].hunks, old.syntax, i, next.syntax, j);
      if (stays) return this.order(from).holds(moved, pair);
      return !this.namesakes.has(old.syntax, i, moved.old) && !this.namesakes.has(next.syntax, j, moved.next);
    };
    const found = pairs.filter(
      ([i, j]) =>
        sameTokens(this.files[from].old[i], old.syntax, i, this.files[to].next[j], next.syntax, j, partner) &&
        samePlace(old, i, next, j, moved, isAmongOthers) &&
        this.seam(from).hold("old", i) &&
        this.seam(to).hold("new", j),
    );
    return this.succession.keeping(found, moved, old.syntax, next.syntax);
  }

  /** The named blocks that the first line of code lies in at either end. */
  names(from: number, to: number, pairs: readonly Pair[]): [from: string | null, to: string | null] {
    const [old, next] = [this.place(from, "old")!.syntax, this.place(to, "new")!.syntax];
    const [i, j] = pairs.find(([, line]) => isCodeLine(next, line)) ?? pairs[0];
    return [blockName(old, i), blockName(next, j)];
  }

  /** What will be read for blocks, in their order. */
  willRead(blocks: readonly { fromFile: number; toFile: number }[]): ParseAsk[][] {
    const seen = new Set<number>();
    return blocks.flatMap(({ fromFile, toFile }) =>
      [[fromFile, "old"] as const, [toFile, "new"] as const].flatMap(([file, side]) => {
        if (seen.has(file)) return [];
        seen.add(file);
        const of = this.files[file];
        const isBoth = of.old.length > 0 && of.next.length > 0;
        return printsText(of) ? [] : [isBoth ? of.unread("old", "new") : of.unread(side)];
      }),
    );
  }

  private order(file: number): DefinitionOrder {
    const order = this.orders.get(file) ?? new DefinitionOrder(this.files[file]);
    this.orders.set(file, order);
    return order;
  }

  private seam(file: number): Seams {
    const seams = this.seams.get(file) ?? new Seams(this.files[file]);
    this.seams.set(file, seams);
    return seams;
  }

  private place(file: number, side: Side): Place | null {
    const key = `${side}${file}`;
    let place = this.places.get(key);
    if (place === undefined) {
      const of = this.files[file];
      // Both states of a file that is on both sides: the second costs little, parsed from the first.
      if (of.old.length > 0 && of.next.length > 0) of.syntaxes();
      const syntax = printsText(of) ? null : of.syntax(side);
      const isSure = syntax && (!syntax.language.indented || hasEvenBlocks(syntax));
      place = isSure ? { syntax, reach: new Reach(syntax) } : null;
      this.places.set(key, place);
    }
    return place;
  }
}

function sameTokens(
  oldLine: string,
  old: Syntax,
  i: number,
  newLine: string,
  next: Syntax,
  j: number,
  partner: ReadonlyMap<number, number>,
): boolean {
  const [began, begins] = [textFrom(old, i), textFrom(next, j)];
  if (began < 0 !== begins < 0) return false;
  let a = tokenAfter(old, old.lines[i]);
  let b = tokenAfter(next, next.lines[j]);
  if (began >= 0) {
    // A text that goes over several lines moved as a whole from its beginning; only comments may be indented anew.
    const [left, right] = [old.tokens[a++], next.tokens[b++]];
    if (typeOf(old, left) !== typeOf(next, right) || partner.get(began) !== begins) return false;
    if (oldLine !== newLine && !isKind(old, left, COMMENT)) return false;
  }
  const shift = newLine.length - oldLine.length;
  for (;;) {
    const [left, right] = [old.tokens[a], next.tokens[b]];
    const ended = left === undefined || old.start[left] >= old.lines[i + 1];
    const ends = right === undefined || next.start[right] >= next.lines[j + 1];
    if (ended || ends) return ended === ends;
    if (old.type[left] !== next.type[right]) return false;
    if (next.start[right] - next.lines[j] - (old.start[left] - old.lines[i]) !== shift) return false;
    a++;
    b++;
  }
}

function samePlace(
  old: Place,
  i: number,
  next: Place,
  j: number,
  moved: MovedLines,
  isAmongOthers: (pair: Pair) => boolean,
): boolean {
  const before = firstNodeOf(old.syntax, i);
  const after = firstNodeOf(next.syntax, j);
  // Within a comment or text that moved along, or an empty line: its first line was asked.
  if (!before || !after) return before === after;
  if (isKind(next.syntax, next.syntax.tokens[after.token], COMMENT)) return true;
  const setting = settingOf(next.syntax, after.node, moved.next.lines.start);
  if (setting === null || settingOf(old.syntax, before.node, moved.old.lines.start) !== setting) return false;
  if (old.reach.isDead(before.node) || next.reach.isDead(after.node)) return false;
  const { language } = next.syntax;
  if (language.indented && parents(old.syntax, before.node) !== parents(next.syntax, after.node)) return false;
  return isAmongOthers([i, j]);
}

/** The kinds of a node's parent and of what that belongs to. */
function parents(syntax: Syntax, node: number): string {
  const above = syntax.parent[node];
  if (above < 0) return "";
  const type = typeOf(syntax, above);
  return type === "block" ? `${type} ${typeOf(syntax, syntax.parent[above])}` : type;
}
