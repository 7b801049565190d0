import type { ImportRule } from "../../grammar/languages";
import { isOrder } from "../../grammar/orders";
import { lineAt, type Syntax, tokenAfter, tokenText, typeOf } from "../../grammar/syntax";
import { groupedBy } from "../../plain/grouped";
import type { ClassedFile, Side } from "../classes";

/** One plain import: its lines, 0-based, end exclusive, what it says, and the last word of it, which is the name it binds in Python. */
interface Import {
  start: number;
  end: number;
  text: string;
  last: string;
}

/** Imports with nothing between them, and what stands before and behind them at the top level. */
interface Block {
  imports: Import[];
  before: string;
  after: string;
}

/** What says something of the import behind it. */
const MARKS = /attribute|annotation|decorator/;

/** What the one line of an import that names its source may look like, so that a file without one is not parsed for it. */
const LIKELY =
  /^[ \t]*(?:import\b[^{]*$|import\b.*["';]\r?$|from\b|use\b|\}[ \t]*from\b|[\w.]*[ \t]*"[^"]+"[ \t]*\r?$)/;

/**
 * Finds plain import declarations that were put into another order within one unbroken block at the top level. Proof: the grammar; the
 * same declaration, word for word, was taken from and put into the same block; and the language does not mind their order.
 */
export function classImports(file: ClassedFile): void {
  const rule = file.language?.imports;
  if (!rule || !mayHaveMoved(file)) return;
  const syntaxes = file.syntaxes();
  if (!syntaxes) return;
  const removed = blocksOf(syntaxes.old, rule);
  const added = blocksOf(syntaxes.next, rule);
  if (removed.length !== added.length) return;
  for (const [n, { imports, before, after }] of added.entries()) {
    const was = removed[n];
    if (was.before !== before || was.after !== after) continue;
    if (rule.binds && !(areDistinct(was.imports) && areDistinct(imports))) continue;
    const gone = was.imports.filter((one) => isChanged(file, "old", one));
    const from = groupedBy(gone, ({ text }) => text);
    for (const one of imports) {
      const origin = isChanged(file, "new", one) ? from.get(one.text)?.shift() : undefined;
      if (!origin) continue;
      for (let i = origin.start; i < origin.end; i++) file.set("old", i, "imports");
      for (let j = one.start; j < one.end; j++) file.set("new", j, "imports");
    }
  }
}

function areDistinct(imports: readonly Import[]): boolean {
  return new Set(imports.map(({ last }) => last)).size === imports.length;
}

/** Whether some line of an import was removed and added. */
function mayHaveMoved(file: ClassedFile): boolean {
  const removed = new Set<string>();
  for (const { oldStart, oldEnd } of file.hunks)
    for (let line = oldStart; line < oldEnd; line++) if (isLikely(file.old[line])) removed.add(file.old[line].trim());
  if (removed.size === 0) return false;
  return file.hunks.some(({ newStart, newEnd }) => {
    for (let line = newStart; line < newEnd; line++)
      if (isLikely(file.next[line]) && removed.has(file.next[line].trim())) return true;
    return false;
  });
}

function isLikely(line: string): boolean {
  return line.length < 500 && LIKELY.test(line);
}

function isChanged(file: ClassedFile, side: Side, { start, end }: Import): boolean {
  for (let line = start; line < end; line++) if (!file.isOpen(side, line)) return false;
  return true;
}

/**
 * All blocks of plain imports that have their lines to themselves. Whatever else stands between imports, a comment too, ends a block, and so does an
 * import of which an attribute or an order to a tool speaks. What stands before and behind is told by its kind, and by its words where it is an import as well.
 */
function blocksOf(syntax: Syntax, rule: ImportRule): Block[] {
  const blocks: Block[] = [];
  let open: Block | null = null;
  let before = "";
  /** What stands right before says something of what follows: `#[cfg(test)]`, `// @ts-ignore`. */
  let isMarked = false;
  const close = (after: string) => {
    if (open) open.after = after;
    open = null;
    before = after;
  };
  for (let node = 1; node < syntax.type.length; node++) {
    const parent = syntax.parent[node];
    const gathered = parent > 0 && rule.gathers?.test(typeOf(syntax, parent));
    if (parent !== 0 && !gathered) continue;
    const type = typeOf(syntax, node);
    if (gathered && !rule.node.test(type) && !/comment/.test(type)) continue;
    const one = rule.node.test(type) && !isMarked ? importAt(syntax, node, rule) : null;
    isMarked = MARKS.test(type) || isOrder(syntax, node);
    if (!one) close(rule.node.test(type) ? syntax.text.slice(syntax.start[node], syntax.end[node]) : type);
    else if (open) open.imports.push(one);
    else {
      open = { imports: [one], before, after: "" };
      blocks.push(open);
    }
  }
  return blocks;
}

function importAt(syntax: Syntax, node: number, { plain }: ImportRule): Import | null {
  const { start, end, tokens, lines, text } = syntax;
  const first = tokenAfter(syntax, start[node]);
  let last = first;
  const said: { type: string; text: string }[] = [];
  for (; last < tokens.length && start[tokens[last]] < end[node]; last++)
    said.push({ type: typeOf(syntax, tokens[last]), text: tokenText(syntax, last) });
  if (!plain(said)) return null;
  const from = lineAt(syntax, start[node]);
  const to = lineAt(syntax, Math.max(start[node], end[node] - 1)) + 1;
  const before = text.slice(lines[from], start[node]);
  const after = text.slice(end[node], lines[to]);
  if (/\S/.test(before) || !/^[ \t]*;?[ \t]*\r?\n?$/.test(after)) return null;
  if (syntax.language.indented && before !== "") return null;
  const whole = text.slice(start[node], end[node]).concat(after.includes(";") ? ";" : "");
  return { start: from, end: to, text: whole, last: said[said.length - 1].text };
}
