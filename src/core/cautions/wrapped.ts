import { type Hunk, hunkAt } from "../diff/hunk";
import type { LanguageId } from "../grammar/languages";
import { lineAt, ofTypes, type Syntax } from "../grammar/syntax";
import { firstThat } from "../plain/first-that";
import { counted, shortened } from "../plain/words";
import type { ClassedFile } from "../quiet/classes";
import { firstNodeOf, isCodeLine, isIndentedBlock } from "../quiet/places";
import type { Caution } from "./caution";
import { IN_SIGHT, runsOf, type Unchanged } from "./runs";

/** Nodes that hold statements or members, in brackets or between words. */
const isBlock = ofTypes((name) =>
  /^(?:statement_block|(?:class|interface|switch|enum)_body|block|(?:field_)?declaration_list|(?:match|switch|do|script)_block|compound_statement|accessor_list|body_statement|begin|then|else|do|do_group)$/.test(
    name,
  ),
);
/** In shells a condition holds its commands itself. */
const isShellBlock = ofTypes((name) => /^(?:compound_statement|do_group|if_statement|case_item|subshell)$/.test(name));
/** Blocks that begin with their first statement. */
const isUnbracketed = ofTypes((name) => /^(?:body_statement|then)$/.test(name));
/** What such a block is no condition of: names are told apart by it, and merging two of them changes nothing. */
const isNamespace = ofTypes((name) => /namespace|linkage/.test(name));
/** Where words end blocks, and not brackets, or where one sign begins them. */
const ENDS: Partial<Record<LanguageId, RegExp>> = {
  python: /:[ \t]*\r?$/g,
  ruby: /\bend\b|[{}]/g,
  bash: /\b(?:fi|done|esac)\b|[{}]/g,
};
const SAYS_SOMETHING = /[\p{L}\p{N}_]{2}.*[\p{L}\p{N}_]{2}/u;
/** So much is quoted of the line that begins a block, in UTF-16 units. */
const LONGEST = 80;
/** So many blocks of one file are told by themselves. */
const MOST_TOLD = 3;

/**
 * Where lines that did not change stand within a block that they did not stand in, or no more in one, or in another one as deep: its bracket was put above them, or below, and they were not indented for it.
 * What comes of it stands at its two ends, and nobody is shown what lies between.
 *
 * @example // "if (trial) {" was put above twelve lines, and "}" below them:
 * // [{ kind: "switched", says: "12 unchanged lines stand within “if (trial) {” now, and are not indented for it.", line: 3 }]
 */
export function wrappedLines(file: ClassedFile): Caution[] {
  const { language, hunks } = file;
  if (!language?.blocks) return [];
  const runs = runsOf(file).filter(({ size }) => size > IN_SIGHT);
  const signs = ENDS[language.id];
  if (runs.length === 0 || !hunks.some((hunk) => opensOrEnds(file, hunk, signs))) return [];
  const read = file.syntaxes();
  if (!read) return [];
  const wraps = new Wraps(file, read);
  const told = new Map<string, Counted>();
  for (const run of runs) {
    for (const [says, { count, line }] of wraps.around(run)) {
      if (count <= IN_SIGHT) continue;
      const known = told.get(says);
      if (known) known.count += count;
      else told.set(says, { count, line });
    }
  }
  return cautionsOf([...told]);
}

/** Some unchanged lines, and the first of them, 1-based. */
interface Counted {
  count: number;
  line: number;
}

function cautionsOf(told: readonly (readonly [says: string, Counted])[]): Caution[] {
  const more = told.slice(MOST_TOLD);
  const rest: Counted = { count: more.reduce((sum, [, { count }]) => sum + count, 0), line: more[0]?.[1].line ?? 0 };
  const said = told.slice(0, MOST_TOLD);
  if (more.length > 0) said.push([`within or outside of ${counted(more.length, "other block")} now`, rest]);
  return said.map(([says, { count, line }]) => ({
    kind: "switched",
    says: `${counted(count, "unchanged line")} stand ${says}.`,
    line,
  }));
}

