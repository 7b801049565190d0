import { type Case, foolable, foolableIn } from "./case";

const GUARD = [
  "  const found = await sessions.find(request);",
  "  if (!found || found.expired) throw refuse(401);",
  "  request.person = found.person;",
];
const guard = (indent = "") => GUARD.map((line) => indent + line).join("\n");
const HANDLER = (body: string) =>
  `async function handle(request) {\n${body.replace("return save", `${BODY}  return save`)}\n}\n`;
const BODY =
  "  one(request);\n  two(request, first);\n  three(request, second);\n  four(request, third);\n".trimStart();
const PY = [
  "    token = read_token(request)",
  "    if token is None or token.expired:",
  "        raise Refused('no token')",
];
const PY_BODY = "    one(request)\n    two(request, first)\n    three(request, second)\n    four(request, third)\n";
const C_BODY = "  one(request);\n  two(request, first);\n  three(request, second);\n  four(request, third);\n";
const C = [
  "  if (length > sizeof(buffer)) return -1;",
  "  if (source == NULL) return -2;",
  "  log_copy(length, source);",
];
const other = (name: string, body: string) => `function ${name}() {\n  start();\n${body}\n  finish();\n}\n`;

const NOTES = Array.from({ length: 8 }, (_, n) => `  const noteOfBerth${n} = ship.note(${n});\n`);
const REFUSALS =
  "  if (ship.isRefused) throw new Refused(ship);\n  if (ship.isHeld) throw new Held(ship);\n  if (!ship.isPaid) throw new Unpaid(ship);\n";
/** A function that goes to another file, with its lines before and after. */
const WENT = (was: string, is: string) => {
  const admit = (body: string) => `export function admit(ship) {\n${body}  return ship.berth;\n}\n\n`;
  return {
    "a.ts": { old: `${admit(was)}export const one = 1;\n`, next: "export const one = 1;\n" },
    "b.ts": { old: "export const two = 2;\n", next: `${admit(is)}export const two = 2;\n` },
  };
};

/** Two definitions that change places under something that stays where it is. */
const under = (mark: string, first: string, second: string, wrap: (body: string) => string = (body) => body) =>
  [wrap(`${mark}${first}${second}`), wrap(`${mark}${second}${first}`)] as const;
const PY_SECRET =
  "def all_secrets_of_the_harbour(request):\n    found = secrets.every_one(request)\n    return render_as_table(found)\n\n";
const PY_PUBLIC =
  "def public(request):\n    a = one(request)\n    b = two(request)\n    c = three(request)\n    d = four(request)\n    return a\n\n";
const JS_SECRET =
  "  allSecretsOfTheHarbour(request) {\n    const found = secrets.everyOne(request);\n    return renderAsTable(found);\n  }\n";
const JS_PUBLIC =
  "  plain(request) {\n    const a = one(request);\n    const b = two(request);\n    const c = three(request);\n    const d = four(request);\n    return a;\n  }\n";
const inClass = (body: string) => `class A {\n${body}}\n`;
const RS = (name: string, lines: number) =>
  `fn ${name}_of_the_harbour() {\n${Array.from({ length: lines }, (_, n) => `    assert_${name}_of_berth(${n});\n`).join("")}}\n`;
const RB = (name: string, lines: number) =>
  `  def ${name}_of_the_harbour\n${Array.from({ length: lines }, (_, n) => `    tell_${name}_of_berth(${n})\n`).join("")}  end\n`;
const CPP = (name: string, lines: number) =>
  `  void ${name}_of_the_harbour() {\n${Array.from({ length: lines }, (_, n) => `    tell_${name}_of_berth(${n});\n`).join("")}  }\n`;
const JAVA = (name: string, lines: number) =>
  `  void ${name}OfTheHarbour() {\n${Array.from({ length: lines }, (_, n) => `    tell${name}OfBerth(${n});\n`).join("")}  }\n`;

