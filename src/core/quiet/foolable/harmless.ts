import { type Case, harmless, harmlessIn } from "./case";

const often = (line: string, times = 3) =>
  `${Array.from({ length: times }, (_, n) => line.replaceAll("#", `${n}`)).join("\n")}\n`;
const inGo = (lines: string) => `package a\n\nfunc f() {\n${lines}}\n`;
const LONG = (word: string) => `${`const ${word} = call(${"value, ".repeat(90)}end); `.repeat(10)}\n`;
const GO = (first: string, second: string) => `package a\n\nimport (\n\t${first}\n\t${second}\n)\n`;
const METHOD = [
  "  closesAt(window) {",
  "    const last = window.closes;",
  "    if (last.isBefore(now)) return null;",
  "    return last.plusMinutes(margin);",
  "  }",
];
const FUNCTION = [
  "function closesAt(window) {",
  "  const last = window.closes;",
  "  if (last.isBefore(now)) return null;",
  "  return last.plusMinutes(margin);",
  "}",
];
const REST =
  "function first() {\n  start();\n  go();\n}\n\nfunction second() {\n  stop();\n  wait();\n}\n\nfunction third() {\n  rest();\n  sleep();\n}\n";
const PY = [
  "def closes_at(window):",
  "    last = window.closes",
  "    if last.is_before(now):",
  "        return None",
  "    return last.plus_minutes(margin)",
];
const PY_REST =
  "def first():\n    start()\n    go()\n\n\ndef second():\n    stop()\n    wait()\n\n\ndef third():\n    rest()\n    sleep()\n";
const npm = (version: string, hash: string) =>
  JSON.stringify(
    {
      name: "planner",
      lockfileVersion: 3,
      requires: true,
      packages: {
        "": { name: "planner", dependencies: { tide: "^1.0.0" } },
        "node_modules/tide": {
          version,
          resolved: `https://packages.example/tide/-/tide-${version}.tgz`,
          integrity: `sha512-${hash.repeat(86)}==`,
          license: "MIT",
          engines: { node: ">=18" },
        },
      },
    },
    null,
    2,
  ).concat("\n");
const yarn = (version: string, hash: string) =>
  `# yarn lockfile v1\n\n\ntide@^1.0.0:\n  version "${version}"\n  resolved "https://packages.example/tide/-/tide-${version}.tgz#${hash.repeat(40)}"\n  integrity sha512-${hash.repeat(86)}==\n  dependencies:\n    moon "^2.0.0"\n`;
const cargo = (version: string, hash: string) =>
  `[[package]]\nname = "tide"\nversion = "${version}"\nsource = "registry+https://crates.example/index"\nchecksum = "${hash.repeat(64)}"\ndependencies = [\n "moon",\n]\n`;

