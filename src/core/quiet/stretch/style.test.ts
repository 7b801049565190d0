import { transform } from "esbuild";
import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import { childrenOf } from "../../grammar/children";
import { languageById } from "../../grammar/languages";
import type { Parse } from "../../grammar/parse";
import { nodeText, type Syntax, typeOf } from "../../grammar/syntax";
import { tries } from "../../testing/tries";
import type { LineClass } from "../classes";
import { readTexts } from "../read-texts";
import { carriedOver } from "../testing/carried-over";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const SCRIPT = [
  "hold('berth', { tide: 'ebb' });",
  "a = [1, 2, ['it\\'s', \"say\"]];",
  "b = ships.map(ship => ship.name);",
  "f = (ship.berth, ship.tide) + typeof (ship);",
  "c = (a + b) * d - (e && f || g);",
  "d = (a?.b).c ? [a, , b] : (x, y);",
  "function go(a, ...rest) {",
  "  return (a ?? b) || (-c) ** 2;",
  "}",
  "for (const one of (ships)) hold((one), (one, two));",
  "const { e, f: [g] } = (h);",
  "new (ship())('a\\\\', \"it's\");",
  "if (a) b(); else c('d');",
  "while (a) { if (b) c(); } ",
  "if (a) { b(); } else { c(); d(); }",
  "`tide`.go();",
  "[a].map(b);",
  "(a || b)();",
  "let i = a",
  "++i",
  "{ const j = a; k(j) }",
];
const PYTHON = [
  "hold('berth', tide='ebb', ships=[a, b])",
  "a = (b,)",
  "c = board[d, e]",
  "f = {'g': 'it\\'s', \"h\": r'\\d'}",
  "i = (a < b) < c and not (d or e)",
  "def hold(berth, *ships, tide=(1)):\n    assert (berth), 'tide'\n    return (berth, ships), -(tide)",
  "def free(berth):\n    yield (a for a in (b))\n    yield ('c')",
  "from a import b, c",
  "j = [k for k in (l) if (m)]",
  "n = (a) if (b) else (c.d)",
  "o = f'{p[\"q\"]}' 'r' + b's'",
];

/** Ways of writing a text otherwise: some say the same in a few places, and another thing in most. */
const edits = fc.array(
  fc.record({
    at: fc.nat(30),
    how: fc.constantFrom(
      ...(["quotes", "quotes", "quotes", "break"] as const),
      "comma",
      "less",
      "brackets",
      "bare",
      "break",
      "token",
      "end",
      "block",
      "open",
      "double",
      "swap",
    ),
    n: fc.nat(40),
    to: fc.nat(40),
  }),
  { minLength: 1, maxLength: 5 },
);
type Edit = typeof edits extends fc.Arbitrary<(infer T)[]> ? T : never;

function placesOf(text: string, sought: RegExp): number[] {
  return [...text.matchAll(sought)].map(({ index }) => index);
}

const EDITS: Record<Exclude<Edit["how"], "double" | "swap">, (text: string, n: number, to: number) => string> = {
  quotes: (text, n) => {
    const other = n % 2 ? /'([^']*)'/g : /"([^"]*)"/g;
    return text.replace(other, n % 2 ? '"$1"' : "'$1'");
  },
  comma: (text, n) => putIn(text, n, /[)\]}]/g, ","),
  less: (text, n) => {
    const places = placesOf(text, /,(?=\s*[)\]}])/g);
    const place = places[n % places.length];
    return place === undefined ? text : text.slice(0, place) + text.slice(place + 1);
  },
  brackets: (text, n, to) => putIn(putIn(text, n + to, /(?<=\w)\b|[)\]}]/g, ")"), n, /\b(?=\w)|[([{]/g, "("),
  bare: (text, n) => {
    const [open, close] = [placesOf(text, /\(/g), placesOf(text, /\)/g)];
    const from = open[n % open.length];
    const end = close.filter((place) => place > from)[0];
    return from === undefined || end === undefined
      ? text
      : text.slice(0, from) + text.slice(from + 1, end) + text.slice(end + 1);
  },
  break: (text, n) => putIn(text, n, /(?<=[([{,]) ?|[)\]}]/g, "\n      "),
  end: (text, n) => (n % 2 ? text.replace(/;$/, "") : text.replace(/;(?=\s*\})/, "")),
  block: (text, n) => `${putIn(text, n, /(?<=\)|else) /g, " {")} }`,
  open: (text) => text.replace(/\{([^{}]*)\}/, "$1"),
  token: (text, n) => text.replace(/\w+/, n % 2 ? "other" : "1"),
};

