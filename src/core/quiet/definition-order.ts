import type { Hunk } from "../diff/hunk";
import { childrenOf } from "../grammar/children";
import type { DefinitionsAreThere } from "../grammar/languages";
import { lineAt, type Syntax, tokenAfter, typeOf } from "../grammar/syntax";
import type { ClassedFile } from "./classes";
import { type Member, memberOf, WRAPS, wordsOf } from "./members";
import { isDefinition } from "./places";
import { type Lines, type SharedLines, sharedLines } from "./stretch";

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

/** So many pairs of members are looked at in one file; what lies behind it is not proven. */
const MOST_STEPS = 1_000_000;

/** One state of a file, its members by what holds them. */
class State {
  private readonly membersOf = new Map<number, { node: number; lines: Lines }[]>();
  private readonly known = new Map<number, Member>();
  private readonly places = new Map<number, number>();
  private readonly wordsIn = new Map<number, ReadonlySet<string>>();

  constructor(readonly syntax: Syntax) {}

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
    let low = 0;
    let high = members.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (members[middle].lines.end > start) high = middle;
      else low = middle + 1;
    }
    for (; low < members.length && members[low].lines.start < end; low++) yield members[low];
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

/**
 * Whether definitions of one file may stand elsewhere within what holds them. A block of code is done in its order, so that what moved in it has to be a
 * whole definition; and of definitions, too, the last of one name counts, a head is run where it stands, and what calls may call what is not there yet.
 * So it holds of a line where the definition that it lies in moved whole, under what it was under, past nothing but what it can change places
 * with: see {@link Member} and {@link Language.order}.
 */
export class DefinitionOrder {
  private states: { old: State; next: State } | null | undefined;
  private readonly shared: SharedLines;
  private steps = MOST_STEPS;
  private block: MovedLines | null = null;
  private readonly known = new Map<string, boolean>();

  constructor(private readonly file: ClassedFile) {
    this.shared = sharedLines(file.hunks);
  }

  holds(block: MovedLines, [i, j]: Pair): boolean {
    if (this.block !== block) {
      this.block = block;
      this.known.clear();
    }
    this.states ??= this.read();
    if (!this.states) return false;
    const { old, next } = this.states;
    const was = movedWhole(old.syntax, i, block.old.lines);
    const is = movedWhole(next.syntax, j, block.next.lines);
    if (was < 0 || is < 0) return false;
    const key = `${was} ${is}`;
    let holds = this.known.get(key);
    if (holds === undefined) {
      holds = sameHolders(old, was, next, is, this.shared) && this.mayPass(block, was, is);
      this.known.set(key, holds);
    }
    return holds;
  }

  private read(): { old: State; next: State } | null {
    const syntaxes = this.file.detailed();
    return syntaxes && { old: new State(syntaxes.old), next: new State(syntaxes.next) };
  }

  /** What stands between the two places, in either state, and did not move along. */
  private mayPass(block: MovedLines, was: number, is: number): boolean {
    const { old, next } = this.states!;
    const [gone, come] = [linesOf(old.syntax, was), linesOf(next.syntax, is)];
    const { hunks } = this.file;
    const left = { start: hunkAt(hunks, "old", gone.start).newStart, end: hunkAt(hunks, "old", gone.end - 1).newEnd };
    const met = { start: hunkAt(hunks, "new", come.start).oldStart, end: hunkAt(hunks, "new", come.end - 1).oldEnd };
    return (
      this.changesPlaces(next, is, spanned(come, left), block.next.all) &&
      this.changesPlaces(old, was, spanned(gone, met), block.old.all)
    );
  }

  private changesPlaces(state: State, node: number, between: Lines, along: ReadonlySet<number>): boolean {
    const holder = Math.max(0, state.syntax.parent[node]);
    const own = state.member(node);
    for (const other of state.among(holder, between)) {
      if (--this.steps < 0) return false;
      if (other.node === node || along.has(other.lines.start)) continue;
      if (!commute({ state, own, node, other: state.member(other.node), at: other.node })) return false;
    }
    return true;
  }
}

function linesOf(syntax: Syntax, node: number): Lines {
  const { start, end } = syntax;
  return { start: lineAt(syntax, start[node]), end: lineAt(syntax, Math.max(start[node], end[node] - 1)) + 1 };
}

