import { indentOf } from "../../diff/scopes";
import { siblingBefore } from "../../grammar/children";
import type { LanguageId } from "../../grammar/languages";
import { lineAt, ofTypes, type Syntax } from "../../grammar/syntax";
import { firstNodeOf, isCodeLine } from "../../quiet/places";
import type { Caution } from "../caution";
import { runsOf, type Unchanged, unchangedAre } from "./runs";
import type { Still } from "./still";

/** Languages in which a statement goes on with the next line unless a sign ends it; and those in which what the next line begins with decides. */
const GOES_ON: Partial<Record<LanguageId, { byNextLine: boolean }>> = {
  javascript: { byNextLine: true },
  typescript: { byNextLine: true },
  tsx: { byNextLine: true },
  java: { byNextLine: false },
  csharp: { byNextLine: false },
  php: { byNextLine: false },
  rust: { byNextLine: false },
  c: { byNextLine: false },
  cpp: { byNextLine: false },
};

const isStatement = ofTypes((name) => /_statement$/.test(name));
const isWhole = ofTypes((name) => /_statement$|declaration$/.test(name));
/** What holds one statement and no more where no bracket opens a block. */
const holdsOne = ofTypes((name) =>
  /^(?:if|while|do|for|for_in|for_range|foreach|enhanced_for|with)_statement$|^else(?:_if)?_clause$/.test(name),
);
/** What may go on with what stands above it, in a language that asks for no sign between two statements. */
const MAY_GO_ON = /^[ \t]*[([`+\-/*]/;
const CLOSES = /^[ \t]*[)\]}]/;
const COMMENT = /^[ \t]*(?:\/[/*]|\*(?:[ \t/]|\r?$)|#)/;
const HEAD = /(?:^|[\s}])(?:(?:if|while|for|foreach|with)\b[^;{]*\)|else|do)[ \t]*\r?$/;
const ENDED = /[;{}:][ \t]*(?:\/[/*][^\n]*)?\r?$/;
/** So many lines are looked at for one that says something. */
const NEAR = 5;
/** The head of a statement is no longer than this, in UTF-16 units. */
const LONGEST = 400;

/**
 * Where a line that did not change begins no statement of its own any more, or begins one now: what was put above it ends with no `;`, or with one too many, and the line is indented as
 * if nothing had come of it.
 *
 * @example // "let deny = () => {}" was put between "go()" and "(a || b)()"
 * // [{ kind: "switched", says: "1 unchanged line is a part of the statement above now.", line: 3 }]
 */
export function runOnLines(file: Still): Caution[] {
  const goesOn = file.language && GOES_ON[file.language.id];
  if (!goesOn) return [];
  const places = runsOf(file).flatMap((run) => firstSaying(file, run) ?? []);
  const some = places.filter((place) => mayDiffer(file, place, goesOn.byNextLine));
  const read = some.length > 0 ? file.syntaxes() : null;
  if (!read) return [];
  const parts: number[] = [];
  const own: number[] = [];
  for (const { old, next } of some) {
    const [was, is] = [beginsOn(read.old, old), beginsOn(read.next, next)];
    if (!was || !is || was.own === is.own) continue;
    // What goes on with whatever stands above it never looks like what it is.
    const isOdd = goesOn.byNextLine && MAY_GO_ON.test(file.next[next]);
    if (!isOdd && looksLikeIt(read.next, file.next, next, is)) continue;
    (is.own ? own : parts).push(next + 1);
  }
  return partOrOwn(parts, own);
}

/** Of lines, 1-based, that are parts of what stands above them now, and of those that are none any more. */
export function partOrOwn(parts: readonly number[], own: readonly number[]): Caution[] {
  const caution = (lines: readonly number[], what: string): Caution[] =>
    lines.length > 0 ? [{ kind: "switched", says: `${unchangedAre(lines.length)} ${what}`, line: lines[0] }] : [];
  return [
    ...caution(parts, "a part of the statement above now."),
    ...caution(own, "no part of the statement above any more."),
  ];
}

/** The first line of some that says something, on both sides, 0-based; null where none is near. */
function firstSaying({ next }: Still, run: Unchanged): { old: number; next: number } | null {
  for (let n = 0; n < Math.min(run.size, NEAR); n++)
    if (saysSomething(next[run.next + n])) return { old: run.old + n, next: run.next + n };
  return null;
}

function saysSomething(line: string): boolean {
  return line.trim() !== "" && !COMMENT.test(line);
}

/** Whether a line may be a part of another statement now. Cheap: nothing is parsed for it. */
function mayDiffer(file: Still, place: { old: number; next: number }, byNextLine: boolean): boolean {
  const line = file.next[place.next];
  if (CLOSES.test(line)) return false;
  const [was, is] = [endAbove(file.old, place.old), endAbove(file.next, place.next)];
  return was !== is || (byNextLine && was === "open" && MAY_GO_ON.test(line));
}

/** How what stands above a line ends: with a sign behind which another statement begins, or as what holds one, or open. */
function endAbove(lines: readonly string[], line: number): "ended" | "head" | "open" {
  for (let at = line - 1; at >= Math.max(0, line - NEAR); at--) {
    const above = lines[at];
    if (!saysSomething(above)) continue;
    if (above.length <= LONGEST && HEAD.test(above)) return "head";
    return ENDED.test(above) ? "ended" : "open";
  }
  return "ended";
}

/** What a line begins. `own`: it is a statement that no other one holds, and no part of another. */
interface Begun {
  node: number;
  own: boolean;
}

/** Null where a line begins no code. */
function beginsOn(syntax: Syntax, line: number): Begun | null {
  const first = isCodeLine(syntax, line) ? firstNodeOf(syntax, line) : null;
  if (!first) return null;
  const { node } = first;
  return { node, own: isStatement(syntax, node) && !holdsOne(syntax, Math.max(0, syntax.parent[node])) };
}

/** Whether a line is indented as what it begins: a part of a statement is deeper than that, and a statement no deeper than the one above. */
function looksLikeIt(syntax: Syntax, texts: readonly string[], line: number, { node, own }: Begun): boolean {
  const beside = own ? siblingBefore(syntax, node) : statementAround(syntax, node);
  // Behind a bracket that opens a block it may be indented as it likes.
  if (beside < 0 || (own && !isStatement(syntax, beside))) return true;
  const isDeeper = indentOf(texts[line]) > indentOf(texts[lineAt(syntax, syntax.start[beside])]);
  return own ? !isDeeper : isDeeper;
}

/** The innermost statement that a node is a part of; -1 where there is none. */
function statementAround(syntax: Syntax, node: number): number {
  const { parent } = syntax;
  let at = parent[node];
  while (at > 0 && !isWhole(syntax, at)) at = parent[at];
  return at > 0 ? at : -1;
}
