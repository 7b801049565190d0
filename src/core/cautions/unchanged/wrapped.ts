import { hunkAt, isChangedAt } from "../../diff/hunk";
import type { LanguageId } from "../../grammar/languages";
import type { Syntax } from "../../grammar/syntax";
import { counted, shortened } from "../../plain/words";
import type { Side } from "../../quiet/classes";
import type { Caution } from "../caution";
import { type Block, type Blocks, LONGEST_HEAD, ReadBlocks } from "./blocks";
import { blockEnds, blocksByLook } from "./by-look/blocks";
import { lookedAs } from "./by-look/named";
import { goesOnIn } from "./likeness";
import { opensOrEnds } from "./opened";
import { longRuns, saidOfRuns } from "./runs";
import { isRewritten, type Still } from "./still";

/** Where words end blocks, and not brackets, or where one sign begins them. */
const ENDS: Partial<Record<LanguageId, RegExp>> = {
  python: /:[ \t]*\r?$/g,
  ruby: /\bend\b|[{}]/g,
  bash: /\b(?:fi|done|esac)\b|[{}]/g,
};
const SAYS_SOMETHING = /[\p{L}\p{N}_]{2}.*[\p{L}\p{N}_]{2}/u;
/** So much is quoted of the line that begins a block, in UTF-16 units. */
const LONGEST = 80;

/**
 * Where lines that did not change stand within a block that they did not stand in, or no more in one, or in another one as deep: its bracket was put above them, or below, and they were not indented for it.
 * What comes of it stands at its two ends, and nobody is shown what lies between.
 *
 * @example // "if (trial) {" was put above twelve lines, and "}" below them:
 * // [{ kind: "switched", says: "12 unchanged lines stand within “if (trial) {” now, and are not indented for it.", line: 3 }]
 */
export function wrappedLines(file: Still): Caution[] {
  const { language, hunks } = file;
  const ends = language?.blocks ? { words: ENDS[language.id] } : blockEnds(lookedAs(file.path, file.next));
  if (!ends) return [];
  const runs = longRuns(file);
  if (runs.length === 0 || !hunks.some((hunk) => opensOrEnds(file, hunk, ends.words))) return [];
  const tell = (blocks: BothBlocks) => {
    const wraps = new Wraps(file, blocks);
    return saidOfRuns(
      runs,
      (old, next) => wraps.says(old, next),
      (count) => `within or outside of ${counted(count, "other block")} now`,
    );
  };
  const read = language && file.syntaxes();
  if (!read) {
    const blocks = blocksOf(file);
    return blocks ? tell(blocks) : [];
  }
  const told = tell(blocksIn(read));
  // What lies apart from all hunks was left whole, in one state more than in the other: what is told has to hold where all is taken apart.
  const whole = told.length > 0 ? file.detailed() : null;
  return whole ? tell(blocksIn(whole)) : told;
}

interface BothBlocks {
  before: Blocks;
  after: Blocks;
}

function blocksIn({ old, next }: { old: Syntax; next: Syntax }): BothBlocks {
  return { before: new ReadBlocks(old), after: new ReadBlocks(next) };
}

/** The same by their look, where no grammar reads them; null where that tells nothing either. */
function blocksOf({ path, old, next }: Still): BothBlocks | null {
  const name = lookedAs(path, next);
  const before = blocksByLook(name, old);
  const after = before && blocksByLook(name, next);
  return after && { before: before!, after };
}

/** Tells by which blocks unchanged lines are in more, or in fewer, than before, or in others. */
class Wraps {
  private readonly before: Blocks;
  private readonly after: Blocks;
  /** By where the innermost blocks begin, before and after. */
  private readonly said = new Map<string, string | null>();

  constructor(
    private readonly file: Still,
    { before, after }: BothBlocks,
  ) {
    this.before = before;
    this.after = after;
  }

  /** Where a line stands now; null where nothing is to be said of it. */
  says(old: number, next: number): string | null {
    const { file, before, after } = this;
    if (!SAYS_SOMETHING.test(file.next[next]) || !before.isCode(old) || !after.isCode(next)) return null;
    return this.saysOf(before.around(old), after.around(next));
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
      return `within ${within(headBy(is!, wasDeep, (line) => isChangedAt(hunks, "new", line)))} now, and are not indented for it`;
    if (isDeep < wasDeep)
      return `outside of ${outside(headBy(was!, isDeep, (line) => isChangedAt(hunks, "old", line)))} now, in which they stood`;
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
    const [before, after] = [headOf(old, was.line), headOf(next, is.line)];
    if (this.isSameRewritten(before, after)) return false;
    const [from, to] = [hunkAt(hunks, "old", before), hunkAt(hunks, "new", after)];
    const isChanged = isChangedAt(hunks, "old", before);
    if (from.oldStart === to.oldStart && from.newStart === to.newStart) {
      if (!isChanged) return false;
      const begun = this.before.begun(from.oldStart, from.oldEnd, was.depth);
      const others = this.after.begun(from.newStart, from.newEnd, is.depth).filter(({ start }) => start !== is.start);
      const heads = others.map((block) => wholeHead(next, block));
      return others.length >= begun.length && goesOnIn(wholeHead(old, was), wholeHead(next, is), heads);
    }
    if (!isChanged || !isChangedAt(hunks, "new", after)) return true;
    let block = this.after.around(from.newEnd);
    while (block && block.depth > was.depth) block = block.around;
    const head = block?.depth === was.depth ? headOf(next, block.line) : -1;
    return from.newStart <= head && head < from.newEnd;
  }

  /** Whether a head was joined with other lines or parted, and the other one is none that is to be read: it has no line of its own to be found by. */
  private isSameRewritten(before: number, after: number): boolean {
    const { file } = this;
    const isLeft = (side: Side, line: number) => isChangedAt(file.hunks, side, line) && isRewritten(file, side, line);
    return (
      (isLeft("old", before) && file.classAt("new", after) !== "read") ||
      (isLeft("new", after) && file.classAt("old", before) !== "read")
    );
  }
}

/** What is no head of the bracket on the line below: nothing, a comment, or what ends by itself, or holds it among others. */
const NO_HEAD = /^[ \t]*(?:\/[/*]|\*|#|\r?$)|[;,{}[][ \t]*\r?$/;

/** The line that says what a block is: that on which it begins, or the one above where that holds no more than a bracket. */
function headOf(lines: readonly string[], line: number): number {
  const isBare = line > 0 && !/[\p{L}\p{N}]/u.test(lines[line]);
  return isBare && !NO_HEAD.test(lines[line - 1]) ? line - 1 : line;
}

/** What stands there. */
function saidAt(lines: readonly string[], line: number): string {
  return lines[headOf(lines, line)].trim();
}

/** What stands from where that begins which a block belongs to, to where the block itself does. */
function wholeHead(lines: readonly string[], { line, from }: Block): string {
  const first = Math.max(line - LONGEST_HEAD, Math.min(from, headOf(lines, line)));
  return lines.slice(first, line + 1).join(" ");
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
