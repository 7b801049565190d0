import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../../grammar/parse";
import { switchedIn } from "../testing/switched-in";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const said = (path: string, old: string, next: string) => switchedIn(parse, path, old, next);
const GONE = "stand where nothing is reached any more: what changed above them ends before.";
const BACK = "stand where they are reached now, and were not: read them as new ones.";
const checks = (of: string, count = 8) => Array.from({ length: count }, (_, n) => of.replace("#", `${n}`)).join("");
const js = checks("  check(#);\n");
const sh = checks("check berth-#\n");
const py = checks("  check(#)\n");
const go = checks("\tcheck(#)\n");

/** Each a way to end before the rest, with what stands around it. */
const WAYS: [path: string, head: string, ends: string, body: string, foot: string][] = [
  ["a.js", "function f() {\n  go();\n", "  return true;\n", js, "}\n"],
  ["a.ts", "const f = () => {\n  go();\n", "  return {\n    a: 1,\n  };\n", js, "};\n"],
  ["a.ts", "go();\n", "process.exit(0);\n", checks("check(#);\n"), ""],
  ["a.js", "function f() {\n  go();\n", "  x(); return\n", js, "}\n"],
  ["a.js", "function f() {\n  go();\n", "      return; // deep\n", js, "}\n"],
  ["a.js", "for (const a of b) {\n", "  continue;\n", js, "}\n"],
  ["a.c", "int f() {\n  go();\n", "  return 0;\n", js, "}\n"],
  ["a.c", "int f() {\n  go();\n", "  exit(0);\n", js, "}\n"],
  ["a.cpp", "int f() {\n  go();\n", "  throw 1;\n", js, "}\n"],
  ["a.rs", "fn f() {\n  go();\n", "  return;\n", js, "}\n"],
  ["a.rs", "fn f() {\n  go();\n", '  panic!("a");\n', js, "}\n"],
  ["a.go", "package a\n\nfunc f() {\n\tgo_()\n", "\tos.Exit(0)\n", go, "}\n"],
  ["a.go", "package a\n\nfunc f() {\n\tgo_()\n", "\treturn\n", go, "}\n"],
  ["A.java", "class A {\n  void f() {\n  go();\n", "  System.exit(0);\n", js, "  }\n}\n"],
  ["a.cs", "class A {\n  void F() {\n  go();\n", "  Environment.Exit(0);\n", js, "  }\n}\n"],
  ["a.php", "<?php\ngo();\n", "die('a');\n", checks("check(#);\n"), ""],
  ["a.php", "<?php\ngo();\n", "__halt_compiler();\n", checks("check(#);\n"), ""],
  ["a.ps1", "Go\n", "exit 0\n", checks("Check #\n"), ""],
  ["a.ps1", "function F {\n", "  return\n", checks("  Check #\n"), "}\n"],
  ["a.js", "function f() {\n  go();\n", "  { return; }\n", js, "}\n"],
  ["a.js", "function f() {\n  go();\n", "  {\n    return;\n  }\n", js, "}\n"],
  ["a.sh", "go\n", "{ exit 0; }\n", sh, ""],
  ["a.sh", "go\n", "exit 0\n", sh, ""],
  ["a.sh", "go\n", "exec ./other\n", sh, ""],
  ["a.sh", "f() {\n  go\n", "  return\n", checks("  check #\n"), "}\n"],
  ["a.py", "def f():\n  go()\n", "  return True\n", py, ""],
  ["a.py", "def f():\n  go()\n", "  raise X(\n    1\n  )\n", py, ""],
  ["a.py", "go()\n", "sys.exit(0)\n", checks("check(#)\n"), ""],
  ["a.rb", "def f\n  go\n", "  return 1\n", py, "end\n"],
  ["a.rb", "def f\n  go\n", '  raise "a"\n', py, "end\n"],
];

describe("unchanged lines", () => {
  it.each(WAYS)("of %s behind %j%j are not reached any more, or are again", (path, head, ends, body, foot) => {
    const [without, with_] = [head + body + foot, head + ends + body + foot];
    const lineOf = (text: string) => text.slice(0, text.indexOf(body)).split("\n").length;
    expect(said(path, without, with_)).toEqual([[`8 unchanged lines ${GONE}`, lineOf(with_)]]);
    expect(said(path, with_, without)).toEqual([[`8 unchanged lines ${BACK}`, lineOf(without)]]);
  });

  it.each<[what: string, path: string, old: string, next: string]>([
    [
      "behind what only may end",
      "a.js",
      `function f() {\n${js}}\n`,
      `function f() {\n  if (a) {\n    return;\n  }\n${js}}\n`,
    ],
    ["behind what only may end", "a.js", `function f() {\n${js}}\n`, `function f() {\n  if (a)\n    return;\n${js}}\n`],
    ["behind what only may end", "a.sh", sh, `go || exit 1\n${sh}`],
    ["behind what only may end", "a.sh", sh, `if a; then\n  exit 0\nfi\n${sh}`],
    ["behind what only may end", "a.rb", `def f\n${py}end\n`, `def f\n  return 1 if a\n${py}end\n`],
    ["behind what writes elsewhere", "a.sh", sh, `exec 2>&1\n${sh}`],
    ["to which something jumps", "a.c", `int f() {\nout:\n${js}}\n`, `int f() {\n  return 0;\nout:\n${js}}\n`],
    [
      "to which something jumps",
      "a.c",
      `int f() {\n{\n  x();\nout:\n  y();\n}\n${js}}\n`,
      `int f() {\n{\n  x();\n  return 0;\nout:\n  y();\n}\n${js}}\n`,
    ],
    [
      "of another case",
      "a.js",
      `switch (a) {\n case 1:\n${js}}\n`,
      `switch (a) {\n case 0:\n  return;\n case 1:\n${js}}\n`,
    ],
    [
      "of another function",
      "a.js",
      `function f() {\n  go();\n}\nfunction g() {\n${js}}\n`,
      `function f() {\n  return go();\n}\nfunction g() {\n${js}}\n`,
    ],
    [
      "of a function that is there all the same",
      "a.js",
      `function f() {\n  go();\n  function g() {\n${js}  }\n}\n`,
      `function f() {\n  return g();\n  function g() {\n${js}  }\n}\n`,
    ],
    ["of what ends, too", "a.py", `def f():\n  go()\n${py}`, `def f():\n  raise X(\n${py}  )\n`.replace("(0)", "(0),")],
    [
      "in sight",
      "a.js",
      `function f() {\n${checks("  check(#);\n", 6)}}\n`,
      `function f() {\n  return;\n${checks("  check(#);\n", 6)}}\n`,
    ],
    ["in a comment", "a.js", `function f() {\n${js}}\n`, `function f() {\n  // return;\n${js}}\n`],
  ])("are not told %s in %s", (_, path, old, next) => {
    expect(said(path, old, next).filter(([says]) => /reached/.test(says))).toEqual([]);
  });
});
