import { hunkAt } from "../../diff/hunk";
import { COMMENT, isKind, lineAt, type Syntax, tokenAfter, tokenText, typeOf } from "../../grammar/syntax";
import type { ClassedFile } from "../classes";
import { firstNodeOf, isDefinition } from "../places";
import type { Lines } from "../stretch/range";
import { type SharedLines, sharedLines } from "../stretch/shared-lines";
import { commute } from "./commute";
import { linesOf, State } from "./member-state";
import { WRAPS } from "./members";

type Pair = readonly [old: number, next: number];

/** One side of a moved block. */
export interface MovedSide {
  /** From its first line to behind its last. */
  lines: Lines;
  /** Those of them that moved. */
  all: ReadonlySet<number>;
}

export interface MovedLines {
  old: MovedSide;
  next: MovedSide;
}

/** A moved block, given by its lines on both sides, 0-based, ascending. */
export function movedLines(pairs: readonly Pair[]): MovedLines {
  const side = (lines: number[]) => ({
    lines: { start: lines[0], end: lines[lines.length - 1] + 1 },
    all: new Set(lines),
  });
  return { old: side(pairs.map(([i]) => i)), next: side(pairs.map(([, j]) => j)) };
}

/** What an object holds is gone through in the order in which it was said: checks, say, or routes. */
const IN_THEIR_ORDER = /^object$/;
/** So many pairs of members are looked at in one file; what lies behind it is not proven. */
const MOST_STEPS = 1_000_000;

/**
 * Whether definitions of one file may stand elsewhere within what holds them. A block of code is done in its order, so that what moved in it has to be a
 * whole definition; and of definitions, too, the last of one name counts, a head is run where it stands, and what calls may call what is not there yet.
 * So it holds of a line where the definition that it lies in moved whole, under what it was under, past nothing but what it can change places
 * with: see {@link Member} and {@link Language.order}.
 */
export class DefinitionOrder {
  private readonly shared: SharedLines;
  private steps = MOST_STEPS;
  private readonly partly: States;
  private whole: States | undefined;

  constructor(private readonly file: ClassedFile) {
    this.shared = sharedLines(file.hunks);
    this.partly = new States(file.syntaxes(), false);
  }

  holds(block: MovedLines, pair: Pair): boolean {
    const holds = this.tell(this.partly, block, pair);
    if (holds !== null) return holds;
    // Most of what is passed needs not be taken apart: that takes as long as to read the file once more.
    this.whole ??= new States(this.file.detailed(), true);
    return this.tell(this.whole, block, pair) === true;
  }

  /** Null where it can only be told of what is taken apart. */
  private tell(states: States, block: MovedLines, [i, j]: Pair): boolean | null {
    const { old, next } = states;
    if (!old || !next) return false;
    const was = movedWhole(old.syntax, i, block.old.lines);
    const is = movedWhole(next.syntax, j, block.next.lines);
    if (was < 0 || is < 0) return false;
    return states.once(block, `${was} ${is}`, () => {
      if (!sameHolders(old, was, next, is, this.shared)) return false;
      const [gone, come] = [linesOf(old.syntax, was), linesOf(next.syntax, is)];
      const { hunks } = this.file;
      const left = { start: hunkAt(hunks, "old", gone.start).newStart, end: hunkAt(hunks, "old", gone.end - 1).newEnd };
      const met = { start: hunkAt(hunks, "new", come.start).oldStart, end: hunkAt(hunks, "new", come.end - 1).oldEnd };
      // What stands between the two places, in either state, and did not move along.
      const passes = this.changesPlaces(next, is, spanned(come, left), block.next.all);
      return passes === true ? this.changesPlaces(old, was, spanned(gone, met), block.old.all) : passes;
    });
  }

