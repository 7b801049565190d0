import fc from "fast-check";
import type { Reading } from "../whole-reading";

/** What programs of a language are made of. */
export interface Pieces {
  /** The path of a file in it. */
  path: string;
  /**
   * Statements and definitions that tell by `log` or the like what they do. `#` becomes a number, the same throughout a piece, unless a bracket or a word for a preprocessor stands behind
   * it; `$A` and `$B` become names that others of the program may have, too.
   */
  pieces: readonly string[];
  /** A line with which all programs begin. */
  head?: string;
  /** What all programs stand in, above and below them: it is never changed. */
  around?: readonly [above: string, below: string];
  /** What can be put around lines, above and below them, and runs them once as they would be run without it; no line of it stands elsewhere. */
  blocks: readonly (readonly [above: string, below: string])[];
}

/** What becomes a number: no sign for a preprocessor, and none before a bracket. */
const NUMBERED = /#(?!\{|(?:define|undef|if(?:n?def)?|else|endif|(?:end)?region)\b)/g;
const NAMES = ["tide", "ebbing", "flow", "gate"];

interface Edit {
  kind: (typeof EDITS)[number];
  /** Where it is made, and where what it takes goes: any numbers, as parts of what there is. */
  at: number;
  to: number;
  size: number;
}

type Apply = (lines: string[], edit: Edit, blocks: Pieces["blocks"]) => string[];

const indentOf = (line: string) => /^[ \t]*/.exec(line)![0];
const CLOSES = /^[ \t]*(?:[}\])]|(?:fi|done|esac|end)\b)/;

/** Behind the last line of the block that a line begins: those that are deeper, and what closes it. */
function blockEnd(lines: readonly string[], from: number): number {
  const indent = indentOf(lines[from]);
  let end = from + 1;
  while (end < lines.length && (lines[end] === "" || indentOf(lines[end]).length > indent.length)) end++;
  while (lines[end - 1] === "") end--;
  return end < lines.length && indentOf(lines[end]) === indent && CLOSES.test(lines[end]) ? end + 1 : end;
}

function moved(lines: string[], from: number, end: number, to: number): string[] {
  const rest = [...lines.slice(0, from), ...lines.slice(end)];
  const place = to % (rest.length + 1);
  return [...rest.slice(0, place), ...lines.slice(from, end), ...rest.slice(place)];
}

/** Puts something in at a place of the text, in place of some of what is there. */
function spliced(lines: string[], at: number, size: number, text: string): string[] {
  const whole = lines.join("\n");
  return (whole.slice(0, at) + text + whole.slice(at + size)).split("\n");
}

/** Changes one of the places that fit. */
function changedAt(
  lines: string[],
  { at }: Edit,
  sought: RegExp,
  change: (found: RegExpMatchArray) => string,
): string[] {
  const found = [...lines.join("\n").matchAll(sought)];
  const one = found[at % Math.max(1, found.length)];
  return one ? spliced(lines, one.index, one[0].length, change(one)) : lines;
}

/** The lines of a text, indented. */
const put = (text: string, indent: string) => text.split("\n").flatMap((line) => (line ? [indent + line] : []));
const dedented = (line: string) => line.replace(/^ {2}/, "");

/** One of the blocks that run once: what stands before, in and behind it. */
function blockOf(lines: readonly string[], at: number, blocks: Pieces["blocks"]) {
  const heads = blocks.map(([above]) => above);
  const found = lines.flatMap((line, n) => (heads.includes(line.trim()) ? [n] : []));
  const from = found[at % Math.max(1, found.length)];
  if (from === undefined) return null;
  const end = blockEnd(lines, from);
  const closes = CLOSES.test(lines[end - 1]) && end > from + 1 ? end - 1 : end;
  const [before, within, behind] = [lines.slice(0, from), lines.slice(from + 1, closes), lines.slice(end)];
  return { before, indent: indentOf(lines[from]), within, behind };
}

const SPACES = [" ", "\n", "\t", "\n  ", " \n"];

