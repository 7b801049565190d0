import { isTest } from "../diff/order";
import { headingsIn, isMarkdown } from "../diff/scopes";
import type { Syntax } from "../grammar/syntax";
import { typeOf } from "../grammar/syntax";
import type { DefinitionKind } from "./definition";
import { definitionsIn } from "./definitions";
import { lastLine, lineOf } from "./survey";

/** What an outline lists: what is defined, and what a reader looks for by its words. */
export type OutlinedKind = DefinitionKind | "test" | "heading";

/** A part of a file that has a name. Lines are 0-based, the end is exclusive. */
export interface Outlined {
  name: string;
  kind: OutlinedKind;
  /** The names of the parts that it lies in, the outermost first. */
  within: string[];
  /** The line on which the name stands; `start` is the first of the whole, which may be a decorator. */
  line: number;
  start: number;
  end: number;
}

/**
 * What a file is made of, in order: what it defines beyond its functions, tests by what they say, headings in Markdown. Nothing where its language
 * is not known.
 */
export function outlineIn(path: string, lines: readonly string[], syntax: Syntax | null): Outlined[] {
  if (isMarkdown(path)) return headings(lines);
  if (!syntax) return [];
  const defined = definitionsIn(syntax)
    .filter(({ scope }) => scope === null)
    .map(({ name, kind, within, line, start, end }): Outlined => ({ name, kind, within, line, start, end }));
  if (!isTest(path)) return defined;
  return [...defined, ...testsIn(syntax)].sort((a, b) => a.start - b.start || b.end - a.end);
}

function headings(lines: readonly string[]): Outlined[] {
  const result: Outlined[] = [];
  const open: { part: Outlined; rank: number }[] = [];
  for (const { line, text, rank } of headingsIn(lines)) {
    while (open.length > 0 && open[open.length - 1].rank >= rank) open.pop()!.part.end = line;
    const within = open.map(({ part }) => part.name);
    const part: Outlined = { name: text, kind: "heading", within, line, start: line, end: lines.length };
    result.push(part);
    open.push({ part, rank });
  }
  return result;
}

const CALLS = /^(?:call_expression|call)$/;
const LONGEST_HEAD = 300;
/** `it("…", …)`, `describe.each(table)("…", …)`, `it "…" do`. */
const TEST =
  /^(?:it|test|describe|suite|context|specify)(?:\.\w{1,20})*(?:\([^()"'`]{0,100}\))?(?:\(\s*|\s+)(["'`])(.+?)\1/s;

/** Calls that say what is tested, as many grammars write them. */
function testsIn(syntax: Syntax): Outlined[] {
  const result: Outlined[] = [];
  const around: { name: string; end: number }[] = [];
  let last = -1;
  for (let node = 1; node < syntax.type.length; node++) {
    if (!CALLS.test(typeOf(syntax, node))) continue;
    const [start, end] = [syntax.start[node], syntax.end[node]];
    const said = TEST.exec(syntax.text.slice(start, Math.min(end, start + LONGEST_HEAD)));
    const line = lineOf(syntax, node);
    // What is called is told with its words, and again as that which gives what is called.
    if (!said || line === last) continue;
    last = line;
    while (around.length > 0 && around[around.length - 1].end <= start) around.pop();
    const name = said[2].replace(/\s+/g, " ");
    result.push({
      name,
      kind: "test",
      within: around.map((one) => one.name),
      line,
      start: line,
      end: lastLine(syntax, node) + 1,
    });
    around.push({ name, end });
  }
  return result;
}

/** The parts that a line lies in, the outermost first; not the one that begins on it. */
export function partsAround<Part extends Pick<Outlined, "start" | "end" | "line">>(
  outline: readonly Part[],
  line: number,
): Part[] {
  const around = outline.filter(({ start, end }) => start < line && line < end);
  // Of those that begin on one line the widest says it: a constant and the object that it is.
  return around.filter((part, at) => around.findIndex(({ line: on }) => on === part.line) === at);
}
