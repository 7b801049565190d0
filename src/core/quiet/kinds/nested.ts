import { type Hunk, sharedPairs } from "../../diff/hunk";
import { diffLines } from "../../diff/lines";
import { isOrder } from "../../grammar/orders";
import { COMMENT, isKind, type Syntax } from "../../grammar/syntax";
import { addTo } from "../../plain/grouped";
import { range } from "../../plain/range";
import type { ClassedFile, LineClass } from "../classes";
import { type Holding, holdingOf, type Seen, Sight } from "../nested/holding";
import { type Nesting, nestingOf } from "../nested/nesting";
import { namesStayWithin } from "../nested/own-names";
import { commentsOf, isSameUnit, statementsOf, type Unit, unitAt } from "../nested/unit";
import { Reach } from "../reached";
import { hasEvenBlocks } from "../stretch/even-blocks";
import { type SharedLines, sharedLines } from "../stretch/shared-lines";
import type { Joined } from "./joined-lines";
import { isBlank, printsText } from "./layout-stretches";
import { nearHunks } from "./near-hunks";
import type { ProvenLines } from "./proven-lines";

/** A line of either side, 0-based. */
type Pair = readonly [old: number, next: number];

/** Near hunks: their lines of either side, without what they begin with, and which of them are the same. */
interface Near {
  old: string[];
  next: string[];
  pairs: Pair[];
}

/** Statements that were put deeper or less deep, and what holds them on either side. */
interface Nested {
  old: Unit;
  next: Unit;
  holding: Holding;
}

/**
 * Finds statements that are the same but stand in another block of the same function, which was put around them or taken away: `nested`. What makes that block is to be read, on either side, wherever it stands.
 * Comes behind all other kinds, so that none of them takes what makes the block. `proven` holds the lines that were told as layout or style.
 */
export function classNested(file: ClassedFile, proven: ProvenLines): void {
  const nesting = file.language && nestingOf(file.language.id);
  if (!nesting || printsText(file)) return;
  const near = nearHunks(file.hunks)
    .flatMap((hunks) => pairedIn(file, hunks) ?? [])
    .filter(({ pairs }) => pairs.some(isWorth(file)));
  const syntaxes = near.length > 0 ? file.syntaxes() : null;
  if (!syntaxes) return;
  if (nesting.nowhere?.test(syntaxes.old.text) || nesting.nowhere?.test(syntaxes.next.text)) return;
  if (file.language?.indented && !(hasEvenBlocks(syntaxes.old) && hasEvenBlocks(syntaxes.next))) return;
  const finding = new Finding(file, nesting, syntaxes, sharedLines(file.hunks));
  // Which of several brackets below each other is the one that did not change is for the comparison to guess.
  const passing = proven.counting({
    old: (line) => !isClosing(file.old[line]),
    next: (line) => !isClosing(file.next[line]),
  });
  for (const lines of near)
    for (const group of groupsOf(finding.unitsOn(lines.pairs), nesting)) {
      if (group.length === 0 || !isNoAccident(group, file, lines) || !finding.meansTheSame(group)) continue;
      for (const { old, next } of group) {
        const lines = { old: old.lines, next: next.lines };
        if (!passing.allows(lines)) continue;
        passing.add(lines);
        set(file, lines);
      }
    }
}

/** Kinds that say which line stands for which by themselves. */
const PAIRED: readonly (LineClass | null)[] = ["repeated", "endings", "imports", "generated"];

function set(file: ClassedFile, { old, next }: Joined): void {
  for (let n = 0; n < old.end - old.start; n++) {
    const [i, j] = [old.start + n, next.start + n];
    // Of several that say the same, the comparison may have left another one unchanged on either side.
    if (isBlank(file.old[i])) continue;
    file.set("old", i, "nested");
    file.set("new", j, "nested");
  }
}

