import { withoutEnd } from "../plain/without-end";

/** A line that opens what a place lies in. Line numbers are 0-based. */
export interface Scope {
  line: number;
  /** What it says, without the bracket or colon that opens it. */
  text: string;
}

const FURTHEST = 20_000;
const SPACE = 32;
const TAB = 9;
const LAST_ASCII = 127;

/** Whether a file is a text in Markdown, by its path. */
export function isMarkdown(path: string): boolean {
  return /\.(?:md|markdown)$/i.test(path);
}

/** What encloses a line, the outermost first: headings in Markdown, the first row in tables of values, else what indentation tells. */
export function scopesIn(path: string, lines: readonly string[], line: number): Scope[] {
  if (isMarkdown(path)) return headings(lines, line);
  if (/\.(?:csv|tsv)$/i.test(path)) return line > 0 && lines.length > 0 ? [{ line: 0, text: lines[0].trim() }] : [];
  return enclosingScopes(lines, line);
}

/** The headings above a line in Markdown, each of a higher rank than the next. */
function headings(lines: readonly string[], line: number): Scope[] {
  let scopes: Heading[] = [];
  const first = Math.max(0, line - FURTHEST);
  for (const heading of headingsIn(lines.slice(first, line))) {
    const at = { ...heading, line: first + heading.line };
    scopes = [...scopes.filter(({ rank }) => rank < heading.rank), at];
  }
  return scopes.map(({ rank: _, ...scope }) => scope);
}

export interface Heading extends Scope {
  /** 1 for the highest. */
  rank: number;
}

/** All headings of a text in Markdown. What stands in fenced code is none. */
export function headingsIn(lines: readonly string[]): Heading[] {
  const result: Heading[] = [];
  let fence = "";
  for (const [line, content] of lines.entries()) {
    const [, mark] = /^ {0,3}(```+|~~~+)/.exec(content) ?? [];
    if (mark) fence = fence === "" ? mark[0] : mark[0] === fence ? "" : fence;
    const [, signs, text] = (fence === "" && /^(#{1,6})\s+(\S.*)$/.exec(content)) || [];
    if (signs) result.push({ line, text: withoutEnd(text.trimEnd(), "#").trimEnd(), rank: signs.length });
  }
  return result;
}

/**
 * The block that a line lies in, told by indentation: from the line that opens it to the one that closes it, 0-based, end exclusive. `within`
 * says how many levels further out. Null where nothing encloses the line.
 */
export function enclosingBlock(lines: readonly string[], line: number, within = 0): [from: number, to: number] | null {
  const scopes = enclosingScopes(lines, line);
  const scope = scopes[scopes.length - 1 - within];
  if (!scope) return null;
  const indent = indentOf(lines[scope.line]);
  let end = Math.max(line, scope.line) + 1;
  let last = end;
  for (; end < lines.length && end < line + FURTHEST; end++) {
    if (isBlank(lines[end])) continue;
    if (indentOf(lines[end]) <= indent) {
      // What closes the block belongs to it.
      if (/^\s*(?:[\])}]|<\/|end\b)/.test(lines[end])) last = end + 1;
      break;
    }
    last = end + 1;
  }
  return [scope.line, last];
}

/**
 * What encloses a line, the outermost first, told by indentation alone: the nearest line above that is indented less, what encloses that,
 * and so on. It needs no grammar, so it serves every language that people indent, JSON and XML as well.
 */
export function enclosingScopes(lines: readonly string[], line: number): Scope[] {
  const lessIndented: LessIndented = (before, indent, limit) => {
    for (let i = before - 1; i > limit; i--) if (indentOf(lines[i]) < indent && !isBlank(lines[i])) return i;
    return -1;
  };
  return headsAbove(lines, line, lessIndented).map((head) => ({ line: head, text: headText(lines[head]) }));
}

/** What a line that opens a block says, without the bracket or colon that opens it. */
export function headText(line: string): string {
  const said = line.trim();
  return /[{([:]$/.test(said.slice(-1)) ? said.slice(0, -1).trimEnd() : said;
}

/**
 * What encloses the lines of one text, as {@link enclosingScopes} tells it, for many questions about it: the text is gone through once, and each
 * answer takes as many steps as there are levels.
 *
 * @example new Enclosing(["function a() {", "  b();", "}"]).heads(1) // [0]
 */
export class Enclosing {
  /** How far each line is indented, and the nearest line before it that is indented less; for a blank line, the nearest that is not blank. */
  private readonly width: Int32Array;
  private readonly above: Int32Array;
  private readonly known = new Map<number, number[]>();

  constructor(private readonly lines: readonly string[]) {
    this.width = new Int32Array(lines.length);
    this.above = new Int32Array(lines.length);
    const open: number[] = [];
    for (let i = 0; i < lines.length; i++) {
      this.width[i] = isBlank(lines[i]) ? BLANK : indentOf(lines[i]);
      if (this.width[i] !== BLANK) {
        while (open.length > 0 && this.width[open[open.length - 1]] >= this.width[i]) open.pop();
      }
      this.above[i] = open.length > 0 ? open[open.length - 1] : -1;
      if (this.width[i] !== BLANK) open.push(i);
    }
  }

  /** The lines that head what encloses a line, all 0-based, the outermost first. */
  heads(line: number): readonly number[] {
    let heads = this.known.get(line);
    if (!heads) {
      heads = headsAbove(this.lines, line, this.lessIndented);
      this.known.set(line, heads);
    }
    return heads;
  }

  private lessIndented: LessIndented = (before, indent, limit) => {
    let i = before - 1;
    while (i > limit && (this.width[i] === BLANK || this.width[i] >= indent)) i = this.above[i];
    return i > limit ? i : -1;
  };
}

const BLANK = -1;

/** The nearest line before one, but behind a limit, that is not blank and indented less than so much; -1 for none. */
type LessIndented = (before: number, indent: number, limit: number) => number;

function headsAbove(lines: readonly string[], line: number, lessIndented: LessIndented): number[] {
  let first = line;
  while (first < lines.length && isBlank(lines[first])) first++;
  if (first >= lines.length) return [];
  let indent = indentOf(lines[first]);
  // A closing bracket still belongs to what it closes.
  if (/^\s*[\])}]/.test(lines[first]) || /^\s*<\//.test(lines[first])) indent += 1;
  const heads: number[] = [];
  const limit = Math.max(-1, first - FURTHEST);
  for (let i = first; indent > 0; ) {
    i = lessIndented(i, indent, limit);
    if (i < 0) break;
    indent = indentOf(lines[i]);
    // What a bracket on a line of its own opens is named by the line before it.
    const named = /^\s*[{([]\s*$/.test(lines[i]) ? previous(lines, i) : i;
    if (!/^\s*[\])}]/.test(lines[named])) heads.push(named);
  }
  return heads.reverse();
}

function previous(lines: readonly string[], line: number): number {
  for (let i = line - 1; i >= 0; i--) if (!isBlank(lines[i])) return i;
  return line;
}

function isBlank(line: string): boolean {
  for (let i = 0; i < line.length; i++) {
    const code = line.charCodeAt(i);
    if (code === SPACE || code === TAB) continue;
    // What else counts as white space is rare.
    return (code < SPACE || code > LAST_ASCII) && line.trim() === "";
  }
  return true;
}

/** How far a line is indented, in columns; a tab counts for four. */
export function indentOf(line: string): number {
  let width = 0;
  for (let i = 0; i < line.length; i++) {
    const code = line.charCodeAt(i);
    if (code === SPACE) width += 1;
    else if (code === TAB) width += 4;
    else break;
  }
  return width;
}