function spanned(a: Lines, b: Lines): Lines {
  return { start: Math.min(a.start, b.start), end: Math.max(a.end, b.end) };
}

/** The hunk that a line lies in; for one that is in none, an empty one at its place in the other state. */
function hunkAt(hunks: readonly Hunk[], side: "old" | "new", line: number): Hunk {
  let low = 0;
  let high = hunks.length;
  const startOf = (hunk: Hunk) => (side === "old" ? hunk.oldStart : hunk.newStart);
  while (low < high) {
    const middle = (low + high) >> 1;
    if (startOf(hunks[middle]) <= line) low = middle + 1;
    else high = middle;
  }
  const before = hunks[low - 1] ?? { oldStart: 0, oldEnd: 0, newStart: 0, newEnd: 0 };
  if (line < (side === "old" ? before.oldEnd : before.newEnd)) return before;
  const shift = before.newEnd - before.oldEnd;
  const [old, next] = side === "old" ? [line, line + shift] : [line - shift, line];
  return { oldStart: old, oldEnd: old + 1, newStart: next, newEnd: next + 1 };
}

/**
 * The outermost definition around the first token of a line that moved whole with the block; -1 where none did. What closes it may have been left where it was: one such line
 * is like another, and a comparison takes either.
 */
export function movedWhole(syntax: Syntax, line: number, block: Lines): number {
  let found = -1;
  for (let at = syntax.tokens[tokenAfter(syntax, syntax.lines[line])] ?? 0; at > 0; at = syntax.parent[at]) {
    const { start, end } = linesOf(syntax, at);
    if (start < block.start) break;
    const rest = syntax.text.slice(syntax.lines[Math.min(block.end, end)], syntax.lines[end]);
    if (!CLOSES.test(rest)) break;
    if (isDefinition(syntax, at) || (found >= 0 && WRAPS.test(typeOf(syntax, at)))) found = at;
  }
  return found;
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

/** Two members of one holder, with the nodes that they are. */
interface Two {
  state: State;
  own: Member;
  node: number;
  other: Member;
  at: number;
}

/** Whether two members mean the same in either order. */
function commute(two: Two): boolean {
  if (two.other.is === "comment") return true;
  if (two.own.is === "orders" || two.other.is === "orders") return false;
  return BY_ORDER[two.state.syntax.language.order](two);
}

const BY_ORDER: Record<DefinitionsAreThere, (two: Two) => boolean> = {
  // Of Go, functions of this name are run in their order; and statements of Rust among definitions are macros, which may define others.
  always: ({ state, own, other, at }) =>
    !(hasSameName(own, other) && own.name === "init") && typeOf(state.syntax, at) !== "expression_statement",
  ahead: (two) =>
    two.own.is === "ahead" || two.other.is === "ahead" || isImport(two)
      ? !hasSameName(two.own, two.other)
      : BY_ORDER.run(two),
  declared: ({ state, own, node, other, at }) => {
    if (own.name === null || hasSameName(own, other)) return false;
    if (other.is === "statement" ? !DECLARES.test(typeOf(state.syntax, at)) : other.name === null) return false;
    if (state.syntax.language.id !== "cpp") return true;
    // What a call means is told by what of that name was declared before.
    const named = other.name === null ? other.looksAt : new Set([other.name]);
    return !state.words(at).has(own.name) && !meet(named, state.words(node));
  },
  run: ({ own, other }) => {
    if (own.acts || other.acts || own.name === null || hasSameName(own, other)) return false;
    if (other.looksAt.has(own.name)) return false;
    if (other.is === "statement") return !meet(other.looksAt, own.looksAt);
    return other.name !== null && !own.looksAt.has(other.name);
  },
};

const DECLARES = /^(?:declaration|field_declaration|type_definition|access_specifier)$/;

function hasSameName(one: Member, other: Member): boolean {
  return one.name !== null && one.name === other.name;
}

/** Of scripts: imported names are there before anything else is run. `import x = require("x")` is a call. */
function isImport({ state: { syntax }, at }: Two): boolean {
  if (typeOf(syntax, at) !== "import_statement") return false;
  return !/\brequire\b/.test(syntax.text.slice(syntax.start[at], syntax.end[at]));
}

function meet(some: ReadonlySet<string>, others: ReadonlySet<string>): boolean {
  for (const word of some) if (others.has(word)) return true;
  return false;
}
