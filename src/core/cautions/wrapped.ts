import type { Hunk } from "../diff/hunk";
import type { LanguageId } from "../grammar/languages";
import { lineAt, ofTypes, type Syntax } from "../grammar/syntax";
import { firstThat } from "../plain/first-that";
import { counted, shortened } from "../plain/words";
import type { ClassedFile } from "../quiet/classes";
import { firstNodeOf, isCodeLine } from "../quiet/places";
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
/** Where words end blocks, and not brackets. */
const ENDS: Partial<Record<LanguageId, RegExp>> = {
  ruby: /\bend\b|[{}]/g,
  bash: /\b(?:fi|done|esac)\b|[{}]/g,
};
const SAYS_SOMETHING = /[\p{L}\p{N}_]{2}.*[\p{L}\p{N}_]{2}/u;
/** So much is quoted of the line that begins a block, in UTF-16 units. */
const LONGEST = 80;
/** So many blocks of one file are told by themselves. */
const MOST_TOLD = 3;

/**
 * Where lines that did not change stand within a block that they did not stand in, or no more in one: its bracket was put above them, or below, and they were not indented for it. What comes
 * of it stands at its two ends, and nobody is shown what lies between.
 *
 * @example // "if (trial) {" was put above twelve lines, and "}" below them:
 * // [{ kind: "switched", says: "12 unchanged lines stand within “if (trial) {” now, and are not indented for it.", line: 3 }]
 */
export function wrappedLines(file: ClassedFile): Caution[] {
  const { language, hunks } = file;
  if (!language || language.indented || !(language.moves || language.id === "css")) return [];
  const runs = runsOf(file).filter(({ size }) => size > IN_SIGHT);
  const signs = ENDS[language.id];
  if (runs.length === 0 || !hunks.some((hunk) => opensOrEnds(file, hunk, signs))) return [];
  const read = file.syntaxes();
  if (!read) return [];
  const wraps = new Wraps(file, read);
  const told = new Map<string, Counted>();
  for (const run of runs) {
    for (const [head, { count, line }] of wraps.around(run)) {
      if (count <= IN_SIGHT) continue;
      const text = shortened(head >= 0 ? saidAt(file.next, head) : saidAt(file.old, -1 - head), LONGEST);
      const says =
        head >= 0
          ? `within “${text}” now, and are not indented for it`
          : `outside of “${text}” now, in which they stood`;
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

/** Tells by which blocks unchanged lines are in more, or in fewer, than before. */
class Wraps {
  private readonly before: Blocks;
  private readonly after: Blocks;
  private readonly heads = new Map<string, number>();

  constructor(
    private readonly file: ClassedFile,
    private readonly read: { old: Syntax; next: Syntax },
  ) {
    this.before = new Blocks(read.old);
    this.after = new Blocks(read.next);
  }

  /** By the line that begins the block; where they stood in it, by one less than nothing minus that line. */
  around({ old, next, size }: Unchanged): Map<number, Counted> {
    const { file, read } = this;
    const found = new Map<number, Counted>();
    for (let n = 0; n < size; n++) {
      if (!SAYS_SOMETHING.test(file.next[next + n])) continue;
      if (!isCodeLine(read.old, old + n) || !isCodeLine(read.next, next + n)) continue;
      const [was, is] = [this.before.around(old + n), this.after.around(next + n)];
      const [wasDeep, isDeep] = [was?.depth ?? 0, is?.depth ?? 0];
      if (wasDeep === isDeep) continue;
      const head = isDeep > wasDeep ? this.headOf(is!, wasDeep, true) : -1 - this.headOf(was!, isDeep, false);
      const known = found.get(head);
      if (known) known.count++;
      else found.set(head, { count: 1, line: next + n + 1 });
    }
    return found;
  }

  private headOf(deep: Block, than: number, inNext: boolean): number {
    const key = `${inNext} ${deep.start} ${than}`;
    const known = this.heads.get(key);
    if (known !== undefined) return known;
    const head = headBy(deep, than, (line) => isChanged(this.file.hunks, line, inNext));
    this.heads.set(key, head);
    return head;
  }
}

/** Whether a line of one state was changed. */
function isChanged(hunks: readonly Hunk[], line: number, inNext: boolean): boolean {
  const [start, end] = inNext ? (["newStart", "newEnd"] as const) : (["oldStart", "oldEnd"] as const);
  const hunk = hunks[firstThat(hunks.length, (at) => hunks[at][end] > line)];
  return hunk !== undefined && hunk[start] <= line;
}

/** What stands on a line, or on the one above it where that is no more than a bracket. */
function saidAt(lines: readonly string[], line: number): string {
  const said = lines[line].trim();
  return line > 0 && !/[\p{L}\p{N}]/u.test(said) ? lines[line - 1].trim() || said : said;
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
      const start = syntax.start[isUnbracketed(syntax, one) ? syntax.parent[one] : one];
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

/** Whether a hunk begins or ends more blocks than what stood there. Cheap: nothing is parsed for it. */
function opensOrEnds(file: ClassedFile, { oldStart, oldEnd, newStart, newEnd }: Hunk, words?: RegExp): boolean {
  return openedBy(file.old, oldStart, oldEnd, words) !== openedBy(file.next, newStart, newEnd, words);
}

/** How many brackets some lines open more than they close; where words end blocks, how many of those there are. */
function openedBy(lines: readonly string[], from: number, to: number, words?: RegExp): number {
  let open = 0;
  for (let line = from; line < to; line++) {
    if (words) open += lines[line].match(words)?.length ?? 0;
    else {
      for (let at = lines[line].indexOf("{"); at >= 0; at = lines[line].indexOf("{", at + 1)) open++;
      for (let at = lines[line].indexOf("}"); at >= 0; at = lines[line].indexOf("}", at + 1)) open--;
    }
  }
  return open;
}
