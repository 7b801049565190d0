import { firstThat } from "../../../plain/first-that";
import { type Block, type Blocks, LONGEST_HEAD } from "../blocks";
import { CURLY, type Signs, signsOf } from "./enclosures";
import { LookReader } from "./states";

/** How blocks of a format end where no grammar reads it, by words unless by brackets; null where they have no end, or that is not known. */
export function blockEnds(path: string): { words?: RegExp } | null {
  const blocks = signsOf(path)?.blocks;
  if (!blocks || blocks === CURLY) return blocks ? {} : null;
  return { words: new RegExp(blocks.turn ? `${blocks.close}|${blocks.turn}` : blocks.close, "g") };
}

/** The blocks of a text that no grammar reads; null where as many are not ended as begun, as far as their look tells, or there are none. */
export function blocksByLook(path: string, lines: readonly string[]): Blocks | null {
  const signs = signsOf(path);
  if (!signs?.blocks) return null;
  const blocks = new LookedBlocks();
  let line = 0;
  // Places of lines follow each other: no two blocks begin at the same one.
  let before = 0;
  const reader = new LookReader(signs, null, (isOpen, at) => {
    if (isOpen) blocks.open(line, before + at, () => headFrom(lines, line));
    else blocks.close();
  });
  const comment = commentsOf(signs);
  for (; line < lines.length; line++) {
    blocks.begin(reader.state === "code" && !comment?.test(lines[line]));
    reader.read(lines[line]);
    before += lines[line].length + 1;
  }
  return blocks.areEven ? blocks : null;
}

/** What a line of a format begins with that is a comment first; null where that is not known. */
export function commentsIn(path: string): RegExp | null {
  const signs = signsOf(path);
  return signs && commentsOf(signs);
}

function commentsOf({ enclosures, line }: Signs): RegExp | null {
  const begun = enclosures.flatMap(({ is, open }) => (is === "comment" ? open : []));
  const all = line === undefined ? begun : [line, ...begun];
  return all.length > 0 ? new RegExp(`^[ \\t]*(?:${all.join("|")})`) : null;
}

/** The line on which that begins which a line ends: where the round brackets that it closes are opened; itself where they are nowhere near. */
function headFrom(lines: readonly string[], line: number): number {
  let closed = 0;
  for (let at = line; at >= 0 && line - at < LONGEST_HEAD; at--) {
    closed += lines[at].split(")").length - lines[at].split("(").length;
    if (closed <= 0 && (at < line || /[\p{L}\p{N}]/u.test(lines[at]))) return at;
  }
  return line;
}

/** Made from the first line to the last. */
class LookedBlocks implements Blocks {
  private readonly code: boolean[] = [];
  private readonly innermost: (Block | null)[] = [];
  private readonly all: Block[] = [];
  private now: Block | null = null;
  private closesTooMany = false;

  get areEven(): boolean {
    return this.now === null && !this.closesTooMany;
  }

  begin(isCode: boolean): void {
    this.code.push(isCode);
    this.innermost.push(this.now);
  }

  open(line: number, start: number, headFrom: () => number): void {
    const last = this.all.at(-1);
    const from = last?.line === line ? last.from : headFrom();
    this.now = { start, from, line, around: this.now, depth: (this.now?.depth ?? 0) + 1 };
    this.all.push(this.now);
  }

  close(): void {
    if (this.now) this.now = this.now.around;
    else this.closesTooMany = true;
  }

  isCode(line: number): boolean {
    return this.code[line];
  }

  around(line: number): Block | null {
    return this.innermost[line] ?? null;
  }

  begun(from: number, to: number, depth: number): Block[] {
    const { all } = this;
    const first = firstThat(all.length, (at) => all[at].line >= from);
    const behind = firstThat(all.length, (at) => all[at].line >= to);
    const deep = all.slice(first, behind).filter((block) => block.depth === depth);
    // What is given to a call on its line is none of its own: `listen({ port: 0 }, () => {`.
    return deep.filter(({ line }, n) => deep[n + 1]?.line !== line);
  }
}
