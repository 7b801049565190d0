import type { Hunk } from "../../diff/hunk";
import { COMMENT, isKind, type Syntax, TEXT, tokenAfter, typeOf } from "../../grammar/syntax";
import { counted, shortened } from "../../plain/words";
import type { ClassedFile } from "../../quiet/classes";
import type { Caution } from "../caution";
import { definedTwice } from "../defined-twice";
import type { State } from "./by-look/enclosures";
import { lookedAs } from "./by-look/named";
import { mayOpenOrClose, statesByLook } from "./by-look/states";
import { conditionsOf, HAS_CONDITIONS } from "./conditions";
import { continuedLines } from "./continued";
import { endedLines } from "./ended";
import { headedLines } from "./headed";
import { mayReachFurther } from "./reach";
import { runOnLines } from "./run-on";
import { IN_SIGHT, runsOf, type Unchanged, unchangedAre } from "./runs";
import { type Still, stillOf } from "./still";
import { wrappedLines } from "./wrapped";

/** Texts to a grammar that hold code all the same, or what stands between marks of JSX. */
const NO_TEXTS = /^(?:token_tree|macro_definition|jsx_text|arguments|plain_value)$/;

/**
 * Where a change far above or below makes something else of lines that did not change: a comment that begins here and ends there takes in what lies between,
 * which nobody is shown; one that is taken away lets it be run; a condition of a preprocessor leaves it out; a block holds it. By the grammar of the file; where that reads one of the states not,
 * comments by their look; conditions by their lines.
 *
 * @example // `/*` was put above ten lines, and `*\/` below them:
 * // [{ kind: "switched", says: "10 unchanged lines are in a comment now: what changed above begins it.", line: 3 }]
 */
export function switchedLines(file: ClassedFile): Caution[] {
  const still = stillOf(file);
  const cautions = switchedIn(still);
  if (still === file) return cautions;
  // Nor are those shown that changed in nothing that has to be read.
  const told = cautions.map((one) => ({
    ...one,
    says: one.says.replace(/(\d) unchanged line/, "$1 unchanged or quiet line"),
  }));
  return [...told, ...definedTwice(file.path, still)];
}

function switchedIn(file: Still): Caution[] {
  if (file.old.length === 0 || file.next.length === 0 || file.hunks.length === 0) return [];
  return [takenIn, underOthers, wrappedLines, headedLines, endedLines, runOnLines, continuedLines].flatMap((found) =>
    found(file),
  );
}

function takenIn(file: Still): Caution[] {
  const runs = runsOf(file);
  const states = runs.length > 0 ? statesOf(file, runs) : null;
  if (!states) return [];
  const told = new Map<string, { count: number; line: number }>();
  for (const { old, next, size } of runs) {
    for (let n = 0; n < size; n++) {
      const [was, is] = [states.old(old + n), states.next(next + n)];
      if (was === is || (was !== "code" && is !== "code") || file.next[next + n].trim() === "") continue;
      const key = is === "code" ? `from ${was}` : `to ${is}`;
      const known = told.get(key);
      if (known) known.count++;
      else told.set(key, { count: 1, line: next + n + 1 });
    }
  }
  return [...told].map(([key, { count, line }]) => ({ kind: "switched", says: SAYS[key](count), line }));
}

interface States {
  old: (line: number) => State;
  next: (line: number) => State;
}

/** What lines are, before and after; null where none that did not change can have become another thing, or nobody knows. */
function statesOf(file: Still, runs: readonly Unchanged[]): States | null {
  if (!file.language) return looksOf(file);
  if (!mayReachFurther(file)) return null;
  const read = file.syntaxes();
  if (!read) return looksOf(file);
  const differs = (old: number, next: number) => stateAt(read.old, old) !== stateAt(read.next, next);
  const some = ({ old, next, size }: Unchanged) => differs(old, next) || differs(old + size - 1, next + size - 1);
  if (!runs.some(some)) return null;
  // What lies apart from all hunks was left whole there, with the comments in it.
  const whole = file.detailed();
  return whole && { old: (line) => stateAt(whole.old, line), next: (line) => stateAt(whole.next, line) };
}

/** The same by the look of the texts, where no grammar knows better. */
function looksOf({ path, old, next, hunks }: Still): States | null {
  const name = lookedAs(path, next);
  const mayReach = mayOpenOrClose(name);
  const holds = (lines: readonly string[], from: number, to: number) => {
    for (let line = from; line < to; line++) if (mayReach?.(lines[line])) return true;
    return false;
  };
  if (!hunks.some((hunk) => holds(old, hunk.oldStart, hunk.oldEnd) || holds(next, hunk.newStart, hunk.newEnd)))
    return null;
  const [before, after] = [statesByLook(name, old), statesByLook(name, next)];
  return before && after && { old: (line) => before[line], next: (line) => after[line] };
}

const SAYS: Record<string, (count: number) => string> = {
  "to comment": (count) => `${unchangedAre(count)} in a comment now: what changed above begins it.`,
  "to text": (count) => `${unchangedAre(count)} in a text now, and no code: what changed above begins it.`,
  "to beyond": (count) => `${unchangedAre(count)} behind the end of what is read now: what changed above ends it.`,
  "from beyond": (count) => `${unchangedAre(count)} read now, and stood behind the end of it: read them as new ones.`,
  "from comment": (count) => `${unchangedAre(count)} code now, and stood in a comment: read them as new ones.`,
  "from text": (count) => `${unchangedAre(count)} code now, and stood in a text: read them as new ones.`,
};

/** So much is said of conditions, in UTF-16 units. */
const LONGEST = 200;

/** Told by what stands open where a line begins. */
function stateAt(syntax: Syntax, line: number): State {
  const { tokens, start, lines } = syntax;
  const node = tokens[tokenAfter(syntax, lines[line])];
  if (node === undefined || start[node] >= lines[line] || !isKind(syntax, node, TEXT)) return "code";
  if (isKind(syntax, node, COMMENT)) return "comment";
  return NO_TEXTS.test(typeOf(syntax, node)) ? "code" : "text";
}

/** Lines that did not change under conditions that did. */
function underOthers(file: Still): Caution[] {
  const { path, old, next, hunks } = file;
  const touches = ({ oldStart, oldEnd, newStart, newEnd }: Hunk) =>
    [old.slice(oldStart, oldEnd), next.slice(newStart, newEnd)].some((some) => some.some((line) => line.includes("#")));
  if (!HAS_CONDITIONS.test(path) || !hunks.some(touches)) return [];
  const [before, after] = [conditionsOf(old), conditionsOf(next)];
  let count = 0;
  let first: number | null = null;
  let condition = "";
  for (const { old: from, next: to, size } of runsOf(file)) {
    const here: number[] = [];
    for (let n = 0; n < size; n++)
      if (before[from + n] !== after[to + n] && next[to + n].trim() !== "") here.push(to + n);
    if (here.length <= IN_SIGHT) continue;
    count += here.length;
    first ??= here[0] + 1;
    condition ||= after[here[0]];
  }
  if (first === null) return [];
  const says = `${counted(count, "unchanged line")} stand under ${condition ? `another condition now: ${shortened(condition, LONGEST)}` : "a condition no more"}.`;
  return [{ kind: "switched", says, line: first }];
}
