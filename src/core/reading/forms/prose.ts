import { type Hunk, sharedPairs } from "../../diff/hunk";
import { range } from "../../plain/range";

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
/** What else goes on over empty lines, until what ends it: CommonMark 0.31, HTML blocks 1 to 5. A comment takes all that is in it away. */
const RAW: readonly (readonly [begins: RegExp, ends: RegExp])[] = [
  [/^ {0,3}<(?:script|pre|style|textarea)(?:[\s>]|$)/i, /<\/(?:script|pre|style|textarea)>/i],
  [/^ {0,3}<!--/, /-->/],
  [/^ {0,3}<\?/, /\?>/],
  [/^ {0,3}<![a-z]/i, />/],
  [/^ {0,3}<!\[CDATA\[/, /\]\]>/],
];

/** The blocks of a text in Markdown: parts between empty lines; fenced code, comments and the like, and lists stay whole. */
export function blocksIn(lines: readonly string[]): Block[] {
  const blocks: Block[] = [];
  let start = -1;
  let fence = "";
  let ends: RegExp | null = null;
  for (const [line, text] of lines.entries()) {
    const [, mark] = FENCE.exec(text) ?? [];
    if (fence === "") ends ??= RAW.find(([begins]) => begins.test(text))?.[1] ?? null;
    if (ends?.test(text)) ends = null;
    else if (!ends && mark && fence === "") fence = mark;
    else if (!ends && mark?.startsWith(fence) && text.trim() === mark) fence = "";
    if (text.trim() === "" && fence === "" && !ends) {
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
 * Both states of a text in Markdown, block by block, in the order in which they are read: those that are the same once, the others as they
 * were and then as they are. Every line that says something is in a block. The same is what a block of its own is on either side, too: what begins
 * above can make another thing of lines that did not change.
 */
export function shownBlocks(old: readonly string[], next: readonly string[], hunks: readonly Hunk[]): ShownBlock[] {
  const textOf = (lines: readonly string[], { start, end }: Block) => lines.slice(start, end).join("\n");
  const oldOf = new Map(sharedPairs(hunks, old.length).map(([i, j]) => [j, i]));
  const before = blocksIn(old);
  const ends = new Map(before.map(({ start, end }) => [start, end]));
  const kept = new Set<number>();
  const blocks = blocksIn(next).map((block) => {
    const start = oldOf.get(block.start);
    const isSame =
      start !== undefined &&
      ends.get(start) === start + block.end - block.start &&
      range(block.start, block.end).every((line) => oldOf.get(line) === start + line - block.start);
    if (isSame) kept.add(start);
    return { ...block, isSame };
  });
  const gone = before.filter(({ start }) => !kept.has(start));
  const place = placesIn(hunks);
  const result: ShownBlock[] = [];
  let waiting = 0;
  const flush = (until: number) => {
    for (; waiting < gone.length && place(gone[waiting].start) < until; waiting++)
      result.push({ kind: "removed", text: textOf(old, gone[waiting]), line: gone[waiting].start });
  };
  for (const block of blocks) {
    flush(block.isSame ? block.start + 1 : block.end);
    result.push({ kind: block.isSame ? "same" : "added", text: textOf(next, block), line: block.start });
  }
  flush(Number.POSITIVE_INFINITY);
  return result;
}

/** Whether a block is a comment alone, of which nothing is drawn; one that never ends takes all that follows. */
export function isComment(block: string): boolean {
  const end = block.indexOf("-->", block.indexOf("<!--") + 2);
  return /^ {0,3}<!--/.test(block) && (end < 0 || block.slice(end + 3).trim() === "");
}

/** What links lead to that name it, by a label that stands elsewhere: CommonMark 0.31, link reference definitions. */
export interface LinkDefinition {
  label: string;
  /** With its title, as it is written. */
  leadsTo: string;
}

const LABEL = String.raw`\[((?:[^[\]\\]|\\.){1,999})\]`;
/** On one line; a label that begins with `^` is that of a footnote. */
const DEFINITION = new RegExp(`^ {0,3}(?!\\[\\^)${LABEL}:[ \\t]*(\\S.*)$`);
const NAMED = new RegExp(LABEL, "g");

/** The definitions that a block begins with: nothing is drawn of them. Elsewhere such a line is part of what stands above it. */
export function definitionsOf(block: string): LinkDefinition[] {
  const found: LinkDefinition[] = [];
  for (const line of block.split("\n")) {
    const [, label, leadsTo] = DEFINITION.exec(line) ?? [];
    if (label === undefined) break;
    found.push({ label, leadsTo: leadsTo.trim() });
  }
  return found;
}

/** Labels are the same whatever their case and the space in them. */
const keyOf = (label: string) => label.trim().replace(/\s+/g, " ").toLowerCase();

/** All definitions of a text, by their labels as {@link definitionsFor} looks for them. The first of a label counts. */
export function definitionsIn(lines: readonly string[]): Map<string, LinkDefinition> {
  const all = new Map<string, LinkDefinition>();
  for (const { start, end } of blocksIn(lines)) {
    for (const one of definitionsOf(lines.slice(start, end).join("\n"))) {
      const key = keyOf(one.label);
      if (!all.has(key)) all.set(key, one);
    }
  }
  return all;
}

/**
 * The definitions that a block names, as lines to stand before it, so that it is drawn by itself as it would be within its text. Before, since what ends nowhere takes in all
 * that follows.
 *
 * @example definitionsFor("See [tides].", definitionsIn(["[Tides]: /t"])) // "[Tides]: /t\n\n"
 */
export function definitionsFor(block: string, all: ReadonlyMap<string, LinkDefinition>): string {
  if (all.size === 0) return "";
  const named = new Set([...block.matchAll(NAMED)].flatMap(([, label]) => all.get(keyOf(label)) ?? []));
  const lines = [...named].map(({ label, leadsTo }) => `[${label}]: ${leadsTo}\n`);
  return lines.length > 0 ? `${lines.join("")}\n` : "";
}

/** Where old lines, asked for in order, stand in the new text, or would: where what took their place begins. */
function placesIn(hunks: readonly Hunk[]): (line: number) => number {
  let at = 0;
  return (line) => {
    while (at < hunks.length && hunks[at].oldEnd <= line) at++;
    const hunk = hunks[at];
    if (hunk && hunk.oldStart <= line) return hunk.newStart;
    const last = hunks[at - 1];
    return line + (last ? last.newEnd - last.oldEnd : 0);
  };
}