/** Tells by which blocks unchanged lines are in more, or in fewer, than before, or in others. */
class Wraps {
  private readonly before: Blocks;
  private readonly after: Blocks;
  /** By where the innermost blocks begin, before and after. */
  private readonly said = new Map<string, string | null>();

  constructor(
    private readonly file: ClassedFile,
    private readonly read: { old: Syntax; next: Syntax },
  ) {
    this.before = new Blocks(read.old);
    this.after = new Blocks(read.next);
  }

  /** How many stand where now, by what is said of that. */
  around({ old, next, size }: Unchanged): Map<string, Counted> {
    const { file, read } = this;
    const found = new Map<string, Counted>();
    for (let n = 0; n < size; n++) {
      if (!SAYS_SOMETHING.test(file.next[next + n])) continue;
      if (!isCodeLine(read.old, old + n) || !isCodeLine(read.next, next + n)) continue;
      const says = this.saysOf(this.before.around(old + n), this.after.around(next + n));
      if (says === null) continue;
      const known = found.get(says);
      if (known) known.count++;
      else found.set(says, { count: 1, line: next + n + 1 });
    }
    return found;
  }

  /** Null where nothing is to be said. Each two blocks are looked at once, however many lie in them. */
  private saysOf(was: Block | null, is: Block | null): string | null {
    const passed: string[] = [];
    let [before, after] = [was, is];
    for (;;) {
      const key = `${before?.start} ${after?.start}`;
      const known = this.said.get(key);
      if (known === undefined) passed.push(key);
      const says = known === undefined ? this.saysNow(before, after) : known;
      if (says === "around") {
        [before, after] = [before!.around, after!.around];
        continue;
      }
      for (const one of passed) this.said.set(one, says);
      return says;
    }
  }

  /** Of two blocks by themselves; of those that are the same, those around them decide. */
  private saysNow(was: Block | null, is: Block | null): string | null | "around" {
    const { old, next, hunks } = this.file;
    const [wasDeep, isDeep] = [was?.depth ?? 0, is?.depth ?? 0];
    const within = (line: number) => `“${shortened(saidAt(next, line), LONGEST)}”`;
    const outside = (line: number) => `“${shortened(saidAt(old, line), LONGEST)}”`;
    if (isDeep > wasDeep)
      return `within ${within(headBy(is!, wasDeep, (line) => isChanged(hunks, line, true)))} now, and are not indented for it`;
    if (isDeep < wasDeep)
      return `outside of ${outside(headBy(was!, isDeep, (line) => isChanged(hunks, line, false)))} now, in which they stood`;
    if (!was || !is) return null;
    if (!this.areOthers(was, is)) return "around";
    const [now, before] = [within(is.line), outside(was.line)];
    return now === before ? `within another ${now} than before` : `within ${now} now, and stood within ${before}`;
  }

  /**
   * Whether blocks as deep as each other, by the lines that say what they are, are two. Where both lines changed it is the same under another name, unless that which it was goes on under one of its
   * own.
   */
  private areOthers(was: Block, is: Block): boolean {
    const { old, next, hunks } = this.file;
    const [from, to] = [hunkAt(hunks, "old", headOf(old, was.line)), hunkAt(hunks, "new", headOf(next, is.line))];
    if (from.oldStart === to.oldStart && from.newStart === to.newStart) return false;
    if (!hunks.includes(from) || !hunks.includes(to)) return true;
    let block = this.after.around(from.newEnd);
    while (block && block.depth > was.depth) block = block.around;
    const head = block?.depth === was.depth ? headOf(next, block.line) : -1;
    return from.newStart <= head && head < from.newEnd;
  }
}

/** Whether a line of one state was changed. */
function isChanged(hunks: readonly Hunk[], line: number, inNext: boolean): boolean {
  const [start, end] = inNext ? (["newStart", "newEnd"] as const) : (["oldStart", "oldEnd"] as const);
  const hunk = hunks[firstThat(hunks.length, (at) => hunks[at][end] > line)];
  return hunk !== undefined && hunk[start] <= line;
}