  private changesPlaces(state: State, node: number, between: Lines, along: ReadonlySet<number>): boolean | null {
    const holder = Math.max(0, state.syntax.parent[node]);
    if (IN_THEIR_ORDER.test(typeOf(state.syntax, holder))) return false;
    const own = state.member(node);
    let changes: boolean | null = true;
    for (const other of state.among(holder, between)) {
      if (--this.steps < 0) return false;
      if (other.node === node || along.has(other.lines.start)) continue;
      const answer = commute({ state, own, node, other: state.member(other.node), at: other.node });
      if (answer === false) return false;
      changes &&= answer;
    }
    return changes;
  }
}

/** Both states of a file, and what was told of the definitions of one block. */
class States {
  readonly old: State | null;
  readonly next: State | null;
  private block: MovedLines | null = null;
  private readonly told = new Map<string, boolean | null>();

  constructor(syntaxes: { old: Syntax; next: Syntax } | null, whole: boolean) {
    this.old = syntaxes && new State(syntaxes.old, whole);
    this.next = syntaxes && new State(syntaxes.next, whole);
  }

  once(block: MovedLines, key: string, tell: () => boolean | null): boolean | null {
    if (this.block !== block) {
      this.block = block;
      this.told.clear();
    }
    let told = this.told.get(key);
    if (told === undefined) {
      told = tell();
      this.told.set(key, told);
    }
    return told;
  }
}

function spanned(a: Lines, b: Lines): Lines {
  return { start: Math.min(a.start, b.start), end: Math.max(a.end, b.end) };
}

/**
 * The outermost definition around the first token of a line that moved whole with the block; -1 where none did, and where something else stands on the line,
 * behind it. What closes it may have been left where it was: one such line is like another, and a comparison takes either.
 */
export function movedWhole(syntax: Syntax, line: number, block: Lines): number {
  const first = firstNodeOf(syntax, line)?.token ?? tokenAfter(syntax, syntax.lines[line]);
  let found = -1;
  for (let at = syntax.tokens[first] ?? 0; at > 0; at = syntax.parent[at]) {
    const { start, end } = linesOf(syntax, at);
    if (start < block.start) break;
    const rest = syntax.text.slice(syntax.lines[Math.min(block.end, end)], syntax.lines[end]);
    if (!CLOSES.test(rest)) break;
    if (isDefinition(syntax, at) || (found >= 0 && WRAPS.test(typeOf(syntax, at)))) found = at;
  }
  return found >= 0 && endsItsLine(syntax, found, line) ? found : -1;
}

/** Whether nothing but what closes something, and comments, stands on a line behind a node. */
function endsItsLine(syntax: Syntax, node: number, line: number): boolean {
  const { tokens, start, end, lines } = syntax;
  for (let t = tokenAfter(syntax, end[node] - 1) + 1; t < tokens.length && start[tokens[t]] < lines[line + 1]; t++)
    if (!isKind(syntax, tokens[t], COMMENT) && !CLOSES.test(tokenText(syntax, t))) return false;
  return true;
}

const CLOSES = /^(?:[ \t\r\n]|[\])};,]|\bend\b)*$/;

/** Whether what holds two nodes is the same: as deep, of the same kinds, and begun by the same unchanged lines, or by changed ones of the same definition. */
function sameHolders(before: State, was: number, after: State, is: number, shared: SharedLines): boolean {
  const [old, next] = [before.syntax, after.syntax];
  let [a, b] = [old.parent[was], next.parent[is]];
  for (; a > 0 && b > 0; a = old.parent[a], b = next.parent[b]) {
    if (old.type[a] !== next.type[b]) return false;
    if (BODY.test(typeOf(next, b))) {
      // It begins with what is in it, which is what moves. A definition has one; what else has several tells them by their place.
      if (!isDefinition(next, next.parent[b]) && before.placeOf(a) !== after.placeOf(b)) return false;
      continue;
    }
    const [from, to] = [shared.old(lineAt(old, old.start[a])), shared.next(lineAt(next, next.start[b]))];
    // The names of definitions were compared, so that their heads may have been changed.
    if (from !== to || (from < 0 && !isDefinition(next, b))) return false;
  }
  return a <= 0 && b <= 0;
}

const BODY = /(?:^|_)(?:block|body|list|statements)$|^body_statement$/;
