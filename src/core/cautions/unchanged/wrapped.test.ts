import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../../grammar/parse";
import { many, switchedIn } from "../testing/switched-in";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const said = (path: string, old: string, next: string) => switchedIn(parse, path, old, next);
const CHECKS = many("check(#);\n");

describe("lines that did not change, and stand within another block now", () => {
  it.each<[path: string, what: string, old: string, next: string, head: string]>([
    [
      "a.js",
      "a condition",
      "f(() => {\n  a();\n#  b();\n});\n",
      "f(() => {\n  if (trial) {\n#  }\n});\n",
      "if (trial) {",
    ],
    [
      "a.go",
      "a condition",
      "package a\n\nfunc f() {\n\ta()\n#\tb()\n}\n",
      "package a\n\nfunc f() {\n\tif trial {\n#\t}\n}\n",
      "if trial {",
    ],
    ["a.rb", "a condition", "def f\n  a\n#  b\nend\n", "def f\n  if trial\n#  end\nend\n", "if trial"],
    ["a.rb", "a method", "class A\n  a\n#  b\nend\n", "class A\n  def trial\n#  end\nend\n", "def trial"],
    ["a.sh", "a condition", "f() {\n  a\n#  b\n}\n", "f() {\n  if trial; then\n#  fi\n}\n", "if trial; then"],
    [
      "a.c",
      "a bracket on a line of its own",
      "int f()\n{\n  a();\n#  b();\n}\n",
      "int f()\n{\n  while (1)\n  {\n#  }\n}\n",
      "while (1)",
    ],
    ["a.kt", "a condition", "fun f() {\n  a()\n#  b()\n}\n", "fun f() {\n  if (trial) {\n#  }\n}\n", "if (trial) {"],
    ["a.swift", "a condition", "func f() {\n  a()\n#  b()\n}\n", "func f() {\n  if trial {\n#  }\n}\n", "if trial {"],
    [
      "a.scala",
      "a bracket behind several lines",
      "def f(): Unit = {\n  a()\n#  b()\n}\n",
      "def f(): Unit = {\n  def g(\n    c: Int,\n  ) = {\n#  }\n}\n",
      ") = {",
    ],
    ["a.dart", "a condition", "f() {\n  a();\n#  b();\n}\n", "f() {\n  if (trial) {\n#  }\n}\n", "if (trial) {"],
    [
      "a.tf",
      "a block",
      'resource "a" "b" {\n  a = 1\n#  b = 2\n}\n',
      'resource "a" "b" {\n  trial {\n#  }\n}\n',
      "trial {",
    ],
    ["a.scss", "a rule", "b { c: d }\n#e { f: g }\n", "b { c: d }\n.trial {\n#e { f: g }\n}\n", ".trial {"],
    // What the grammar does not read.
    [
      "a.c",
      "a condition in a text with mistakes",
      "a b c ???\nint f() {\n  a();\n#  b();\n}\n",
      "a b c ???\nint f() {\n  if (trial) {\n#  }\n}\n",
      "if (trial) {",
    ],
    ...["a.js", "a.tsx"].map((path): [string, string, string, string, string] => [
      path,
      "a condition in a text with mistakes",
      "let = ) 1;\nfunction f() {\n  a();\n#  b();\n}\n",
      "let = ) 1;\nfunction f() {\n  if (trial) {\n#  }\n}\n",
      "if (trial) {",
    ]),
    [
      "a.php",
      "a condition in a text with mistakes",
      "<?php\n$a = ) 1; // it's {\nfunction f() {\n  a();\n#  b();\n}\n",
      "<?php\n$a = ) 1; // it's {\nfunction f() {\n  if ($trial) {\n#  }\n}\n",
      "if ($trial) {",
    ],
    ["a.css", "a condition", "b { c: d }\n#", "b { c: d }\n@media print {\n#}\n", "@media print {"],
    ["a.css", "a rule", "b { c: d }\n#e { f: g }\n", "b { c: d }\n.trial {\n#e { f: g }\n}\n", ".trial {"],
  ])("says of %s what they stand within: %s", (path, _, before, after, head) => {
    const LINES: Record<string, string> = {
      "a.sh": "  check_# now\n",
      "a.rb": "  check_# now\n",
      "a.css": ".check# { color: red }\n",
      "a.scss": ".check# { color: red }\n",
      "a.tf": '  check_# = "now"\n',
    };
    const checks = many(LINES[path] ?? "  check(#);\n");
    const [old, next] = [before.replace("#", checks), after.replace("#", checks)];
    const line = next.slice(0, next.indexOf(checks)).split("\n").length;
    const within = `12 unchanged lines stand within “${head}” now, and are not indented for it.`;
    expect(said(path, old, next)).toEqual([[within, line]]);
    const [[back]] = said(path, next, old);
    expect(back).toBe(`12 unchanged lines stand outside of “${head}” now, in which they stood.`);
  });

  it("says so where another one takes them in, by the look of it", () => {
    const [checks, held] = [many('  check_# = "now"\n'), 'resource "bucket" "tides" {\n  name = "tides"\n'];
    const other = 'resource "bucket" "trial" {\n';
    expect(said("a.tf", `${held}${checks}}\n`, `${held}}\n\n${other}${checks}}\n`)).toEqual([
      [
        '12 unchanged lines stand within “resource "bucket" "trial" {” now, and stood within “resource "bucket" "tides" {”.',
        6,
      ],
    ]);
    // Where it was only renamed, what they belong to is as it was.
    expect(said("a.tf", `${held}${checks}}\n`, `${held.replace('" "tides"', '" "ebb"')}${checks}}\n`)).toEqual([]);
  });

  it.each<[string, string, string]>([
    ["what is given to a call on its line", "listen(0) {\n", "listen(port = { 0 }) {\n"],
    ["brackets in texts and comments", "go()\n", 'go("{ \\" {", \'{\') // {\n/* { /* { */ { */\n'],
    ["a text of several lines", "go()\n", 'go("""\n{ " {\n""")\n'],
    ["brackets that are not even", "go()\n", "go() {\n"],
    ["more of them closed than opened", "go()\n", "go() }\nif (a) {\n"],
  ])("says nothing of %s, by the look of it", (_, old, next) => {
    const end = old.includes("{") ? "}\n" : "";
    expect(said("a.kt", `${old}${CHECKS}${end}`, `${next}${CHECKS}${end}`)).toEqual([]);
  });

  it("says so where a bracket goes further down, past them", () => {
    const checks = many("  check(#);\n");
    const held = "function f() {\n  if (allowed) {\n    a();\n";
    expect(said("a.ts", `${held}  }\n${checks}  end();\n}\n`, `${held}${checks}  end();\n  }\n}\n`)).toEqual([
      ["12 unchanged lines stand within “if (allowed) {” now, and are not indented for it.", 4],
    ]);
  });

  it.each<[path: string, old: string, next: string, within: string, stood: string, line: number]>([
    [
      "a.js",
      "function f() {\n  a();\n#}\n",
      "function f() {\n  a();\n}\nfunction g() {\n#}\n",
      ...(["function g() {", "function f() {", 5] as const),
    ],
    [
      "a.c",
      "int f()\n{\n  a();\n#}\n",
      "int f()\n{\n  a();\n}\nint g()\n{\n#}\n",
      ...(["int g()", "int f()", 7] as const),
    ],
    [
      "a.ts",
      "function f() {\n  if (a) {\n    b();\n#  }\n}\n",
      "function f() {\n  if (a) {\n    b();\n  } else {\n#  }\n}\n",
      ...(["} else {", "if (a) {", 5] as const),
    ],
    [
      "a.js",
      "function f() {\n  a();\n  b();\n#}\n",
      "function f(c) {\n  a();\n  b();\n}\nfunction g() {\n#}\n",
      ...(["function g() {", "function f() {", 6] as const),
    ],
    // The head was written anew, and what it was goes on beside it.
    [
      "a.js",
      "function f() {\n#}\n",
      "function f() {}\nfunction g() {\n#}\n",
      ...(["function g() {", "function f() {", 3] as const),
    ],
    [
      "a.java",
      "class A {\n  void f(\n      int a) {\n#  }\n}\n",
      "class A {\n  void f(int a) {\n  }\n  void g(\n      int b) {\n#  }\n}\n",
      ...(["int b) {", "int a) {", 6] as const),
    ],
    ["a.rb", "def f\n  a\n#end\n", "def f\n  a\nend\ndef g\n#end\n", ...(["def g", "def f", 5] as const)],
    ["a.py", "def f():\n  a()\n#", "def f():\n  a()\ndef g():\n#", ...(["def g():", "def f():", 4] as const)],
    ["a.py", "if a:\n  b()\n#", "if a:\n  b()\nelse:\n#", ...(["else:", "if a:", 4] as const)],
    ["a.py", "if a:\n  b()\nelse:\n#", "if a:\n  b()\n#", ...(["if a:", "else:", 3] as const)],
    [
      "a.go",
      "package a\n\nfunc f() {\n\ta()\n}\n\nfunc g() {\n#}\n",
      "package a\n\nfunc f() {\n\ta()\n#}\n",
      ...(["func f() {", "func g() {", 5] as const),
    ],
  ])("says of %s that they stand within another block as deep", (path, before, after, within, stood, line) => {
    const checks = many(/py|rb/.test(path) ? "  check(1, #)\n" : "  if (allowed) {\n    check(#);\n  }\n");
    const [told] = said(path, before.replace("#", checks), after.replace("#", checks));
    expect(told).toEqual([expect.stringMatching(/^\d+ unchanged lines stand within /), line]);
    expect(told[0].replace(/^\d+ unchanged lines /, "")).toBe(
      `stand within “${within}” now, and stood within “${stood}”.`,
    );
  });

  it.each<[before: string, after: string, within: string, line: number]>([
    [
      '{\n  "a": {\n#  }\n}\n',
      '{\n  "a": {},\n  "b": {\n#  }\n}\n',
      'within “"b": {” now, and stood within “"a": {”',
      4,
    ],
    [
      '{\n  "a": {\n    "c": 1,\n#  }\n}\n',
      '{\n  "a": {\n    "c": 1, "b": {\n# }  }\n}\n',
      'within “"c": 1, "b": {” now, and are not indented for it',
      4,
    ],
    ['[\n  {\n    "c": 1,\n#  }\n]\n', '[\n  {\n    "c": 1\n  },\n  {\n#  }\n]\n', "within another “{” than before", 6],
  ])("says of data in %j that it stands elsewhere", (before, after, within, line) => {
    const values = Array.from({ length: 8 }, (_, n) => `    "berth${n}": "open"${n < 7 ? "," : ""}\n`).join("");
    const told = said("a.json", before.replace("#", values), after.replace("#", values));
    expect(told).toEqual([[`8 unchanged lines stand ${within}.`, line]]);
  });

  it("says so of another one of the same name", () => {
    const checks = many("    check(#);\n");
    const [old, next] = ["it(() => {\n  a();\n#});\n", "it(() => {\n  a();\n});\nit(() => {\n#});\n"];
    expect(said("a.js", old.replace("#", checks), next.replace("#", checks))).toEqual([
      ["12 unchanged lines stand within another “it(() => {” than before.", 5],
    ]);
  });

  it("tells a few blocks of a file by themselves, and what is left as one", () => {
    const part = (n: number, head: string, foot: string) => `${head}${many(`  check${n}(#);\n`)}${foot}`;
    const file = (head: (n: number) => string, foot: string) =>
      Array.from({ length: 6 }, (_, n) => part(n, head(n), foot)).join("");
    const told = said(
      "a.ts",
      file((n) => `  a(${n});\n`, "  b();\n"),
      file((n) => `  if (c${n}) {\n`, "  }\n"),
    );
    expect(told).toHaveLength(4);
    expect(told[3]).toEqual(["36 unchanged lines stand within or outside of 3 other blocks now.", 44]);
  });

  it.each<[string, string, string]>([
    ["what was indented for it", "f(() => {\n#});\n", "f(() => {\n  if (a) {\n##  }\n});\n"],
    [
      "another branch beside it",
      "f(() => {\n  if (a) {\n#  }\n});\n",
      "f(() => {\n  if (b) {\n    c();\n  } else if (a) {\n#  }\n});\n",
    ],
    ["a block of its own, below a comment", "// a\n(() => {\n#})();\n", "// a\n{\n#}\n"],
    ["a function under another name", "function f() {\n  a();\n#}\n", "function g() {\n  a();\n#}\n"],
    ["one put above another", "function f() {\n#}\n", "function g() {\n  a();\n}\n\nfunction f() {\n#}\n"],
    ["what is in sight", "f(() => {\n  a();\n  b();\n  c();\n});\n", "f(() => {\n  if (d) {\n  b();\n  }\n});\n"],
  ])("says nothing of %s", (_, before, after) => {
    const checks = many("    check(#);\n");
    const deeper = checks.replaceAll("    ", "      ");
    expect(said("a.ts", before.replace("#", checks), after.replace("##", deeper).replace("#", checks))).toEqual([]);
  });
});