/** The lines of near hunks that are the same on both sides but for what they begin with. */
function pairedIn(file: ClassedFile, hunks: readonly Hunk[]): Near | null {
  const [first, last] = [hunks[0], hunks[hunks.length - 1]];
  if (!hunks.some(({ oldStart, oldEnd }) => oldStart < oldEnd) || !hunks.some((one) => one.newStart < one.newEnd))
    return null;
  const isPaired = ({ oldStart, oldEnd, newStart, newEnd }: Hunk) =>
    range(oldStart, oldEnd).some((line) => PAIRED.includes(file.classAt("old", line))) ||
    range(newStart, newEnd).some((line) => PAIRED.includes(file.classAt("new", line)));
  if (hunks.some(isPaired)) return null;
  const bareOf = (lines: readonly string[], start: number, end: number) => lines.slice(start, end).map(bare);
  const old = bareOf(file.old, first.oldStart, last.oldEnd);
  const next = bareOf(file.next, first.newStart, last.newEnd);
  const shared = sharedPairs(diffLines(old, next), old.length);
  return { old, next, pairs: shared.map(([i, j]) => [first.oldStart + i, first.newStart + j]) };
}

const bare = (line: string) => line.replace(/^[ \t]+/, "");

/** Whether a pair of lines is open and stands elsewhere, and says something. */
function isWorth(file: ClassedFile): (pair: Pair) => boolean {
  const { old, next } = file;
  return ([i, j]) =>
    old[i] !== next[j] && file.isOpen("old", i) && file.isOpen("new", j) && /\w/.test(old[i]) && !isClosing(old[i]);
}

/** What no other kind of quiet took; what is nested is shown. */
const FREE: readonly (LineClass | null)[] = ["read", "nested", null];
const linesOf = ({ lines }: Unit) => range(lines.start, lines.end);

class Finding {
  /** Where nothing is ever run, no statement is what it was. */
  private readonly reach: { old: Reach; next: Reach };
  private readonly seen: { old: Seen; next: Seen };
  private readonly sight: { old: Sight; next: Sight };

  constructor(
    private readonly file: ClassedFile,
    private readonly nesting: Nesting,
    private readonly syntaxes: { old: Syntax; next: Syntax },
    private readonly shared: SharedLines,
  ) {
    this.reach = { old: new Reach(syntaxes.old), next: new Reach(syntaxes.next) };
    this.seen = { old: this.seenOn("old"), next: this.seenOn("new") };
    this.sight = {
      old: new Sight(syntaxes.old, nesting, this.seen.old),
      next: new Sight(syntaxes.next, nesting, this.seen.next),
    };
  }

  /** Units that begin on pairs of lines, in order. */
  unitsOn(pairs: readonly Pair[]): Nested[] {
    const { file, nesting, syntaxes } = this;
    const found: Nested[] = [];
    let from = 0;
    for (const [i, j] of pairs) {
      if (i < from || !file.isOpen("old", i) || !file.isOpen("new", j) || file.old[i] === file.next[j]) continue;
      const old = unitAt(syntaxes.old, nesting, i);
      const next = old && unitAt(syntaxes.next, nesting, j);
      const nested = next && this.nested(old, next);
      if (!nested) continue;
      found.push(nested);
      from = old.lines.end;
    }
    return found;
  }

  /** Whether nothing that a group names for its block is meant outside of it, on either side, and it means nothing that a block names unseen. */
  meansTheSame(group: readonly Nested[]): boolean {
    const { within, ...holders } = group[0].holding;
    return (["old", "next"] as const).every((side) => {
      const units = group.map((one) => one[side]);
      return namesStayWithin(units, within[side], this.nesting) && !this.sight[side].meansUnseen(units, holders[side]);
    });
  }

  private nested(old: Unit, next: Unit): Nested | null {
    const { nesting } = this;
    if (linesOf(old).some(this.seen.old.isTaken) || linesOf(next).some(this.seen.next.isTaken)) return null;
    if (!isSameUnit(old, next) || !mayStand(old, nesting) || !mayStand(next, nesting)) return null;
    if (this.reach.old.isDead(old.first) || this.reach.next.isDead(next.first)) return null;
    const holding = holdingOf(old, next, this.shared);
    if (holding.old.length === 0 && holding.next.length === 0) return null;
    return this.sight.old.holds(old, holding.old) && this.sight.next.holds(next, holding.next)
      ? { old, next, holding }
      : null;
  }

  private seenOn(side: "old" | "new"): Seen {
    const { file } = this;
    return {
      isRead: (line) => file.isOpen(side, line) || this.closesInSight(side, line),
      isTaken: (line) => !FREE.includes(file.classAt(side, line)),
    };
  }