/** What is no head of the bracket on the line below: nothing, a comment, or what ends by itself. */
const NO_HEAD = /^[ \t]*(?:\/[/*]|\*|#|\r?$)|[;{}][ \t]*\r?$/;

/** The line that says what a block is: that on which it begins, or the one above where that holds no more than a bracket. */
function headOf(lines: readonly string[], line: number): number {
  const isBare = line > 0 && !/[\p{L}\p{N}]/u.test(lines[line]);
  return isBare && !NO_HEAD.test(lines[line - 1]) ? line - 1 : line;
}

/** What stands there. */
function saidAt(lines: readonly string[], line: number): string {
  return lines[headOf(lines, line)].trim();
}

/** A block, the one around it, and how many they are together. */
interface Block {
  start: number;
  line: number;
  around: Block | null;
  depth: number;
}

/** The blocks of a text around its lines. Each node is asked once, however deep it lies. */
class Blocks {
  private readonly known = new Map<number, Block | null>();

  private readonly holds: (syntax: Syntax, node: number) => boolean;

  constructor(private readonly syntax: Syntax) {
    this.holds = syntax.language.id === "bash" ? isShellBlock : isBlock;
  }

  /** The innermost one around a line. One that begins there holds what is behind it. */
  around(line: number): Block | null {
    const { syntax } = this;
    const first = firstNodeOf(syntax, line);
    let block = first ? this.of(syntax.parent[syntax.tokens[first.token]]) : null;
    while (block && block.start >= syntax.lines[line]) block = block.around;
    return block;
  }

  private of(node: number): Block | null {
    const { syntax, known } = this;
    const passed: number[] = [];
    let at = node;
    for (; at > 0 && !known.has(at); at = syntax.parent[at]) passed.push(at);
    let block = at > 0 ? known.get(at)! : null;
    for (const one of passed.reverse()) {
      // Where no bracket opens it, with what it belongs to.
      const isWithHead = isUnbracketed(syntax, one) || isIndentedBlock(syntax, one);
      const start = syntax.start[isWithHead ? syntax.parent[one] : one];
      if (this.holds(syntax, one) && !isNamespace(syntax, Math.max(0, syntax.parent[one])))
        block = { start, line: lineAt(syntax, start), around: block, depth: (block?.depth ?? 0) + 1 };
      known.set(one, block);
    }
    return block;
  }
}

/** The block by which some are more: the innermost that begins where something changed, or else the outermost of those that are too many. */
function headBy(deep: Block, than: number, hasChanged: (line: number) => boolean): number {
  let outermost = deep;
  for (let block: Block | null = deep; block; block = block.around) {
    if (hasChanged(block.line)) return block.line;
    if (block.depth > than) outermost = block;
  }
  return outermost.line;
}

/** Whether a hunk begins or ends more blocks than what stood there, or others. Cheap: nothing is parsed for it. */
function opensOrEnds(file: ClassedFile, { oldStart, oldEnd, newStart, newEnd }: Hunk, words?: RegExp): boolean {
  const [was, is] = [openedBy(file.old, oldStart, oldEnd, words), openedBy(file.next, newStart, newEnd, words)];
  return was.open !== is.open || was.lowest !== is.lowest;
}

/** How many brackets some lines open more than they close, and how many blocks around them they end at the most, below nothing; where words end blocks, how many of those there are. */
function openedBy(
  lines: readonly string[],
  from: number,
  to: number,
  words?: RegExp,
): { open: number; lowest: number } {
  let open = 0;
  let lowest = 0;
  for (let line = from; line < to; line++) {
    if (words) {
      open += lines[line].match(words)?.length ?? 0;
      continue;
    }
    const text = lines[line];
    let [opens, closes] = [text.indexOf("{"), text.indexOf("}")];
    while (opens >= 0 || closes >= 0) {
      if (closes < 0 || (opens >= 0 && opens < closes)) {
        open++;
        opens = text.indexOf("{", opens + 1);
      } else {
        lowest = Math.min(lowest, --open);
        closes = text.indexOf("}", closes + 1);
      }
    }
  }
  return { open, lowest };
}
