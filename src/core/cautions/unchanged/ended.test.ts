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
  // A condition that is met as it stands, a loop that never ends, and each way of one leading out.
  ["a.js", "function f() {\n  go();\n", "  if (true) return;\n", js, "}\n"],
  ["a.js", "function f() {\n  go();\n", "  if (!0 || a) {\n    b();\n    return;\n  }\n", js, "}\n"],
  ["a.js", "function f() {\n  go();\n", "  if (a) return 1;\n  else return 2;\n", js, "}\n"],
  [
    "a.js",
    "function f() {\n  go();\n",
    "  if (a) {\n    return 1;\n  } else if (b) {\n    throw c;\n  } else {\n    return 2;\n  }\n",
    js,
    "}\n",
  ],
  ["a.js", "function f() {\n  go();\n", "  while (true) {\n    a();\n  }\n", js, "}\n"],
  ["a.js", "function f() {\n  go();\n", "  for (;;) a();\n", js, "}\n"],
  ["a.js", "function f() {\n  go();\n", "  try {\n    a();\n  } finally {\n    return;\n  }\n", js, "}\n"],
  ["a.js", "function f() {\n  go();\n", "  try {\n    return a();\n  } catch (b) {\n    throw b;\n  }\n", js, "}\n"],
  ["a.c", "int f() {\n  go();\n", "  if (1)\n    return 0;\n", js, "}\n"],
  ["A.java", "class A {\n  void f() {\n  go();\n", "  if (true) return;\n", js, "  }\n}\n"],
  ["A.java", "class A {\n  int f() {\n  go();\n", "  if (a) { return 1; } else { return 2; }\n", js, "  }\n}\n"],
  ["a.cs", "class A {\n  void F() {\n  go();\n", "  if (true) { return; }\n", js, "  }\n}\n"],
  ["a.go", "package a\n\nfunc f() {\n\tgo_()\n", "\tif true {\n\t\treturn\n\t}\n", go, "}\n"],
  ["a.go", "package a\n\nfunc f() {\n\tgo_()\n", "\tfor {\n\t\ta()\n\t}\n", go, "}\n"],
  ["a.go", "package a\n\nfunc f() {\n\tgo_()\n", "\t{ return }\n", go, "}\n"],
  ["a.rs", "fn f() {\n  go();\n", "  loop { a(); }\n", js, "}\n"],
  ["a.rs", "fn f() {\n  go();\n", "  if true { return; }\n", js, "}\n"],
  ["a.php", "<?php\nfunction f() {\n  go();\n", "  if (TRUE) return;\n", js, "}\n"],
  ["a.py", "def f():\n  go()\n", "  if True:\n    return 1\n", py, ""],
  ["a.py", "def f():\n  go()\n", "  if not False: raise X()\n", py, ""],
  ["a.py", "def f():\n  go()\n", "  if a:\n    return 1\n  elif b:\n    return 2\n  else:\n    raise X()\n", py, ""],
  ["a.py", "def f():\n  go()\n", "  try:\n    return a()\n  except B:\n    raise\n", py, ""],
  ["a.sh", "go\n", "if true; then\n  exit 0\nfi\n", sh, ""],
  ["a.sh", "go\n", "while :; do a; done\n", sh, ""],
  ["a.sh", "go\n", "if a; then exit 0; else exit 1; fi\n", sh, ""],
  ["a.rb", "def f\n  go\n", "  return 1 if true\n", py, "end\n"],
  ["a.rb", "def f\n  go\n", "  unless false\n    return 1\n  end\n", py, "end\n"],
  ["a.rb", "def f\n  go\n", "  if a\n    return 1\n  else\n    raise b\n  end\n", py, "end\n"],
  ["a.ps1", "function F {\n", "  if ($true) { return }\n", checks("  Check #\n"), "}\n"],
];

