import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../../grammar/parse";
import { tries } from "../../testing/tries";
import { readTexts } from "../read-texts";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

interface Told {
  /** The lines of each side that are to be read, and those that are nested, without what they begin with. */
  read: string[];
  nested: { old: string[]; new: string[] };
}

function tell(path: string, old: string, next: string): Told {
  const { runs } = readTexts({ [path]: { old, next } }, parse).files[0];
  const lines = { old: old.split("\n"), new: next.split("\n") };
  const of = (kind: string, side: "old" | "new") =>
    runs
      .filter((run) => run.class === kind && run.side === side)
      .flatMap(({ start, end }) => lines[side].slice(start, end).map((line) => line.trim()));
  return {
    read: [...of("read", "old").map((line) => `- ${line}`), ...of("read", "new").map((line) => `+ ${line}`)],
    nested: { old: of("nested", "old"), new: of("nested", "new") },
  };
}

const indented = (text: string, by: string) => text.replace(/^(?=.)/gm, by);

/** What a language puts around statements, with three of them at the place where they may be. */
const AROUND: [path: string, around: string, statements: string, above: string, ...below: string[]][] = [
  ["a.js", "function f(a) {\n@@}\n", "  hold(a);\n  // why\n  if (a) {\n    free(a);\n  }\n", "if (b) {", "}"],
  ["a.js", "function f(a) {\n@@}\n", "  const b = a;\n  say(b);\n", "try {", "} catch (e) {", "  fail(e);", "}"],
  [
    "a.ts",
    "function f(a: B): C {\n  hold(a);\n@@  done();\n}\n",
    "  let b: D = a;\n  b++;\n",
    "do {",
    "} while (go());",
  ],
  [
    "a.tsx",
    "const a = (\n  <A>\n@@  </A>\n);\n",
    "    <B c={d}>\n      some text\n      <E>f</E>\n    </B>\n",
    "{open && (",
    ")}",
  ],
  [
    "a.tsx",
    "const a = () => {\n  return (\n@@  );\n};\n",
    "    <A>\n      <B c={d} />\n      some text\n    </A>\n",
    "<Frame>",
    "</Frame>",
  ],
  ["a.py", "def f(a):\n@@    done()\n", "    hold(a)\n\n    free(a)\n", "if a:"],
  ["a.py", "@@done()\n", "import hold\nimport free\n", "try:", "except ImportError:", "    fail()"],
  ["a.rb", "def f(a)\n@@  done\nend\n", "  hold(a)\n  free a if a\n", "unless a.nil?", "end"],
  ["a.sh", "f() {\n@@  done_now\n}\n", '  hold "$a"\n  free && say a\n', 'if [ "$a" ]; then', "fi"],
  [
    "a.php",
    "<?php\nfunction f($a) {\n@@    done();\n}\n",
    "    hold($a);\n    $b = free($a);\n",
    "if ($a) {",
    "} else {",
    "    fail();",
    "}",
  ],
  [
    "A.java",
    "class A {\n  void f(B a) {\n@@    done();\n  }\n}\n",
    "    hold(a);\n    int b = a.c;\n    free(b);\n",
    "synchronized (a) {",
    "}",
  ],
  [
    "A.cs",
    "class A {\n  void F(B a) {\n@@    Done();\n  }\n}\n",
    "    Hold(a);\n    var b = a;\n    Free(b);\n",
    "lock (a) {",
    "}",
  ],
  ["a.go", "package a\n\nfunc f(a B) {\n@@\tdone()\n}\n", "\thold(a)\n\tb := a\n\tfree(b)\n", "if a > 1 {", "}"],
  ["a.rs", "fn f(a: B) {\n@@    done();\n}\n", '    hold(a);\n    println!("held");\n', "if a > 1 {", "}"],
  ["a.c", "void f(int a) {\n@@    done();\n}\n", "    int b = a;\n    hold(b);\n", "if (a) {", "}"],
  ["a.cpp", "void f(int a) {\n@@    done();\n}\n", "    hold(a);\n    free(a);\n", "if (a) {", "}"],
  ["a.css", "@@z {\n  a: b;\n}\n", "a {\n  b: c;\n}\nd {\n  e: f;\n}\n", "@media print {", "}"],
];