/** What is done to a text; most of it looks as if nothing came of it. */
const APPLY = {
  block: (lines, { at, to }) => moved(lines, at % lines.length, blockEnd(lines, at % lines.length), to),
  lines: (lines, { at, to, size }) =>
    moved(lines, at % lines.length, Math.min(lines.length, (at % lines.length) + size), to),
  indent: (lines, { at, size }) =>
    lines.with(at % lines.length, lines[at % lines.length].replace(/^[ \t]*/, ["", "  ", "\t", "    "][size % 4])),
  blank: (lines, { at }) => lines.toSpliced(at % lines.length, 0, ""),
  joined: (lines, { at }) => {
    const line = at % lines.length;
    return lines.toSpliced(line, 2, `${lines[line]} ${(lines[line + 1] ?? "").trimStart()}`);
  },
  space: (lines, { at, size }) => spliced(lines, at % lines.join("\n").length, 0, SPACES[size % SPACES.length]),
  squeezed: (lines, { at, size }) => {
    const text = lines.join("\n");
    const gaps = [...text.matchAll(/\s+/g)];
    const gap = gaps[at % Math.max(1, gaps.length)];
    return gap ? spliced(lines, gap.index, gap[0].length, ["", " ", "\n"][size % 3]) : lines;
  },
  quotes: (lines, edit) =>
    changedAt(lines, edit, /(["'])([^"'\n]*)\1/g, ([, quote, within]) =>
      quote === "'" ? `"${within}"` : `'${within}'`,
    ),
  sign: (lines, edit) => changedAt(lines, edit, /[,;]?(?=\n|[)\]}])/g, ([sign]) => (sign ? "" : ",;"[edit.size % 2])),
  brackets: (lines, edit) => changedAt(lines, edit, /\((\$?\w+)\)|\$?\b\w+\b/g, ([word, bare]) => bare ?? `(${word})`),
  braces: (lines, { at }) => {
    const opens = lines.flatMap((line, n) => (/\S.*\{$/.test(line) ? [n] : []));
    const from = opens[at % Math.max(1, opens.length)];
    const end = from === undefined ? 0 : blockEnd(lines, from);
    if (from === undefined || end < from + 3) return lines;
    return [
      ...lines.slice(0, from),
      lines[from].replace(/[ \t]*\{$/, ""),
      ...lines.slice(from + 1, end - 1),
      ...lines.slice(end),
    ];
  },
  wrapped: (lines, { at, to, size }, blocks) => {
    const from = at % lines.length;
    const end = to % 2 ? blockEnd(lines, from) : Math.min(lines.length, from + size);
    const [above, below] = blocks[to % blocks.length];
    const indent = indentOf(lines[from]);
    const within = lines.slice(from, end).map((line) => (line === "" ? line : `  ${line}`));
    return [...lines.slice(0, from), ...put(above, indent), ...within, ...put(below, indent), ...lines.slice(end)];
  },
  unwrapped: (lines, { at }, blocks) => {
    const block = blockOf(lines, at, blocks);
    if (!block) return lines;
    const { before, within, behind } = block;
    return [...before, ...within.map(dedented), ...behind];
  },
  /** The last lines of a block stand behind it now, which has another head. */
  shortened: (lines, { at, to, size }, blocks) => {
    const block = blockOf(lines, at, blocks);
    if (!block) return lines;
    const { before, indent, within, behind } = block;
    const [above, below] = blocks[to % blocks.length].map((text) => put(text, indent));
    const cut = size % (within.length + 1);
    return [...before, ...above, ...within.slice(0, cut), ...below, ...within.slice(cut).map(dedented), ...behind];
  },
} satisfies Record<string, Apply>;
const EDITS = [
  ...(["block", "block", "block", "lines", "indent", "blank", "joined", "space", "squeezed"] as const),
  ...(["quotes", "sign", "brackets", "braces", "wrapped", "wrapped", "unwrapped", "shortened"] as const),
] as const;

/**
 * Whether a reading of one changed text says that nothing is to be read, or nothing but blocks around the same that run it once; where a caution says that code is run by another block now, something is.
 */
export function isWhollyQuiet(
  { changed, toRead, counts, files: [{ cautions, runs }] }: Reading,
  { old, next }: { old: string; next: string },
  { blocks }: Pieces,
): boolean {
  const known = new Set(blocks.flat().flatMap((text) => text.split("\n")));
  known.delete("");
  const lines = { old: old.split("\n"), new: next.split("\n") };
  const readOn = (of: "old" | "new") =>
    runs
      .filter((run) => run.class === "read" && run.side === of)
      .flatMap(({ start, end }) => lines[of].slice(start, end).map((line) => line.trim()));
  const [went, came] = [readOn("old"), readOn("new")];
  if (changed === 0 || cautions.length > 0) return false;
  // What comes between two lines that are one head makes another of them.
  const heads = blocks.map(([above]) => above.split("\n")).filter(({ length }) => length > 1);
  const isParted = (all: readonly string[]) => heads.some((head) => isApart(all, head));
  if (isParted(lines.old) || isParted(lines.new)) return false;
  if (toRead > 0 && counts.nested === 0) return false;
  // A line that went and came may make another block now.
  return [...went, ...came].every((line) => known.has(line)) && !went.some((line) => came.includes(line));
}

/** Whether some of several lines that belong together stand somewhere without the others. */
function isApart(lines: readonly string[], together: readonly string[]): boolean {
  const bare = lines.map((line) => line.trim());
  return bare.some((line, at) => {
    const n = together.indexOf(line);
    return n >= 0 && together.some((other, m) => bare[at - n + m] !== other);
  });
}

/**
 * Programs before and after some changes in them, as texts: blocks and lines that go elsewhere, and white space that comes and goes. Most of them run, before and
 * after; some are none any more.
 */
export function changedPrograms({
  pieces,
  head,
  around = ["", ""],
  blocks,
}: Pieces): fc.Arbitrary<[old: string, next: string]> {
  const name = fc.constantFrom(...NAMES);
  const piece = fc
    .tuple(fc.constantFrom(...pieces), fc.integer({ min: 10, max: 99 }), name, name, fc.boolean())
    .map(([text, number, a, b, isApart]) =>
      text
        .replaceAll(NUMBERED, `${number}`)
        .replaceAll("$A", a)
        .replaceAll("$B", b)
        .concat(isApart ? "\n" : ""),
    );
  const edit = fc.record<Edit>({
    kind: fc.constantFrom(...EDITS),
    at: fc.nat(2_000),
    to: fc.nat(2_000),
    size: fc.integer({ min: 1, max: 8 }),
  });
  const apply = (lines: string[], edits: Edit[]) =>
    edits.reduce((now, one) => (now.length > 0 ? APPLY[one.kind](now, one, blocks) : now), lines);
  return fc
    .tuple(
      fc.array(piece, { minLength: 1, maxLength: 6 }),
      fc.array(edit, { maxLength: 2 }),
      fc.array(edit, { minLength: 1, maxLength: 2 }),
    )
    .map(([parts, before, after]) => {
      const old = apply([...(head ? [head] : []), ...parts.join("\n").split("\n")], before);
      const whole = (lines: readonly string[]) => `${around[0]}${lines.join("\n")}\n${around[1]}`;
      return [whole(old), whole(apply(old, after))];
    });
}
