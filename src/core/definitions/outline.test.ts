import fc from "fast-check";
import { beforeAll, expect, it } from "vitest";
import { allGrammars, parseWhole } from "@/server/workers/grammars/grammars";
import { compareFiles } from "../diff/compare";
import { languageOf } from "../grammar/languages";
import { markedOutline } from "./marked-outline";
import { type Outlined, outlineIn, partsAround } from "./outline";

beforeAll(async () => {
  await allGrammars();
});

function outline(path: string, text: string): Outlined[] {
  const lines = text.split("\n");
  const language = languageOf(path, lines);
  return outlineIn(path, lines, language && parseWhole(language, `${text}\n`));
}

/** Each as `mark within/name side line`, counted from 1. */
function marked(path: string, old: string, next: string, moved: { side: "old" | "new"; start: number; end: number }[]) {
  const bytes = (text: string) => new TextEncoder().encode(text);
  const { hunks } = compareFiles(bytes(old), bytes(next));
  return markedOutline(outline(path, old), outline(path, next), hunks, moved).map(
    ({ mark, within, name, side, line }) => `${mark} ${[...within, name].join("/")} ${side} ${line + 1}`,
  );
}

it("lists what is defined beyond functions, and in tests what they say", () => {
  const text = [
    "const slots = 3;",
    'describe("the quay", () => {',
    '  it.each([1, 2])("is free at %i", (slot) => { const local = slot; });',
    '  test(`a\n      long one`, () => { it("is not\'s", go); });',
    "});",
    'test(name, () => {}); item("no test");',
  ].join("\n");
  const told = (path: string) =>
    outline(path, text).map(({ kind, within, name, line }) => `${line + 1} ${kind} ${[...within, name].join(" › ")}`);
  expect(told("src/quay.test.ts")).toEqual([
    "1 constant slots",
    "2 test the quay",
    "3 test the quay › is free at %i",
    "4 test the quay › a long one",
    "5 test the quay › a long one › is not's",
  ]);
  // Elsewhere these are calls like others.
  expect(told("src/quay.ts")).toEqual(["1 constant slots"]);
});

it("lists the headings of Markdown with what they reach over, and keys of data", () => {
  const text = "# One\n\n## Two #\n\n```\n# no\n```\n\n# Three\n";
  expect(outline("a.md", text).map(({ name, within, line, end }) => [within.join("/"), name, line, end])).toEqual([
    ["", "One", 0, 8],
    ["One", "Two", 2, 8],
    ["", "Three", 8, 10],
  ]);
  expect(outline("a.yaml", "tide:\n  slots: 3\n").map(({ name, within }) => [...within, name].join("."))).toEqual([
    "tide",
    "tide.slots",
  ]);
  expect(outline("a.unknown", "a = 1")).toEqual([]);
});

it("names the parts that a line lies in, each line of a head once", () => {
  const parts = outline("a.ts", "class Quay {\n  hold() {\n    go();\n  }\n}\nconst free = {\n  a: 1,\n  b: 2,\n};\n");
  const around = (line: number) => partsAround(parts, line).map(({ name }) => name);
  expect([around(0), around(2), around(4), around(5), around(7)]).toEqual([
    [],
    ["Quay", "hold"],
    ["Quay"],
    [],
    ["free"],
  ]);
});

it("says of each part what a change made of it, and shows what is gone where it stood", () => {
  const old = "function a() {\n  one();\n}\nfunction b() {}\nfunction c() {}\nfunction d() {\n  two();\n}\n";
  const next = "function a() {\n  other();\n}\nfunction c() {}\nfunction e() {}\nfunction d() {\n  two();\n}\n";
  expect(marked("a.js", old, next, [])).toEqual([
    "changed a new 1",
    "removed b old 4",
    "same c new 4",
    "added e new 5",
    "same d new 6",
  ]);
  // What came from another file, and what went there.
  expect(
    marked("a.js", old, next, [
      { side: "new", start: 4, end: 5 },
      { side: "old", start: 3, end: 4 },
    ]),
  ).toEqual(["changed a new 1", "moved b old 4", "same c new 4", "moved e new 5", "same d new 6"]);
});

it("tells of every part of both states once, and calls none the same whose lines differ", () => {
  const name = fc.constantFrom("a", "b", "c", "d");
  const file = fc
    .array(fc.record({ name, body: fc.constantFrom("", "x();", "y();") }), { maxLength: 8 })
    .map((parts) => parts.map((one) => `function ${one.name}() {\n  ${one.body}\n}\n`).join(""));
  fc.assert(
    fc.property(file, file, (old, next) => {
      const bytes = (text: string) => new TextEncoder().encode(text);
      const { hunks } = compareFiles(bytes(old), bytes(next));
      const [before, after] = [outline("a.js", old), outline("a.js", next)];
      const all = markedOutline(before, after, hunks);
      const present = all.filter(({ side }) => side === "new");
      expect(present.length).toBe(after.length);
      // Those that are in both states count once.
      const both = present.filter(({ mark }) => mark !== "added").length;
      expect(all.length - present.length + both).toBe(before.length);
      const lines = next.split("\n");
      const was = old.split("\n");
      for (const { mark, start, end } of present)
        if (mark === "same") expect(was.join("\n")).toContain(lines.slice(start, end).join("\n"));
    }),
  );
});
