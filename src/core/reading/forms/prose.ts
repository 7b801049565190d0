import type { Hunk } from "../../diff/hunk";

/** A part of a text that is drawn by itself, such as a paragraph. Lines are 0-based, the end exclusive. */
export interface Block {
  start: number;
  end: number;
}

/** A block as it is shown where both states of a text are: as it was and is, or on one side alone. */
export interface ShownBlock {
  kind: "same" | "added" | "removed";
  text: string;
  /** Its first line on its own side, 0-based. */
  line: number;
}

const FENCE = /^ {0,3}(`{3,}|~{3,})/;
const LIST = /^\s*(?:[-*+]|\d+[.)])\s/;

/** The blocks of a text in Markdown: parts between empty lines; fenced code and lists stay whole. */
export function blocksIn(lines: readonly string[]): Block[] {
  const blocks: Block[] = [];
  let start = -1;
  let fence = "";
  for (const [line, text] of lines.entries()) {
    const [, mark] = FENCE.exec(text) ?? [];
    if (mark && fence === "") fence = mark;
    else if (mark?.startsWith(fence) && text.trim() === mark) fence = "";
    if (text.trim() === "" && fence === "") {
      if (start >= 0) blocks.push({ start, end: line });
      start = -1;
    } else if (start < 0) start = line;
  }
  if (start >= 0) blocks.push({ start, end: lines.length });
  return blocks.reduce<Block[]>((whole, block) => {
    const last = whole[whole.length - 1];
    const goesOn =
      last && LIST.test(lines[last.start]) && (LIST.test(lines[block.start]) || /^\s{2}/.test(lines[block.start]));
    if (goesOn) last.end = block.end;
    else whole.push({ ...block });
    return whole;
  }, []);
}

/**
 * Both states of a text in Markdown, block by block, in the order in which they are read: those that are the same once, those that a hunk
 * touches as they were and then as they are. Every line that says something is in a block.
 */
export function shownBlocks(old: readonly string[], next: readonly string[], hunks: readonly Hunk[]): ShownBlock[] {
  const textOf = (lines: readonly string[], { start, end }: Block) => lines.slice(start, end).join("\n");
  const gone = blocksIn(old).flatMap((block) => {
    const hunk = hunks.find(({ oldStart, oldEnd }) => touches(block, oldStart, oldEnd));
    return hunk ? [{ block, at: hunk.newStart }] : [];
  });
  const result: ShownBlock[] = [];
  let waiting = 0;
  const flush = (until: number) => {
    for (; waiting < gone.length && gone[waiting].at < until; waiting++) {
      const { block } = gone[waiting];
      result.push({ kind: "removed", text: textOf(old, block), line: block.start });
    }
  };
  for (const block of blocksIn(next)) {
    const touched = hunks.some(({ newStart, newEnd }) => touches(block, newStart, newEnd));
    flush(touched ? block.end : block.start + 1);
    result.push({ kind: touched ? "added" : "same", text: textOf(next, block), line: block.start });
  }
  flush(Number.POSITIVE_INFINITY);
  return result;
}

/** Whether lines of a block are among some others; where those are none, whether they would lie within it. */
function touches({ start, end }: Block, from: number, to: number): boolean {
  return from === to ? start < from && from < end : start < to && from < end;
}