/** Blocks that stand elsewhere now, and do something else there. */
export const MOVES: Case[] = [
  foolableIn(
    "a function goes to another file, and what it refuses goes behind what it does",
    WENT(NOTES.slice(0, 4).join("") + REFUSALS + NOTES.slice(4).join(""), NOTES.join("") + REFUSALS),
    "isRefused",
  ),
  foolableIn(
    "a function goes to another file, and what it refuses goes before what it does",
    WENT(NOTES.join("") + REFUSALS, NOTES.slice(0, 4).join("") + REFUSALS + NOTES.slice(4).join("")),
    "isRefused",
  ),
  foolable("a.py", "out from under its decorator", ...under("@requires_admin\n", PY_SECRET, PY_PUBLIC)),
  foolable(
    "a.ts",
    "out from under its decorator, in a class",
    ...under("  @RequiresAdmin()\n", JS_SECRET, JS_PUBLIC, inClass),
  ),
  foolable("a.py", "in under an order to a checker", ...under("# nosec\n", PY_SECRET, PY_PUBLIC)),
  foolable(
    "a.ts",
    "in under an order to a checker, in a class",
    ...under("  // lint-disable-next-line no-eval\n", JS_SECRET, JS_PUBLIC, inClass),
  ),
  foolable(
    "a.py",
    "to where a checker was told to look away",
    `${PY_SECRET}# lint: disable=eval\n${PY_PUBLIC}# lint: enable=eval\n`,
    `# lint: disable=eval\n${PY_PUBLIC}${PY_SECRET}# lint: enable=eval\n`,
  ),
  foolable("a.rs", "out from under its attribute", ...under("#[test]\n", RS("first", 3), RS("second", 6))),
  foolable(
    "A.java",
    "out from under its annotation",
    ...under("  @Authorized\n", JAVA("First", 3), JAVA("Second", 6), inClass),
  ),
  foolable(
    "a.cs",
    "out from under its attribute",
    ...under("  [Authorize]\n", JAVA("First", 3), JAVA("Second", 6), inClass),
  ),
  foolable(
    "a.rb",
    "past the word that makes it private",
    inClass(`${RB("first", 3)}  private\n${RB("second", 6)}`)
      .replace("class A {", "class A")
      .replace(/}\n$/, "end\n"),
    inClass(`  private\n${RB("second", 6)}${RB("first", 3)}`)
      .replace("class A {", "class A")
      .replace(/}\n$/, "end\n"),
  ),
  foolable(
    "a.rb",
    "into the private part",
    `class A\n${RB("first", 3)}${RB("second", 7)}  private\n${RB("third", 7)}end\n`,
    `class A\n${RB("second", 7)}  private\n${RB("third", 7)}${RB("first", 3)}end\n`,
  ),
  foolable(
    "a.cpp",
    "into the public part",
    `class A {\nprivate:\n${CPP("first", 3)}${CPP("second", 7)}public:\n${CPP("third", 7)}};\n`,
    `class A {\nprivate:\n${CPP("second", 7)}public:\n${CPP("third", 7)}${CPP("first", 3)}};\n`,
  ),
  foolable(
    "a.c",
    "into what is compiled only sometimes",
    `void a(void) {\n${C.join("\n")}\n${C_BODY}#ifdef SELDOM\n  seldom(request);\n#endif\n}\nvoid b(void) {\n  go();\n}\n`.replace(
      "void b",
      "void b",
    ),
    `void a(void) {\n${C_BODY}#ifdef SELDOM\n  seldom(request);\n#endif\n}\nvoid b(void) {\n#ifdef SELDOM\n${C.join("\n")}\n#endif\n  go();\n}\n`,
    "sizeof",
  ),
  foolable(
    "a.js",
    "into a comment",
    HANDLER(`${guard()}\n  return save(request);`),
    `${HANDLER("  return save(request);")}/*\n${guard()}\n*/\n`,
    "sessions.find",
  ),
  foolable(
    "a.js",
    "out of a comment",
    `${HANDLER("  return save(request);")}/*\n${guard()}\n*/\n`,
    HANDLER(`${guard()}\n  return save(request);`),
    "sessions.find",
  ),
  foolable(
    "a.js",
    "into a template",
    HANDLER(`${guard()}\n  return save(request);`),
    `${HANDLER("  return save(request);")}const doc = \`\n${guard()}\n\`;\n`,
    "sessions.find",
  ),
  foolable(
    "a.js",
    "into a branch that never runs",
    HANDLER(`${guard()}\n  return save(request);`),
    HANDLER(`  if (false) {\n${guard("  ")}\n  }\n  return save(request);`),
    "sessions.find",
  ),
  foolable(
    "a.js",
    "into a branch that is false in more words",
    HANDLER(`${guard()}\n  return save(request);`),
    HANDLER(`  if (false && request) {\n${guard("  ")}\n  }\n  return save(request);`),
    "sessions.find",
  ),
  foolable(
    "a.ts",
    "into a loop that never runs",
    HANDLER(`${guard()}\n  return save(request);`),
    HANDLER(`  while (0) {\n${guard("  ")}\n  }\n  return save(request);`),
    "sessions.find",
  ),
  foolable(
    "a.js",
    "behind the return",
    HANDLER(`${guard()}\n  return save(request);`),
    HANDLER(`  return save(request);\n${guard()}`),
    "sessions.find",
  ),
  foolable(
    "a.js",
    "behind what it guards",
    HANDLER(`${guard()}\n  await save(request);\n  done();\n  tell();\n  end();`),
    HANDLER(`  await save(request);\n  done();\n  tell();\n  end();\n${guard()}`),
  ),
  foolable(
    "a.js",
    "at the top of a script, behind what it guards",
    `${guard()}\nsave();\ndone();\ntell();\nend();\n`,
    `save();\ndone();\ntell();\nend();\n${guard()}\n`,
  ),
  foolable(
    "a.py",
    "into a branch that never runs",
    `def f(request):\n${PY.join("\n")}\n    save(request)\n${PY_BODY}`,
    `def f(request):\n    if False:\n${PY.map((l) => `    ${l}`).join("\n")}\n    save(request)\n${PY_BODY}`,
    "read_token",
  ),
  foolable(
    "a.py",
    "under another kind of parent",
    `def f(request):\n${PY.join("\n")}\n    save(request)\n${PY_BODY}\n\ndef g(request):\n    start(request)\n    for one in request:\n        go(one)\n`,
    `def f(request):\n    save(request)\n${PY_BODY}\n\ndef g(request):\n    start(request)\n    for one in request:\n${PY.map((l) => `    ${l}`).join("\n")}\n        go(one)\n`,
    "read_token",
  ),
  foolable(
    "a.py",
    "into a text",
    `def f(request):\n${PY.join("\n")}\n    save(request)\n${PY_BODY}`,
    `def f(request):\n    """\n${PY.join("\n")}\n    """\n    save(request)\n${PY_BODY}`,
    '"""',
  ),
  foolable(
    "a.py",
    "behind the return",
    `def f(request):\n${PY.join("\n")}\n${PY_BODY}    return save(request)\n`,
    `def f(request):\n${PY_BODY}    return save(request)\n${PY.join("\n")}\n`,
    "read_token",
  ),
  foolable(
    "a.c",
    "into what is not compiled",
    `int copy(void) {\n${C.join("\n")}\n${C_BODY}  return go();\n}\n`,
    `int copy(void) {\n#if 0\n${C.join("\n")}\n#endif\n${C_BODY}  return go();\n}\n`,
    "#if 0",
  ),
  foolable(
    "a.c",
    "into a comment",
    `int copy(void) {\n${C.join("\n")}\n${C_BODY}  return go();\n}\n`,
    `int copy(void) {\n  /*\n${C.join("\n")}\n  */\n${C_BODY}  return go();\n}\n`,
    "/*",
  ),
  foolable(
    "a.go",
    "into a branch that never runs",
    "package a\n\nfunc f() {\n\tcheckTheToken(request)\n\tcheckTheScope(request)\n\tcheckTheOwner(request)\n\tsave()\n}\n",
    "package a\n\nfunc f() {\n\tif false {\n\t\tcheckTheToken(request)\n\t\tcheckTheScope(request)\n\t\tcheckTheOwner(request)\n\t}\n\tsave()\n}\n",
    "checkTheToken",
  ),
  foolable(
    "A.java",
    "into a branch that never runs",
    "class A {\n  void f() {\n    checkTheToken(request);\n    checkTheScope(request);\n    checkTheOwner(request);\n    save();\n  }\n}\n",
    "class A {\n  void f() {\n    if (false) {\n      checkTheToken(request);\n      checkTheScope(request);\n      checkTheOwner(request);\n    }\n    save();\n  }\n}\n",
    "checkTheToken",
  ),
  foolable(
    "a.rs",
    "into a branch that never runs",
    "fn f() {\n    check_the_token(request);\n    check_the_scope(request);\n    check_the_owner(request);\n    save();\n}\n",
    "fn f() {\n    if false {\n        check_the_token(request);\n        check_the_scope(request);\n        check_the_owner(request);\n    }\n    save();\n}\n",
    "check_the_token",
  ),
  foolable(
    "a.rb",
    "into a branch that never runs",
    "def f\n  check_the_token(request)\n  check_the_scope(request)\n  check_the_owner(request)\n  save\nend\n",
    "def f\n  if false\n    check_the_token(request)\n    check_the_scope(request)\n    check_the_owner(request)\n  end\n  save\nend\n",
    "check_the_token",
  ),
  foolable(
    "a.sh",
    "into a here-document",
    "check_token request_one\ncheck_scope request_two\ncheck_owner request_three\none part\ntwo parts\nthree parts\nfour parts\nsave\n",
    "one part\ntwo parts\nthree parts\nfour parts\nsave\ncat <<E\ncheck_token request_one\ncheck_scope request_two\ncheck_owner request_three\nE\n",
    "check_token",
  ),
  foolable(
    "a.js",
    "with one line edited",
    `${other("a", guard())}${other("b", "  go();")}`,
    `${other("a", "  go();")}${other("b", guard().replace("401", "200"))}`,
    "200",
  ),
  foolable(
    "a.js",
    "with a line left out",
    `${other("a", guard())}${other("b", "  go();")}`,
    `${other("a", "  go();")}${other("b", GUARD.filter((_, n) => n !== 1).join("\n"))}`,
    "expired",
  ),
  foolable(
    "a.js",
    "with other relative indentation within a template",
    `${other("a", "  const q = `\n    select secret columns\n    from the table of ships\n    where nothing is hidden\n  `;")}${other("b", "  go();")}`,
    `${other("a", "  go();")}${other("b", "  const q = `\n      select secret columns\n      from the table of ships\n      where nothing is hidden\n  `;")}`,
    "select",
  ),
  foolableIn(
    "a copy is not a move",
    {
      "a.js": { old: `function a() {\n${guard()}\n}\n`, next: `function a() {\n${guard()}\n}\n` },
      "b.js": { old: "start();\n", next: `start();\nfunction b() {\n${guard()}\n}\n` },
    },
    "sessions.find",
  ),
  foolableIn(
    "into a file of another language",
    {
      "a.js": { old: `function a() {\n${guard()}\n}\n`, next: "function a() {\n}\n" },
      "a.txt": { old: "notes\n", next: `notes\n${guard()}\n` },
    },
    "sessions.find",
  ),
  foolableIn(
    "into a file that does not parse",
    {
      "a.js": { old: `function a() {\n${guard()}\n}\n`, next: "function a() {\n}\n" },
      "b.js": { old: "b(;\n", next: `b(;\n${guard()}\n` },
    },
    "sessions.find",
  ),
  foolable(
    "a.css",
    "rules of a style sheet: the later one counts",
    ".warning-of-storm { color: red; }\n.warning-of-tide { color: blue; }\n.warning-of-fog { color: grey; }\n.notice { color: black; }\n.calm { color: teal; }\n.wind { color: white; }\n.sand { color: tan; }\n",
    ".notice { color: black; }\n.calm { color: teal; }\n.wind { color: white; }\n.sand { color: tan; }\n.warning-of-storm { color: red; }\n.warning-of-tide { color: blue; }\n.warning-of-fog { color: grey; }\n",
  ),
  foolable(
    "a.json",
    "data under another key",
    '{\n  "allow": [\n    "the harbour master of the west",\n    "the harbour master of the east",\n    "the pilot of the outer station"\n  ],\n  "one": 1,\n  "two": 2,\n  "six": 6,\n  "deny": [\n  ]\n}\n',
    '{\n  "allow": [\n  ],\n  "one": 1,\n  "two": 2,\n  "six": 6,\n  "deny": [\n    "the harbour master of the west",\n    "the harbour master of the east",\n    "the pilot of the outer station"\n  ]\n}\n',
    "pilot",
  ),
  foolable(
    "a.yml",
    "data under another key",
    "allow:\n  - the harbour master of the west\n  - the harbour master of the east\n  - the pilot of the outer station\none: 1\ntwo: 2\nsix: 6\nten: 10\ndeny:\n  - nobody\n",
    "allow:\none: 1\ntwo: 2\nsix: 6\nten: 10\ndeny:\n  - nobody\n  - the harbour master of the west\n  - the harbour master of the east\n  - the pilot of the outer station\n",
    "pilot",
  ),
  foolable(
    "a.md",
    "prose out of sight",
    "Never sail in a storm of the west.\nAlways ask the pilot of the station.\nThe harbour closes at ten at night.\n\nEnd of this part of the notices.\nMore of this part of the notices.\nRest of this part of the notices.\nLast of this part of the notices.\n",
    "End of this part of the notices.\nMore of this part of the notices.\nRest of this part of the notices.\nLast of this part of the notices.\n\n<!--\nNever sail in a storm of the west.\nAlways ask the pilot of the station.\nThe harbour closes at ten at night.\n-->\n",
    "storm",
  ),
];
