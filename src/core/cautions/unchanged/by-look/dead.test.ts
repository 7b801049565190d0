import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../../../grammar/parse";
import { switchedIn } from "../../testing/switched-in";
import { deadByLook } from "./dead";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const said = (path: string, old: string, next: string) => switchedIn(parse, path, old, next);
const GONE = "stand where nothing is reached any more: what changed above them ends before.";
const BACK = "stand where they are reached now, and were not: read them as new ones.";
const checks = (of: string) => Array.from({ length: 8 }, (_, n) => of.replace("#", `${n}`)).join("");
const [round, bare] = [checks("  check(#)\n"), checks("  check(#);\n")];

/** Each a way to end before the rest where no grammar reads it, with what stands around it. */
const WAYS: [path: string, head: string, ends: string, body: string, foot: string][] = [
  ["a.kt", "fun f() {\n  go()\n", "  return\n", round, "}\n"],
  ["a.kt", "fun f() {\n  go()\n", "  throw Late(\n    1,\n  )\n", round, "}\n"],
  ["a.kt", "fun f() {\n  go()\n", "  exitProcess(0)\n", round, "}\n"],
  ["a.swift", "func f() {\n  go()\n", "  return\n", round, "}\n"],
  ["a.swift", "func f() {\n  go()\n", '  fatalError("late")\n', round, "}\n"],
  ["a.scala", "def f(): Unit = {\n  go()\n", "  return\n", round, "}\n"],
  ["a.dart", "f() {\n  go();\n", "  return; // done\n", bare, "}\n"],
  ["a.groovy", "def f() {\n  go()\n", "  return true\n", round, "}\n"],
  ["a.lua", "function f(a)\n", "  do return end\n", round, "end\n"],
  ["a.pl", "sub f {\n  go();\n", "  return 1;\n", bare, "}\n"],
  ["a.pl", "sub f {\n  go();\n", '  die "late";\n', bare, "}\n"],
  ["berths", "#!/usr/bin/perl -w\nsub f {\n  go();\n", "  return 1;\n", bare, "}\n"],
  ["berths", "#!/usr/bin/env lua5.4\nfunction f(a)\n", "  do return end\n", round, "end\n"],
  ["a.jl", "function f()\n  go()\n", "  return 1\n", round, "end\n"],
  ["a.vim", "function! F()\n  call Go()\n", "  return 1\n", checks("  call Check(#)\n"), "endfunction\n"],
  ["a.cmd", "@echo off\n", "exit /b 0\n", checks("call check #\n"), ":later\n"],
  ["a.bat", "@echo off\n", "goto later\n", checks("call check #\n"), ":later\n"],
  // With a mistake, so that its grammar does not read it.
  ["a.js", "let = ) 1;\nfunction f() {\n  go();\n", "  return;\n", bare, "}\n"],
  // Which says that it is something else.
  ["a.js", "// vim: ft=python\nfunction f() {\n  go();\n", "  return;\n", bare, "}\n"],
  ["a.py", "# -*- ruby -*-\ndef f():\n  go()\n", "  return\n", round, ""],
  ["a.py", "def def\ndef f():\n  go()\n", "  raise X(\n    1\n  )\n", round, ""],
  ["a.go", "package package a\n\nfunc f() {\n\tgo_()\n", "\treturn\n", checks("\tcheck(#)\n"), "}\n"],
];

describe("unchanged lines that no grammar reads", () => {
  it.each(WAYS)("of %s behind %j%j are not reached any more, or are again", (path, head, ends, body, foot) => {
    const [without, with_] = [head + body + foot, head + ends + body + foot];
    const lineOf = (text: string) => text.slice(0, text.indexOf(body)).split("\n").length;
    expect(said(path, without, with_)).toEqual([[`8 unchanged lines ${GONE}`, lineOf(with_)]]);
    expect(said(path, with_, without)).toEqual([[`8 unchanged lines ${BACK}`, lineOf(without)]]);
  });

  it.each<[what: string, path: string, head: string, ends: string, body: string, foot: string]>([
    ["what only may end", "a.kt", "fun f() {\n", "  if (a)\n    return\n", round, "}\n"],
    ["what only may end", "a.kt", "fun f() {\n", "  if (a) {\n    return\n  }\n", round, "}\n"],
    ["what only may end", "a.pl", "sub f {\n", "  return 1 if $a;\n", bare, "}\n"],
    ["what only may end", "a.pl", "sub f {\n", '  go() ||\n  die "late";\n', bare, "}\n"],
    ["what only may end", "a.swift", "func f() {\n", "  guard let a = b else {\n    return\n  }\n", round, "}\n"],
    ["one case", "a.swift", "switch a {\n", "  case b:\n    return\n  default:\n", checks("    check(#)\n"), "}\n"],
    ["a label", "a.cmd", "@echo off\n", "goto later\n:later\n", checks("call check #\n"), "exit /b\n"],
    ["another function", "a.kt", "", "fun g() {\n  return\n}\n", `fun f() {\n${round}}\n`, ""],
    ["a comment", "a.kt", "fun f() {\n", "  /*\n  return\n  */\n", round, "}\n"],
    ["a comment", "a.lua", "function f()\n", "  -- return\n", round, "end\n"],
    ["a text", "a.kt", "fun f() {\n", '  val a = """\n  return\n  """\n', round, "}\n"],
    ["a name like it", "a.kt", "fun f() {\n", "  quit = 1\n  exit.go()\n", round, "}\n"],
    ["a condition before them", "a.glsl", "void f() {\n", "#ifdef A\n  return;\n#endif\n", bare, "}\n"],
    ["what may be anything", "berths", "go\n", "return\n", checks("check(#)\n"), ""],
    ["prose", "a.html", "<p>\n", "  return to the desk\n", checks("  berth #\n"), "</p>\n"],
  ])("are not told behind %s in %s", (_, path, head, ends, body, foot) => {
    expect(said(path, head + body + foot, head + ends + body + foot)).toEqual([]);
  });

  it("are reached again where the block ends, and behind what goes on over lines", () => {
    const lines = [
      "fun f() {",
      "  if (a) {",
      "    return go(",
      "      a",
      "    )",
      "    b()",
      "",
      "    // c",
      "  }",
      "  d()",
      "}",
    ];
    expect(deadByLook("a.kt", lines)).toEqual([
      ...[false, false, false, false, false, true, null, null, false, false, false],
    ]);
  });

  it("are told at once behind lines that were made to be looked at for long", () => {
    // Each way back over such a gap would take minutes.
    const gap = " ".repeat(300_000);
    for (const begun of ["return", "if", "}", ")", "else", "x ||", "public", "a:"])
      for (const line of [begun + gap, gap + begun, begun + gap + begun, `${gap}${begun}${gap}x`])
        expect(deadByLook("a.kt", [line, `${gap}${gap}return`, `${gap}${gap}x`])).toHaveLength(3);
  });
});