function putIn(text: string, n: number, sought: RegExp, sign: string): string {
  const places = placesOf(text, sought);
  const place = places[n % places.length];
  return place === undefined ? text : text.slice(0, place) + sign + text.slice(place);
}

function edited(lines: readonly string[], list: readonly Edit[]): string {
  let now = lines.join("\n").split("\n");
  for (const { at, how, n, to } of list) {
    const line = at % now.length;
    if (how === "double") now.splice(line, 0, now[line]);
    else if (how === "swap") now.splice(line, 2, ...now.slice(line, line + 2).reverse());
    else now[line] = EDITS[how](now[line], n, to);
    now = now.join("\n").split("\n");
  }
  return `${now.join("\n")}\n`;
}

/** A text as another reader of its language prints it, without any of its style; null where that reads it not. Brackets around an arrow it keeps, as a hint to who runs it. */
async function printedScript(text: string): Promise<string | null> {
  try {
    const { code } = await transform(text, { loader: "js", minifyWhitespace: true, minifySyntax: true });
    return code.replace(/(?<=[(,])\((\w+=>[\w.]+)\)(?=[,)])/g, "$1");
  } catch {
    return null;
  }
}

/** What a text of Python says, by its tree: brackets are no nodes, and commas none but where one makes a list. */
function printedPython(text: string): string | null {
  const syntax = parse({ language: languageById("python"), text, interest: [0, text.length] });
  return syntax && printed(syntax, 0);
}

const MAKES_LISTS = /^(?:tuple|subscript|expression_list|pattern_list|tuple_pattern|parenthesized_list_splat)$/;

function printed(syntax: Syntax, node: number): string {
  const children = childrenOf(syntax, node);
  const type = typeOf(syntax, node);
  if (children.length === 0) return type === "string" ? saidIn(nodeText(syntax, node)) : nodeText(syntax, node);
  if (type === "parenthesized_expression" && children.length === 3) return printed(syntax, children[1]);
  const isSaid = (child: number) =>
    !/^[,()]$/.test(nodeText(syntax, child)) || syntax.depth[child + 1] > syntax.depth[child];
  const commas = children.filter((child) => nodeText(syntax, child) === ",").length;
  const mark = MAKES_LISTS.test(type) && commas > 0 ? "," : "";
  return `${type}${mark}[${children.filter(isSaid).map((child) => printed(syntax, child))}]`;
}

/** A text of Python without its quotes; those within it, where its letters let them be, without their backslashes. */
function saidIn(text: string): string {
  const [, letters, quotes, within] = /^([a-z]*)('''|"""|'|")([\s\S]*)\2$/i.exec(text)!;
  return `${letters}${quotes.length}<${letters === "" ? within.replace(/\\(['"])/g, "$1") : within}>`;
}

const QUIET = new Set<LineClass>(["style", "layout", "blank"]);

describe("style", () => {
  it.each([
    ["a.js", SCRIPT, printedScript],
    ["a.py", PYTHON, printedPython],
  ] as const)("is told in %s where another way of reading finds the same in both", async (path, statements, print) => {
    let quiet = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.constantFrom(...statements), { minLength: 1, maxLength: 8 }),
        edits,
        async (lines, list) => {
          const text = { old: `${lines.join("\n")}\n`, next: edited(lines, list) };
          const [file] = readTexts({ [path]: text }, parse).files;
          quiet += file.counts.style;
          if (file.counts.style === 0) return;
          const before = await print(text.old);
          if (before !== null) expect(await print(carriedOver(file, text, QUIET))).toBe(before);
        },
      ),
      { numRuns: tries(1_500) },
    );
    expect(quiet).toBeGreaterThan(tries(8));
  });
});
