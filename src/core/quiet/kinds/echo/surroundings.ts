import type { Enclosing } from "../../../diff/scopes";

const CONDITION = /^[ \t]*#[ \t]*(if|ifdef|ifndef|elif|elifdef|elifndef|else|endif)\b/;
/** What speaks of the definition on the line below: decorators, annotations, attributes, and in C what stands before a name. */
const MARK = /^(?:@|#!?\[|\[|(?:template|extern|static|inline|__attribute__|__declspec)\b)/;
const CLOSES = /^[)\]}]/;
const COMMENT = /^(?:\/[/*]|\*|#(?!!?\[))/;
/** Of the characters of ASCII: 1 for a bracket that opens, 2 for one that closes, 3 for a quote, 4 for what takes its meaning from the next one. */
const SIGNS = Uint8Array.from({ length: 128 }, (_, code) => {
  const character = String.fromCharCode(code);
  return 1 + ["([{", ")]}", "\"'`", "\\"].findIndex((signs) => signs.includes(character));
});

const BACKSLASH = 92;

/** A function around all of a file, as builds put one there: whether it is called is a matter of how the file is loaded. */
const WRAPS = /\bfunction\b|=>/;
/** So near to the end of the file it is closed, in lines, and so many say something before it. */
const NEAR = 5;
const BEFORE = 8;

/** So many lines say where one stands at the most, and so many brackets are open there. */
const MOST = 200;

/** What is open from a line on: a bracket, or a branch of a condition. */
interface Opener {
  line: number;
  /** What was open before it, by its place in the list; -1 for nothing. */
  outer: number;
  /** The line that closes it. */
  closed: number;
  /** How many lines say something before it. */
  before: number;
  /** Whether it is such a function, once somebody asked: its line may be all of a program. */
  wraps?: boolean;
}

/**
 * The lines of one text that say where a line stands: those that head what encloses it by indentation, those of brackets that are open there, be what they
 * hold indented or not, the marks above each of them, and the conditions of a preprocessor. All told by characters alone: a bracket in a text of several lines, or in a comment, counts.
 */
export class Surroundings {
  /** Of each line, the innermost that is open where it begins. */
  private readonly open: Int32Array;
  private readonly openers: Opener[] = [];
  private readonly marks = new Map<number, number[]>();
  /** Of the line that was asked for last. */
  private last: { open: number; heads: readonly number[]; found: readonly number[] | null } | null = null;

  /** `hasConditions`: lines that begin with `#` are for a preprocessor, and no comments. */
  constructor(
    private readonly lines: readonly string[],
    private readonly enclosing: Enclosing,
    hasConditions: boolean,
  ) {
    this.open = new Int32Array(lines.length);
    const brackets: number[] = [];
    const conditions: number[] = [];
    let top = -1;
    let before = 0;
    const begin = (line: number) => {
      top = this.openers.push({ line, outer: top, closed: lines.length, before }) - 1;
      return top;
    };
    const end = (opener: number | undefined, line: number) => {
      if (opener === undefined) return;
      this.openers[opener].closed = line;
      top = this.openers[opener].outer;
    };
    // Of one piece: the lines are parts of a text, and each of their characters would be looked for in it by way of them.
    const all = lines.join("\n");
    for (let line = 0, start = 0, stop = 0; line < lines.length; line++, start = stop + 1) {
      const text = lines[line];
      stop = start + text.length;
      this.open[line] = top;
      const condition = hasConditions ? conditionOn(text) : null;
      if (condition === "endif") end(conditions.pop(), line);
      else if (condition?.startsWith("if")) conditions.push(begin(line));
      // What stands behind `#else` depends on what stands above it as well: that stays open.
      else if (condition) begin(line);
      if (condition) continue;
      // Most brackets are closed on their line.
      let pending = 0;
      for (let at = start; at < stop; at++) {
        const code = all.charCodeAt(at);
        const sign = code < 128 ? SIGNS[code] : 0;
        if (sign === 0) continue;
        if (sign === 1) pending++;
        else if (sign === 2 && pending > 0) pending--;
        else if (sign === 2) end(brackets.pop(), line);
        else if (sign === 3) at = quotedTo(all, at, stop);
        else if (sign === 4) at++;
      }
      for (; pending > 0; pending--) brackets.push(begin(line));
      if (before <= BEFORE && !saysNothing(text)) before++;
    }
  }

  /** Those of a line, all 0-based, ascending; null where they are more than anyone writes: thousands would have to be compared for each of thousands. */
  of(line: number): readonly number[] | null {
    const open = this.open[line];
    const heads = this.enclosing.heads(line);
    // As a rule it stands where the one before it stood.
    if (this.last?.open === open && isSameList(this.last.heads, heads)) return this.last.found;
    const found = this.linesAbove(heads, open);
    this.last = { open, heads, found };
    return found;
  }

  private linesAbove(heads: readonly number[], open: number): readonly number[] | null {
    const found = new Set(heads);
    let steps = 0;
    for (let at = open; at >= 0; at = this.openers[at].outer) {
      if (++steps > MOST) return null;
      if (!this.isWrapper(this.openers[at])) found.add(this.openers[at].line);
    }
    if (found.size > MOST) return null;
    for (const head of [...found]) {
      for (const mark of this.marksOf(head)) found.add(mark);
      if (found.size > MOST) return null;
    }
    return [...found].sort((a, b) => a - b);
  }

  private isWrapper(opener: Opener): boolean {
    const { line, closed, before } = opener;
    opener.wraps ??= before <= BEFORE && closed >= this.lines.length - NEAR && WRAPS.test(this.lines[line]);
    return opener.wraps;
  }

  /** The lines above one that are marks of it, also where one goes over several lines; empty lines and comments may stand between them. */
  private marksOf(head: number): number[] {
    let marks = this.marks.get(head);
    if (!marks) {
      marks = [];
      const indent = indentOf(this.lines[head]);
      for (let line = head - 1, last = head; line >= 0 && marks.length <= MOST; line--) {
        const text = this.lines[line];
        if (saysNothing(text) || indentOf(text) > indent) continue;
        const isMark = MARK.test(text.trimStart());
        if (indentOf(text) < indent || !(isMark || CLOSES.test(text.trimStart()))) break;
        if (!isMark) continue;
        for (let one = line; one < last; one++) marks.push(one);
        last = line;
      }
      this.marks.set(head, marks);
    }
    return marks;
  }
}

function isSameList(one: readonly number[], other: readonly number[]): boolean {
  return one.length === other.length && one.every((number, n) => number === other[n]);
}

/** The word of a condition of a preprocessor that a line is; null where it is none. */
function conditionOn(line: string): string | null {
  return line.includes("#") ? (CONDITION.exec(line)?.[1] ?? null) : null;
}

/** Whether a line is empty, or a comment as far as its beginning tells. */
function saysNothing(line: string): boolean {
  const said = line.trimStart();
  return said === "" || COMMENT.test(said);
}

function indentOf(line: string): number {
  return line.length - line.trimStart().length;
}

/** Where a text in quotes ends that begins at a place of a line, which goes to `stop`; that place itself where it does not end there. */
function quotedTo(text: string, start: number, stop: number): number {
  const quote = text.charCodeAt(start);
  for (let at = start + 1; at < stop; at++) {
    const code = text.charCodeAt(at);
    if (code === BACKSLASH) at++;
    else if (code === quote) return at;
  }
  return start;
}