describe("unchanged lines", () => {
  it.each(WAYS)("of %s behind %j%j are not reached any more, or are again", (path, head, ends, body, foot) => {
    const [without, with_] = [head + body + foot, head + ends + body + foot];
    const lineOf = (text: string) => text.slice(0, text.indexOf(body)).split("\n").length;
    expect(said(path, without, with_)).toEqual([[`8 unchanged lines ${GONE}`, lineOf(with_)]]);
    expect(said(path, with_, without)).toEqual([[`8 unchanged lines ${BACK}`, lineOf(without)]]);
  });

  it.each([
    ["a.js", `function f() {\n  if (#) go();\n  else {\n${js}  }\n}\n`],
    ["A.java", `class A {\n  void f() {\n  if (#) { go(); } else {\n${js}  }\n}\n}\n`],
    ["a.go", `package a\n\nfunc f() {\n\tif # {\n\t\tgo_()\n\t} else {\n${go}\t}\n}\n`],
    ["a.rs", `fn f() {\n  if # { go(); } else {\n${js}  }\n}\n`],
    ["a.py", `def f():\n if #:\n  go()\n else:\n${py}`],
    ["a.rb", `def f\n if #\n  go\n else\n${py} end\nend\n`],
  ])("of the other way are not reached any more in %s, where one is always gone", (path, text) => {
    const [asked, always] = [text.replace("#", "left"), text.replace("#", "true")];
    // With the words and brackets of the way itself.
    const toldOf = (is: string) => [[expect.stringMatching(`^(?:8|9|10) unchanged lines ${is}$`), expect.any(Number)]];
    expect(said(path, asked, always)).toEqual(toldOf(GONE));
    expect(said(path, always, asked)).toEqual(toldOf(BACK));
    expect(said(path, asked, text.replace("#", "right"))).toEqual([]);
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
    [
      "behind a way that may go on",
      "a.js",
      `function f() {\n${js}}\n`,
      `function f() {\n  if (a) return 1;\n  else b();\n${js}}\n`,
    ],
    [
      "behind a way that may go on",
      "a.js",
      `function f() {\n${js}}\n`,
      `function f() {\n  if (true) go();\n  else return;\n${js}}\n`,
    ],
    [
      "where they are done otherwise",
      "a.js",
      `function f() {\n  if (a) go();\n  else {\n${js}  }\n}\n`,
      `function f() {\n  if (false) go();\n  else {\n${js}  }\n}\n`,
    ],
    ["unless what never holds", "a.rb", `unless a\n${py}end\n`, `unless false\n${py}end\n`],
    ["where a number is asked", "a.js", `switch (a) {\n case b:\n${js}}\n`, `switch (0) {\n case b:\n${js}}\n`],
    [
      "behind a way that may go on",
      "a.js",
      `function f() {\n${js}}\n`,
      `function f() {\n  if ((true) && a) return;\n${js}}\n`,
    ],
    [
      "behind a way that may go on",
      "a.js",
      `function f() {\n${js}}\n`,
      `function f() {\n  if (true && a) return;\n${js}}\n`,
    ],
    [
      "behind a way that may go on",
      "a.js",
      `function f() {\n${js}}\n`,
      `function f() {\n  if (1 == a) return;\n${js}}\n`,
    ],
    ...[
      ["a.cs", "class A { void f() {\n", "} }\n"],
      ["A.java", "class A { void f() {\n", "} }\n"],
      ["a.c", "void f() {\n", "}\n"],
      ["a.js", "function f() {\n", "}\n"],
    ].map(([path, head, foot]): [string, string, string, string] => [
      "behind the other way",
      path,
      `${head}  if (a) go();\n  else {\n${js}  }\n${foot}`,
      `${head}  if (a) return;\n  else if (b) return;\n  else {\n${js}  }\n${foot}`,
    ]),
    [
      "behind a loop that may end",
      "a.js",
      `function f() {\n${js}}\n`,
      `function f() {\n  while (true) {\n    if (a) break;\n  }\n${js}}\n`,
    ],
    [
      "behind what may be taken over",
      "a.js",
      `function f() {\n${js}}\n`,
      `function f() {\n  try {\n    return a();\n  } catch (b) {\n    c();\n  }\n${js}}\n`,
    ],
    [
      "behind what may be taken over",
      "a.py",
      `def f():\n${py}`,
      `def f():\n  try:\n    return a()\n  except B:\n    pass\n${py}`,
    ],
    ["in a comment", "a.js", `function f() {\n${js}}\n`, `function f() {\n  // return;\n${js}}\n`],
  ])("are not told %s in %s", (_, path, old, next) => {
    expect(said(path, old, next).filter(([says]) => /reached/.test(says))).toEqual([]);
  });

  it("are looked at once, whatever stands on the lines that changed", () => {
    const wide = ["if", "while (", "unless", "not", "for", "if (!"].map((word) => `${word}${" ".repeat(400_000)}x\n`);
    expect(said("a.js", `function f() {\n${js}}\n`, `function f() {\n${wide.join("")}${js}}\n`)).toEqual([]);
  });
});