describe("statements that were put into a block, or out of one", () => {
  for (const [path, around, statements, above, ...below] of AROUND) {
    const indent = /^[ \t]*/.exec(statements)![0];
    const step = path === "a.go" ? "\t" : "  ";
    const put = (line: string) => `${indent}${line}\n`;
    const bare = around.replace("@@", () => statements);
    const held = around.replace("@@", () => put(above) + indented(statements, step) + below.map(put).join(""));
    const closes = /^(?:\}|end|fi|\)\}|<\/\w+>)$/;
    /** What did not change may be the bracket of another block. */
    const read = [above, ...below].map((line) => line.trim()).filter((line) => !closes.test(line));

    it(`leave ${[above, ...below].join(" ")} to read in ${path}`, () => {
      for (const [old, next, sign] of [
        [bare, held, "+"],
        [held, bare, "-"],
      ]) {
        const told = tell(path, old, next);
        expect(told.read.filter((line) => !closes.test(line.slice(2)))).toEqual(read.map((line) => `${sign} ${line}`));
        const words = (lines: string[]) => lines.filter((line) => line !== "" && !closes.test(line));
        const expected = statements.split("\n").map((line) => line.trim());
        expect(words(told.nested.old)).toEqual(words(expected));
        expect(words(told.nested.new)).toEqual(words(expected));
      }
    });
  }

  it("are nested when what they stood behind is left otherwise", () => {
    const old = "def f(a):\n    if a:\n        return hold()\n    else:\n        free(a)\n        say(a)\n    done()\n";
    const next = "def f(a):\n    if a:\n        return hold()\n    free(a)\n    say(a)\n    done()\n";
    expect(tell("a.py", old, next)).toEqual({
      read: ["- else:"],
      nested: { old: ["free(a)", "say(a)"], new: ["free(a)", "say(a)"] },
    });
  });
});

it("takes what says the same along, whichever of them the comparison left unchanged", () => {
  const old = "function f(a) {\n  if (a) {\n    hold(a);\n    hold(a);\n    hold(a);\n  }\n}\n";
  const next =
    "function f(a) {\n  try {\n    if (a) {\n      hold(a);\n    hold(a);\n      hold(a);\n    }\n  } finally {}\n}\n";
  const lines = ["if (a) {", "hold(a);", "hold(a);", "}"];
  expect(tell("a.js", old, next)).toEqual({
    read: ["+ try {", "+ } finally {}"],
    nested: { old: lines, new: lines },
  });
});

const STATEMENTS = [
  "hold(a);",
  "free(b);",
  "say(c);",
  "let d = a;",
  "keep(d);",
  "if (a) {\n  go(a);\n}",
  "// why",
  "for (;;) {\n  break;\n}",
  "return d;",
];
const HEADS = ["if (a) {", "try {", "{", "while (b) {"];
const edit = fc.record({
  kind: fc.constantFrom("wrap", "wrap", "out", "double", "swap", "drop", "token"),
  at: fc.nat(40),
  to: fc.nat(40),
  size: fc.integer({ min: 1, max: 5 }),
});
type Edit = typeof edit extends fc.Arbitrary<infer T> ? T : never;

function edited(lines: string[], { kind, at, to, size }: Edit): string[] {
  const from = at % lines.length;
  const end = Math.min(lines.length, from + size);
  const indent = /^ */.exec(lines[from])![0];
  const head = HEADS[to % HEADS.length];
  const below = head === "try {" ? "} finally {}" : "}";
  if (kind === "wrap") {
    const within = lines.slice(from, end).map((line) => `  ${line}`);
    return [...lines.slice(0, from), indent + head, ...within, indent + below, ...lines.slice(end)];
  }
  if (kind === "out") return lines.map((line, n) => (n >= from && n < end ? line.replace(/^ {2}/, "") : line));
  if (kind === "double") return [...lines.slice(0, end), ...lines.slice(from)];
  if (kind === "swap") return lines.with(from, lines[to % lines.length]).with(to % lines.length, lines[from]);
  if (kind === "token") return lines.with(from, lines[from].replace(/\b[abcd]\b/, "e"));
  return lines.toSpliced(from, 1);
}

describe("what is nested", () => {
  it("is the same lines in the same order on both sides, whatever else was changed", () => {
    let nested = 0;
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...STATEMENTS), { minLength: 2, maxLength: 7 }),
        fc.array(edit, { maxLength: 1 }),
        fc.array(edit, { minLength: 1, maxLength: 3 }),
        (statements, before, after) => {
          const body = statements.join("\n").split("\n");
          const old = before.reduce(edited, body);
          const next = after.reduce((now, one) => (now.length > 0 ? edited(now, one) : now), old);
          const program = (lines: string[]) => `function f(a, b, c) {\n${indented(lines.join("\n"), "  ")}\n}\n`;
          const told = tell("a.js", program(old), program(next)).nested;
          const words = (lines: string[]) => lines.filter((line) => line !== "}");
          expect(words(told.new)).toEqual(words(told.old));
          nested += told.new.length;
        },
      ),
      { numRuns: tries(2_000) },
    );
    expect(nested).toBeGreaterThan(tries(200));
  });
});
