import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../grammar/parse";
import { readTexts } from "../quiet/read-texts";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const GUARD = [
  "  const found = await sessions.find(request);",
  "  if (!found || found.expired) throw refuse(401);",
  "  request.person = found.person;",
].join("\n");
const handle = (body: string) =>
  `async function handle(request) {\n  begin(request);\n${body}  return save(request);\n}\n`;
const unused = (body: string) => `async function unused(request) {\n  one(request);\n${body}  two(request);\n}\n`;
const method = `  isAllowed(request) {\n    const found = sessions.find(request);\n    return found !== null && !found.expired;\n  }\n`;

/** What is said of code that moved, by file. */
function said(files: Record<string, [old: string, next: string]>): Record<string, [says: string, line: number | null]> {
  const texts = Object.fromEntries(Object.entries(files).map(([path, [old, next]]) => [path, { old, next }]));
  return Object.fromEntries(
    readTexts(texts, parse).files.flatMap(({ path, cautions }) =>
      cautions
        .filter(({ kind }) => kind === "moved-code")
        .map(({ says, line }) => [path, [says.slice(0, says.indexOf(". ") + 1) || says, line]]),
    ),
  );
}

describe("code that another function runs now, and nothing is to read of it", () => {
  it("is told where it went, and where", () => {
    const old = handle(`${GUARD}\n`) + unused("");
    expect(said({ "a.js": [old, handle("") + unused(`${GUARD}\n`)] })).toEqual({
      "a.js": ["Code went from “handle” to “unused”.", 3],
    });
  });

  it("is told where only the one that it came into has nothing to read", () => {
    const next = handle("  note(request);\n") + unused(`${GUARD}\n`);
    expect(said({ "a.js": [handle(`${GUARD}\n`) + unused(""), next] })).toEqual({
      "a.js": ["Code went from “handle” to “unused”.", 8],
    });
  });

  it("is told also where nothing but a comment or an empty line is to read beside it", () => {
    const next = handle("  // tidy\n\n") + unused(`  /* tidy */\n${GUARD}\n`);
    expect(said({ "a.js": [handle(`${GUARD}\n`) + unused(""), next] })["a.js"][0]).toBe(
      "Code went from “handle” to “unused”.",
    );
  });

  it("is not told where a line is to read at both", () => {
    const next = `${handle("  check(request);\n")}async function check(request) {\n${GUARD}\n}\n`;
    expect(said({ "a.js": [handle(`${GUARD}\n`), next] })).toEqual({});
  });

  it("is told at both ends where they lie in two files", () => {
    const files = { "a.js": [handle(`${GUARD}\n`), handle("")], "b.js": [unused(""), unused(`${GUARD}\n`)] } as const;
    expect(said({ "a.js": [...files["a.js"]], "b.js": [...files["b.js"]] })).toEqual({
      "a.js": ["Code went from “handle” to “unused” of b.js.", 3],
      "b.js": ["Code went from “handle” of a.js to “unused”.", 3],
    });
  });

  it.each<[string, string, string]>([
    [
      "py",
      "what a decorator makes of it",
      "@app.before\ndef check(request):\n    limit(request)\n    signed(request)\n",
    ],
    [
      "js",
      "what is run with a class",
      "class Check {\n  static {\n    limit();\n    signed();\n    allowed();\n  }\n}\n",
    ],
    ["ts", "what a call gives", "const check = guard(() => {\n  limit();\n  signed();\n});\n"],
    ["java", "what an annotation is looked for", "@Filter\nclass Check {\n  void check() {\n    limit();\n  }\n}\n"],
    [
      "c",
      "what is run when the program is loaded",
      "static void __attribute__((constructor)) check(void) {\n  limit(REQUEST);\n  signed_by(REQUEST);\n  allowed(REQUEST);\n}\n",
    ],
    [
      "cpp",
      "the same",
      "[[gnu::constructor]] void check() {\n  limit(REQUEST);\n  signed_by(REQUEST);\n  allowed(REQUEST);\n}\n",
    ],
    [
      "rs",
      "what an attribute makes of it",
      "#[inline]\n#[before_each(request)]\n// first\nfn check(request: Request) {\n    limit(request);\n    signed(request);\n}\n",
    ],
    ["cs", "the same", "[Filter]\nclass Check {\n  void Run() {\n    Limit();\n  }\n}\n"],
  ])("is told of a definition of %s that does something by being there: %s", (ending, _, check) => {
    const files = (path: string): Record<string, [string, string]> => ({
      [path]: [check, ""],
      [`test/${path}`]: ["", check],
    });
    expect(Object.keys(said(files(`a.${ending}`)))).toEqual([`a.${ending}`, `test/a.${ending}`]);
  });

  it.each<[string, string]>([
    ["py", "class Check(Base):\n    limit = 3\n\n    def check(self):\n        signed(self)\n"],
    ["js", "export class Check extends Base {\n  limit = 3;\n  check() {\n    signed();\n  }\n}\n"],
    ["java", "class Check {\n  void check() {\n    limit();\n    signed();\n  }\n}\n"],
    ["rs", "#[inline]\nfn check(request: Request) {\n    limit(request);\n    signed(request);\n}\n"],
    ["c", "static void __attribute__((unused)) check(void) {\n  limit(REQUEST);\n  signed_by(REQUEST);\n}\n"],
  ])("is not told of one of %s that waits to be used", (ending, check) => {
    expect(said({ [`a.${ending}`]: [check, ""], [`b.${ending}`]: ["", check] })).toEqual({});
  });

  it("is told of the end that has no line any more", () => {
    const files = { "a.js": [GUARD, ""], "b.js": [unused(""), unused(`${GUARD}\n`)] } as const;
    expect(said({ "a.js": [`${files["a.js"][0]}\n`, ""], "b.js": [...files["b.js"]] })).toEqual({
      "a.js": ["Code went from this file to “unused” of b.js.", null],
      "b.js": ["Code went from a.js to “unused”.", 3],
    });
  });

  it("is told of a method that is another class’s now, and not of a function that is in another file", () => {
    const [a, b] = [
      (body: string) => `class A extends Base {\n${body}}\n`,
      (body: string) => `class B {\n  goOne() {}\n  goTwo() {}\n  goThree() {}\n${body}}\n`,
    ];
    expect(said({ "a.js": [a(method) + b(""), a("") + b(method)] })).toEqual({
      "a.js": ["Code went from “A” to “B”.", 2],
    });
    const whole = handle(`${GUARD}\n`);
    expect(said({ "a.js": [`${whole}one();\n`, "one();\n"], "b.js": ["two();\n", `two();\n${whole}`] })).toEqual({});
  });

  it("is not told of a function that has another name, or was put around what it ran", () => {
    const long = `${GUARD}\n${GUARD.replaceAll("found", "known")}\n`;
    const next = handle(long).replace("handle", "handleIt");
    expect(said({ "a.js": [handle(long), next] })).toEqual({});
    expect(said({ "a.js": [GUARD, `function around() {\n${GUARD.replaceAll(/^/gm, "  ")}\n}\n`] })).toEqual({});
  });

  it("is told shortly of many", () => {
    const part = (n: number, body: string) => handle(body).replace("handle", `handle${n}`);
    const own = (n: number) => `${GUARD.replaceAll("found", `found${n}`)}\n`;
    const numbers = [1, 2, 3, 4, 5];
    const old = numbers.map((n) => part(n, own(n))).join("") + unused("");
    const next = numbers.map((n) => part(n, "")).join("") + unused(numbers.map(own).join(""));
    expect(said({ "a.js": [old, next] })["a.js"]).toEqual([
      "Code went from “handle1” to “unused”; from “handle2” to “unused”; from “handle3” to “unused”; 2 more.",
      3,
    ]);
  });

  it("is told of a definition that went to another file, and whose name is used on", () => {
    const check = `def check(request):\n${["found", "token", "person"].map((name) => `    assert_${name}_of(request, ${name})\n`).join("")}\n`;
    const rest = "from lax import *\n\ndef handle(request):\n    check(request)\n";
    const away = (next: string) => said({ "a.py": [check + rest, next], "b.py": ["one()\n", `one()\n\n${check}`] });
    expect(away(rest)).toEqual({
      "a.py": ["“check” went to b.py, and lines that did not change use it on: look what they mean by it now.", 4],
    });
    // Where a line says where it comes from, that is to read; not where it is only spoken of.
    expect(away(`from b import check\n${rest}`)).toEqual({});
    for (const line of ['note = "check"', "# check", "one()  # check"])
      expect(away(`${line}\n${rest}`)["a.py"][0]).toContain("“check” went to b.py");
    const other = (line: string) => rest.replace("    check(request)", `    ${line}`);
    // What is another’s own is no use of it.
    for (const line of ["request.check()", "# check it", "checked(request)", 'one("check")'])
      expect(said({ "a.py": [check + other(line), other(line)], "b.py": ["one()\n", `one()\n\n${check}`] })).toEqual(
        {},
      );
  });

  it("is not told of what is seen in its folder, or everywhere", () => {
    const check = `func check(r Request) {\n${[1, 2, 3].map((n) => `\tassertBerthIsFree(r, ${n})\n`).join("")}}\n`;
    const rest = "func handle(r Request) {\n\tcheck(r)\n}\n";
    const files = (to: string) => ({
      "plan/a.go": ["package plan\n\n" + check + rest, "package plan\n\n" + rest] as [string, string],
      [to]: ["package plan\n", "package plan\n\n" + check] as [string, string],
    });
    expect(said(files("plan/b.go"))).toEqual({});
    expect(said(files("tide/b.go"))["plan/a.go"][0]).toContain("“check” went to tide/b.go");
  });
});
