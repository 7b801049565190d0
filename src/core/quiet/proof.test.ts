import { readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { Language as Grammar, Parser } from "web-tree-sitter";
import { allGrammars } from "@/server/workers/grammars/grammars";
import { LANGUAGES, languageById } from "../grammar/languages";
import type { Parse } from "../grammar/parse";
import { tries } from "../testing/tries";
import type { LineClass } from "./classes";
import { HARMLESS } from "./foolable";
import type { CaseFile } from "./foolable/case";
import { KINDS } from "./kinds/kinds";
import { readTexts } from "./read-texts";
import { carriedOver } from "./testing/carried-over";
import type { Reading } from "./whole-reading";

/**
 * Each kind's proof is held against a second one, made by other means and slower: the whole text is carried over with nothing but its quiet
 * lines changed, parsed anew, and has to be the same tree as the parser itself prints it, with the same characters that can be seen.
 */
let parse: Parse;
const parsers = new Map<string, Parser>();
beforeAll(async () => {
  parse = await allGrammars();
  await Parser.init();
  const wasm = join(process.cwd(), "node_modules/@vscode/tree-sitter-wasm/wasm");
  for (const id of ["javascript", "python", "typescript"]) {
    const parser = new Parser();
    parser.setLanguage(await Grammar.load(readFileSync(join(wasm, `tree-sitter-${id}.wasm`))));
    parsers.set(id, parser);
  }
});

/** How the parser prints the tree of a text; its errors would be in it. */
function printed(id: string, text: string): string {
  const tree = parsers.get(id)!.parse(text)!;
  const words = tree.rootNode.toString();
  tree.delete();
  return words;
}

const seen = (text: string) => text.replace(/[ \t\r\n]+/g, "");
const LAYOUT = new Set<LineClass>(["layout", "blank", "endings"]);

function checkLayout(id: string, reading: Reading, text: { old: string; next: string }): void {
  const hybrid = carriedOver(reading.files[0], text, LAYOUT);
  // What carries nothing over is the old text itself, and has its tree.
  if (hybrid === text.old) return;
  // The grammar of Python forgives bodies that are empty, which is no Python: what follows them may belong to either.
  if ([text.old, text.next].some((one) => /\(block\)/.test(printed(id, one)))) return;
  // Both languages read `\r\n` as `\n` wherever it stands: that is all that `endings` claims.
  const plain = (one: string) => one.replaceAll("\r\n", "\n");
  expect(printed(id, plain(hybrid))).toBe(printed(id, plain(text.old)));
  expect(seen(hybrid)).toBe(seen(text.old));
}

/** Every line that counts as repeated is the old one with whole words replaced, and nothing else. */
function checkRepeated(reading: Reading, files: Record<string, CaseFile>): void {
  const lines = (side: "old" | "new", ref: number) =>
    reading.files.flatMap(({ path, runs }) =>
      runs
        .filter((run) => run.side === side && run.class === "repeated" && run.ref === ref)
        .flatMap((run) => (files[path][side === "old" ? "old" : "next"] ?? "").split("\n").slice(run.start, run.end)),
    );
  for (const [ref, { names }] of reading.replacements.entries()) {
    const renamed = lines("old", ref).map((line) =>
      names.reduce((now, { from, to }) => now.replaceAll(new RegExp(`(?<![\\w$])${from}(?![\\w$])`, "g"), to), line),
    );
    expect(renamed).toEqual(lines("new", ref));
    expect(renamed.length).toBeGreaterThan(0);
  }
}

const STATEMENTS = [
  "const berth = find(slot);",
  "if (berth.free) hold(berth, ship);",
  "board.show(`ship  ${ship.name}`);",
  'say("two  spaces", slot);',
  "return_(slot + 1, ship);",
  "for (const one of ships) {",
  "  one.berth(slot);",
  "}",
  "// a  comment about slot",
  "tide = tide > 2 ? tide - 1 : -slot;",
  "const f = (ship) => ship.go();",
  "/* a block",
  "   of words */",
];
const PYTHON = [
  "def f(slot):",
  "    hold(slot)",
  "    if slot > 2:",
  "        free(slot)",
  "    return slot",
  "x = f(1)",
  'say("a  b")',
  "# a  comment",
  'y = """a',
  '  b"""',
];

/** One way of changing a text: each says which line it changes, how, and with what. */
const edits = fc.array(
  fc.record({
    at: fc.nat(30),
    how: fc.constantFrom("indent", "outdent", "blank", "space", "tight", "split", "join", "rename", "token", "return"),
    n: fc.nat(9),
  }),
  { maxLength: 6 },
);
type Edit = typeof edits extends fc.Arbitrary<(infer T)[]> ? T : never;

function edited(lines: string[], list: readonly Edit[]): string[] {
  let now = [...lines];
  for (const { at, how, n } of list) {
    const line = at % now.length;
    const text = now[line];
    const cut = text.indexOf(" ", text.search(/\S/) + 1 + n);
    if (how === "indent") now[line] = " ".repeat(1 + n) + text;
    else if (how === "outdent") now[line] = text.trimStart();
    else if (how === "blank") now.splice(line, 0, n % 2 ? "" : "  ");
    else if (how === "space" && cut > 0) now[line] = `${text.slice(0, cut)} ${text.slice(cut)}`;
    else if (how === "tight" && cut > 0) now[line] = text.slice(0, cut) + text.slice(cut + 1);
    else if (how === "split" && cut > 0) now.splice(line, 1, text.slice(0, cut), text.slice(cut + 1));
    else if (how === "join" && line + 1 < now.length) now.splice(line, 2, `${text} ${now[line + 1].trim()}`);
    else if (how === "rename") now = now.map((one) => one.replaceAll(/\bslot\b/g, n % 2 ? "mooring" : "berth"));
    else if (how === "token") now[line] = text.replace(/\w+/, n % 2 ? "other" : "1");
    else if (how === "return") now[line] = `${text}\r`;
  }
  return now;
}

describe("a second proof", () => {
  it("proves nothing of layout where the statements of a block begin at different columns, which is no Python", () => {
    const old = ["def f(slot):", '  b"""', "def f(slot):", '  b"""', "    hold(slot)", 'say("a")', ""].join("\n");
    const next = old.replace('  b"""', '     b"""').replace("say", "  say");
    expect(readTexts({ "a.py": { old, next } }, parse).files[0].counts.layout).toBe(0);
  });

  it("proves nothing of layout where a body is no deeper than what it belongs to, which is no Python", () => {
    const old = ["    if slot > 2:", "    return slot", "    hold(slot)", "# a  comment", ""].join("\n");
    const next = old.replace("    return", "     return").replace("# a", "    # a");
    expect(readTexts({ "a.py": { old, next } }, parse).files[0].counts.layout).toBe(0);
  });

  it.each([
    ["javascript", "a.js", STATEMENTS],
    ["python", "a.py", PYTHON],
  ] as const)("of layout, empty lines, endings and names holds for what is made up in %s", (id, path, statements) => {
    let quiet = 0;
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...statements), { minLength: 1, maxLength: 14 }), edits, (lines, list) => {
        const text = { old: `${lines.join("\n")}\n`, next: `${edited(lines, list).join("\n")}\n` };
        const files = { [path]: { old: text.old, next: text.next } };
        const reading = readTexts(files, parse);
        quiet += reading.changed - reading.toRead;
        checkLayout(id, reading, text);
        checkRepeated(reading, files);
      }),
      { numRuns: tries(2_000) },
    );
    expect(quiet).toBeGreaterThan(tries(200));
  });

  it("holds for the corpus: what moved and what was put in order is the same lines", () => {
    for (const { files, what } of HARMLESS) {
      const reading = readTexts(files, parse);
      checkRepeated(reading, files);
      for (const kind of ["moved", "imports"] as const) {
        const lines = (side: "old" | "new") =>
          reading.files.flatMap(({ path, runs }) =>
            runs
              .filter((run) => run.side === side && run.class === kind)
              .flatMap((run) =>
                (files[path][side === "old" ? "old" : "next"] ?? "").split("\n").slice(run.start, run.end),
              ),
          );
        expect(
          lines("new")
            .map((line) => line.trim())
            .sort(),
          what,
        ).toEqual(
          lines("old")
            .map((line) => line.trim())
            .sort(),
        );
      }
    }
  });

  it("every kind names its own, in words that are the same in the documentation", () => {
    const page = readFileSync(join(process.cwd(), "docs/quiet.md"), "utf8").replaceAll(/\s+/g, " ");
    for (const { name, proof } of Object.values(KINDS)) {
      expect(page).toContain(`## ${name}`);
      expect(page).toContain(proof);
    }
    for (const { id } of LANGUAGES)
      expect(page.toLowerCase()).toContain(languageById(id).id.replace("csharp", "c#").replace("cpp", "c++"));
  });
});