export const HARMLESS: Case[] = [
  // Layout.
  harmless("a.js", "indented anew", "if (a) {\ngo();\n}\n", "if (a) {\n  go();\n}\n", "layout"),
  harmless("a.ts", "spaces within", "go( a,b );\n", "go(a, b);\n", "layout"),
  harmless(
    "a.ts",
    "arguments on lines of their own",
    "go(first, second, third);\n",
    "go(\n  first,\n  second,\n  third\n);\n",
    "layout",
  ),
  harmless("a.js", "lines joined", "const a = {\n  b: 1,\n  c: 2\n};\n", "const a = { b: 1, c: 2 };\n", "layout"),
  harmless("a.tsx", "a chain", "const a = b.map(f).filter(g);\n", "const a = b\n  .map(f)\n  .filter(g);\n", "layout"),
  harmless(
    "a.js",
    "tabs instead of spaces",
    "function f() {\n  go();\n  stop();\n}\n",
    "function f() {\n\tgo();\n\tstop();\n}\n",
    "layout",
  ),
  harmless(
    "a.js",
    "the brace of an else",
    "if (a) {\n  b();\n}\nelse {\n  c();\n}\n",
    "if (a) {\n  b();\n} else {\n  c();\n}\n",
    "layout",
  ),
  harmless("a.js", "an operator at the end of a line", "const a = b && c;\n", "const a = b &&\n  c;\n", "layout"),
  harmless("a.js", "spaces at the end of a line", "go();  \nstop();\n", "go();\nstop();\n", "layout"),
  harmless("a.js", "beside a template that stays", "const a = `b  c` ;\n", "const a = `b  c`;\n", "layout"),
  harmless(
    "a.tsx",
    "elements indented anew",
    "const a = (\n<p>\n<b />\n</p>\n);\n",
    "const a = (\n  <p>\n    <b />\n  </p>\n);\n",
    "layout",
  ),
  harmless("a.ts", "a type on several lines", 'type A = "b" | "c";\n', 'type A =\n  "b" | "c";\n', "layout"),
  harmless("a.py", "indented by four instead of two", "if a:\n  b()\n  c()\n", "if a:\n    b()\n    c()\n", "layout"),
  harmless("a.py", "arguments aligned", "go(a,\n   b)\n", "go(a,\n    b)\n", "layout"),
  harmless("a.py", "spaces around operators", "a=b+c\n", "a = b + c\n", "layout"),
  harmless("a.py", "arguments on lines of their own", "go(first, second)\n", "go(\n    first, second\n)\n", "layout"),
  harmless("a.py", "spaces at the end of a line", "a()  \nb()\n", "a()\nb()\n", "layout"),
  harmless(
    "tool",
    "Python by its first line",
    "#!/usr/bin/env python3\na=b\nc()\n",
    "#!/usr/bin/env python3\na = b\nc()\n",
    "layout",
  ),
  harmless(
    "A.java",
    "indented anew",
    "class A {\nvoid f() {\ngo();\n}\n}\n",
    "class A {\n  void f() {\n    go();\n  }\n}\n",
    "layout",
  ),
  harmless(
    "A.java",
    "spaces at the end",
    "class A {\n  int b;  \n  int c;\n}\n",
    "class A {\n  int b;\n  int c;\n}\n",
    "layout",
  ),
  harmless("A.java", "the brace on the line before", "class A\n{\n  int b;\n}\n", "class A {\n  int b;\n}\n", "layout"),
  harmless("a.c", "indented anew", "int f(void) {\nreturn 1;\n}\n", "int f(void) {\n  return 1;\n}\n", "layout"),
  harmless(
    "a.c",
    "spaces within",
    "int f(int a,int b) { return a+b; }\n",
    "int f(int a, int b) { return a + b; }\n",
    "layout",
  ),
  harmless("a.cpp", "the brace on the line before", "void f()\n{\n  go();\n}\n", "void f() {\n  go();\n}\n", "layout"),
  harmless(
    "a.cs",
    "indented anew",
    "class A {\nvoid F() {\nGo();\n}\n}\n",
    "class A {\n    void F() {\n        Go();\n    }\n}\n",
    "layout",
  ),
  harmless("a.go", "aligned", "package a\n\nvar b  = 1\n", "package a\n\nvar b = 1\n", "layout"),
  harmless(
    "a.go",
    "indented anew",
    "package a\n\nfunc f() {\n  go1()\n}\n",
    "package a\n\nfunc f() {\n\tgo1()\n}\n",
    "layout",
  ),
  harmless(
    "a.rs",
    "indented anew",
    "fn f() {\n  go();\n  stop();\n}\n",
    "fn f() {\n    go();\n    stop();\n}\n",
    "layout",
  ),
  harmless(
    "a.rs",
    "arguments on lines of their own",
    "fn f() { go(first, second); }\n",
    "fn f() {\n    go(first, second);\n}\n",
    "layout",
  ),
  harmless("a.php", "indented anew", "<?php\nif ($a) {\ngo();\n}\n", "<?php\nif ($a) {\n    go();\n}\n", "layout"),
  harmless("a.rb", "indented anew", "def f\ngo\nstop\nend\n", "def f\n  go\n  stop\nend\n", "layout"),
  harmless("a.sh", "indented anew", 'if [ -f "$a" ]; then\nrun\nfi\n', 'if [ -f "$a" ]; then\n  run\nfi\n', "layout"),
  harmless("a.sh", "two spaces between words", "cp  a b\n", "cp a b\n", "layout"),
  harmless(
    "a.css",
    "a rule on several lines",
    "a{color:red;margin:0}\n",
    "a {\n  color: red;\n  margin: 0\n}\n",
    "layout",
  ),
  harmless("a.css", "indented anew", "a {\ncolor: red;\n}\n", "a {\n  color: red;\n}\n", "layout"),
  harmless("a.json", "indented anew", '{\n"a": 1,\n"b": [1, 2]\n}\n', '{\n  "a": 1,\n  "b": [1, 2]\n}\n', "layout"),
  harmless("a.json", "on one line", '{\n  "a": 1,\n  "b": 2\n}\n', '{ "a": 1, "b": 2 }\n', "layout"),
  harmless(
    "a.yml",
    "indented by four instead of two",
    "a:\n  b: 1\n  c: 2\nd: 3\n",
    "a:\n    b: 1\n    c: 2\nd: 3\n",
    "layout",
  ),
  harmless("a.yml", "two spaces behind a colon", "a:  b\nc: d\n", "a: b\nc: d\n", "layout"),
  harmless("a.toml", "spaces around the sign", "a=1\nb=2\n", "a = 1\nb = 2\n", "layout"),
  harmless("a.toml", "a list on several lines", "a = [1, 2]\n", "a = [\n  1,\n  2\n]\n", "layout"),
  harmless("a.adb", "spaces at the end, without a grammar", "begin  \nend\n", "begin\nend\n", "layout"),
  harmless("a.proto", "spaces at the end, without a grammar", "message A {  \n}\n", "message A {\n}\n", "layout"),
  // Blank.
  harmless("a.js", "an empty line comes", "a();\nb();\n", "a();\n\nb();\n", "blank"),
  harmless("a.ts", "empty lines go", "a();\n\n\nb();\n", "a();\nb();\n", "blank"),
  harmless("a.js", "beside a template", "const a = `b`;\nc();\n", "const a = `b`;\n\nc();\n", "blank"),
  harmless("a.js", "spaces on an empty line", "a();\n  \nb();\n", "a();\n\nb();\n", "blank"),
  harmless(
    "a.py",
    "two lines between functions",
    "def f():\n    a()\n\ndef g():\n    b()\n",
    "def f():\n    a()\n\n\ndef g():\n    b()\n",
    "blank",
  ),
  harmless(
    "A.java",
    "between members",
    "class A {\n  int a;\n  int b;\n}\n",
    "class A {\n  int a;\n\n  int b;\n}\n",
    "blank",
  ),
  harmless(
    "a.go",
    "between statements",
    "package a\n\nfunc f() {\n\ta()\n\tb()\n}\n",
    "package a\n\nfunc f() {\n\ta()\n\n\tb()\n}\n",
    "blank",
  ),
  harmless("a.rs", "between functions", "fn a() {}\nfn b() {}\n", "fn a() {}\n\nfn b() {}\n", "blank"),
  harmless("a.c", "between declarations", "int a;\nint b;\n", "int a;\n\nint b;\n", "blank"),
  harmless(
    "a.cs",
    "between members",
    "class A {\n  int a;\n  int b;\n}\n",
    "class A {\n  int a;\n\n  int b;\n}\n",
    "blank",
  ),
  harmless("a.php", "between statements", "<?php\na();\nb();\n", "<?php\na();\n\nb();\n", "blank"),
  harmless("a.rb", "between methods", "def f\nend\ndef g\nend\n", "def f\nend\n\ndef g\nend\n", "blank"),
  harmless("a.sh", "between commands", "a\nb\n", "a\n\nb\n", "blank"),
  harmless("a.css", "between rules", "a { b: c }\nd { e: f }\n", "a { b: c }\n\nd { e: f }\n", "blank"),
  harmless("a.yml", "between keys", "a: 1\nb: 2\n", "a: 1\n\nb: 2\n", "blank"),
  harmless("a.toml", "between keys", "a = 1\nb = 2\n", "a = 1\n\nb = 2\n", "blank"),
  harmless("a.json", "between keys", '{\n  "a": 1,\n  "b": 2\n}\n', '{\n  "a": 1,\n\n  "b": 2\n}\n', "blank"),
  // Imports.
  harmless(
    "a.js",
    "put in order",
    'import b from "b";\nimport a from "a";\n\ngo();\n',
    'import a from "a";\nimport b from "b";\n\ngo();\n',
    "imports",
  ),
  harmless(
    "a.ts",
    "names and types",
    'import { b } from "./b";\nimport type { A } from "./a";\n',
    'import type { A } from "./a";\nimport { b } from "./b";\n',
    "imports",
  ),
  harmless(
    "a.ts",
    "over several lines",
    'import {\n  b,\n  c,\n} from "./b";\nimport a from "./a";\n',
    'import a from "./a";\nimport {\n  b,\n  c,\n} from "./b";\n',
    "imports",
  ),
  harmless(
    "A.java",
    "put in order",
    "import b.B;\nimport a.A;\nclass C {}\n",
    "import a.A;\nimport b.B;\nclass C {}\n",
    "imports",
  ),
  harmless("a.go", "put in order", GO('"b"', '"a"'), GO('"a"', '"b"'), "imports"),
  harmless("a.rs", "put in order", "use b::B;\nuse a::A;\n", "use a::A;\nuse b::B;\n", "imports"),
  harmless("a.php", "put in order", "<?php\nuse B\\B;\nuse A\\A;\n", "<?php\nuse A\\A;\nuse B\\B;\n", "imports"),
  harmless(
    "a.py",
    "modules of Python's own library",
    "import sys\nimport os\n\ngo()\n",
    "import os\nimport sys\n\ngo()\n",
    "imports",
  ),
  // Endings.
  harmless("a.js", "all lines", "a();\nb();\n", "a();\r\nb();\r\n", "endings"),
  harmless("a.py", "and back", "a()\r\nb()\r\n", "a()\nb()\n", "endings"),
  harmless("a.md", "prose", "a\nb\n", "a\r\nb\r\n", "endings"),
  harmless("a.cs", "outside of texts", "class A {\n}\n", "class A {\r\n}\r\n", "endings"),
  harmless("a.json", "data", '{\n  "a": 1\n}\n', '{\r\n  "a": 1\r\n}\r\n', "endings"),
  // Repeated.
  harmless("a.js", "a variable", often("go(slot, #);"), often("go(berth, #);"), "repeated"),
  harmless("a.ts", "a member", often("ship.berthed(#);"), often("ship.moored(#);"), "repeated"),
  harmless("a.ts", "a type", often("const a#: Slot = make(#);"), often("const a#: Berth = make(#);"), "repeated"),
  harmless("a.py", "a function", often("closes(tide, #)"), often("shuts(tide, #)"), "repeated"),
  harmless("a.go", "a function", inGo(often("\tcloses(tide, #)")), inGo(often("\tshuts(tide, #)")), "repeated"),
  harmless(
    "A.java",
    "a type",
    `class A {\n${often("  Slot a#;")}}\n`,
    `class A {\n${often("  Berth a#;")}}\n`,
    "repeated",
  ),
  harmless(
    "a.rs",
    "a field",
    `fn f() {\n${often("  go(a.slot, #);")}}\n`,
    `fn f() {\n${often("  go(a.berth, #);")}}\n`,
    "repeated",
  ),
  harmless(
    "a.c",
    "a function",
    `void f(void) {\n${often("  closes(tide, #);")}}\n`,
    `void f(void) {\n${often("  shuts(tide, #);")}}\n`,
    "repeated",
  ),
  harmless(
    "a.cs",
    "a member",
    `class A { void F() {\n${often("  Closes(tide, #);")}} }\n`,
    `class A { void F() {\n${often("  Shuts(tide, #);")}} }\n`,
    "repeated",
  ),
  harmless("a.rb", "a method", often("closes(tide, #)"), often("shuts(tide, #)"), "repeated"),
  harmless("a.js", "two names on each line", often("go(slot, quay, #);"), often("go(berth, pier, #);"), "repeated"),
  harmless("a.js", "twice on a line", often("go(slot, slot.at(#));"), often("go(berth, berth.at(#));"), "repeated"),
  harmless(
    "a.js",
    "and in a comment beside it",
    often("go(slot); // the slot #"),
    often("go(berth); // the berth #"),
    "repeated",
  ),
  harmlessIn(
    "over several files",
    {
      "a.js": { old: "go(slot);\n", next: "go(berth);\n" },
      "b.js": { old: "stop(slot);\nwait(slot);\n", next: "stop(berth);\nwait(berth);\n" },
    },
    "repeated",
  ),
  // Moved.
  harmless(
    "a.js",
    "a function to the end of its file",
    `${FUNCTION.join("\n")}\n${REST}`,
    `${REST}${FUNCTION.join("\n")}\n`,
    "moved",
    "blank",
  ),
  harmlessIn(
    "a function to another file",
    {
      "a.ts": { old: `${FUNCTION.join("\n")}\n${REST}`, next: REST },
      "b.ts": { old: "function b() {}\n", next: `function b() {}\n${FUNCTION.join("\n")}\n` },
    },
    "moved",
  ),
  harmlessIn(
    "a method to another class, deeper",
    {
      "a.ts": { old: `class A {\n${METHOD.join("\n")}\n}\n`, next: "class A {\n}\n" },
      "b.ts": {
        old: "namespace n {\n  class B {\n  }\n}\n",
        next: `namespace n {\n  class B {\n${METHOD.map((l) => `  ${l}`).join("\n")}\n  }\n}\n`,
      },
    },
    "moved",
  ),
  harmless(
    "a.py",
    "a function to the end of its file",
    `${PY.join("\n")}\n${PY_REST}`,
    `${PY_REST}${PY.join("\n")}\n`,
    "moved",
    "blank",
  ),
  harmlessIn(
    "a function of Python to another file",
    {
      "a.py": { old: `${PY.join("\n")}\n${PY_REST}`, next: PY_REST },
      "b.py": { old: "def b():\n    pass\n", next: `def b():\n    pass\n${PY.join("\n")}\n` },
    },
    "moved",
  ),
  harmless(
    "a.js",
    "statements into another function",
    `function a() {\n  begin();\n  const last = window.closes;\n  warn(last.isBefore(now));\n  show(last.plusMinutes(margin));\n  end();\n}\nfunction b() {\n  one();\n  two();\n}\n`,
    `function a() {\n  begin();\n  end();\n}\nfunction b() {\n  one();\n  const last = window.closes;\n  warn(last.isBefore(now));\n  show(last.plusMinutes(margin));\n  two();\n}\n`,
    "moved",
  ),
  harmless(
    "A.java",
    "a method within its class",
    `class A {\n  int closesAt(Window window) {\n    int last = window.closes();\n    return last + margin;\n  }\n  int first() {\n    start();\n    return go(1);\n  }\n  int second() {\n    stop();\n    return wait(2);\n  }\n}\n`,
    `class A {\n  int first() {\n    start();\n    return go(1);\n  }\n  int second() {\n    stop();\n    return wait(2);\n  }\n  int closesAt(Window window) {\n    int last = window.closes();\n    return last + margin;\n  }\n}\n`,
    "moved",
  ),
  // Generated.
  harmlessIn("marked by the target", { "a.js": { old: "a();\n", next: "b();\n", generated: true } }, "generated"),
  harmless("a.min.js", "long before and after", LONG("one"), LONG("two"), "generated"),
  harmless("package-lock.json", "another version", npm("1.0.0", "a"), npm("1.1.0", "b"), "generated"),
  harmless("yarn.lock", "another version", yarn("1.0.0", "a"), yarn("1.1.0", "b"), "generated"),
  harmless("Cargo.lock", "another version", cargo("1.0.0", "a"), cargo("1.1.0", "b"), "generated"),
  harmless(
    "go.sum",
    "another version",
    `example.org/tide v1.0.0 h1:${"a".repeat(43)}=\n`,
    `example.org/tide v1.1.0 h1:${"b".repeat(43)}=\n`,
    "generated",
  ),
];