  /** Whether a line closes something and, though it did not change, stands right beside what did. */
  private closesInSight(side: "old" | "new", line: number): boolean {
    const { file } = this;
    const isChanged = (at: number) => file.classAt(side, at) !== null;
    return !isChanged(line) && isClosing(file.lines(side)[line]) && (isChanged(line - 1) || isChanged(line + 1));
  }
}

/** Nothing but what closes something. */
function isClosing(line: string): boolean {
  return line.length <= LONGEST_CLOSING && /^[ \t]*(?:[)\]}]+[;,]?|end|fi|done|esac|<\/[\w.]*>)[ \t]*\r?$/.test(line);
}
const LONGEST_CLOSING = 200;

/** Whether what stands in a unit may stand in another block. */
function mayStand(unit: Unit, nesting: Nesting): boolean {
  const { syntax, first, end } = unit;
  for (let node = first; node < end; node++) if (nesting.never(syntax, node)) return false;
  if (commentsOf(unit).some((node) => isOrder(syntax, node) || isAtHead(syntax, node))) return false;
  return statementsOf(unit).every(
    (node) => (nesting.only?.(syntax, node) ?? true) && !(nesting.unless?.(syntax, node) ?? false),
  );
}

const FIRST_CODE = new WeakMap<Syntax, number>();

/** Whether nothing but comments stands above one: it may be for all of the file, and for no other where it stands elsewhere. */
function isAtHead(syntax: Syntax, comment: number): boolean {
  const first = FIRST_CODE.get(syntax) ?? syntax.tokens.find((node) => !isKind(syntax, node, COMMENT)) ?? Infinity;
  FIRST_CODE.set(syntax, first);
  return comment < first;
}

/** Units that went from one list to one other, each list by itself; a comment goes with the statement that it stands before. */
function groupsOf(found: readonly Nested[], nesting: Nesting): Nested[][] {
  const groups = new Map<string, Nested[]>();
  for (const one of found) addTo(groups, `${one.old.list} ${one.next.list}`, one);
  const all = [...groups.values()].flatMap((group) => (isOneSided(group[0], nesting) ? [group] : streaksOf(group)));
  return all.map(withoutLastComments);
}

/** Without comments behind which no statement of the group stands, on both sides. */
function withoutLastComments(group: readonly Nested[]): Nested[] {
  const kept: Nested[] = [];
  for (const one of group.toReversed()) {
    const behind = kept.at(-1);
    const goesOn = behind?.old.first === one.old.end && behind.next.first === one.next.end;
    if (goesOn || statementsOf(one.old).length > 0) kept.push(one);
  }
  return kept.reverse();
}

/** Whether blocks were only put around statements, or only taken away: what else holds them are lists, which may begin with their first statement. */
function isOneSided({ old, next, holding }: Nested, nesting: Nesting): boolean {
  return (
    holding.old.every((node) => nesting.lists(old.syntax, node)) ||
    holding.next.every((node) => nesting.lists(next.syntax, node))
  );
}

/** So many lines from one block in another are no accident. */
const LEAST = 3;
/** What leaves its block and says hardly more stands in many. */
const ANY_END = /^(?:return|throw|raise|break|continue|goto|exit|next|pass)\b[^(.[{]{0,16}$/;

/** Whether few lines can be no others: each of them stands once among what was changed, on both sides. */
function isNoAccident(group: readonly Nested[], file: ClassedFile, near: Near): boolean {
  const lines = group
    .flatMap(({ old }) => linesOf(old).map((line) => bare(file.old[line])))
    .filter((line) => line !== "");
  if (lines.length >= LEAST) return true;
  const isOnce = (all: readonly string[], line: string) => all.indexOf(line) === all.lastIndexOf(line);
  return lines.every((line) => isOnce(near.old, line) && isOnce(near.next, line) && !ANY_END.test(line));
}

/** The parts of a group in which statement stands behind statement on both sides, where they are long enough. */
function streaksOf(group: readonly Nested[]): Nested[][] {
  const streaks: Nested[][] = [];
  for (const [n, one] of group.entries()) {
    const before = group[n - 1];
    if (before?.old.end === one.old.first && before.next.end === one.next.first) streaks[streaks.length - 1].push(one);
    else streaks.push([one]);
  }
  const sizeOf = (streak: readonly Nested[]) => streak.reduce((sum, { old }) => sum + linesOf(old).length, 0);
  return streaks.filter((streak) => sizeOf(streak) >= LEAST);
}
