import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars, parseWhole } from "@/server/workers/grammars/grammars";
import { type LanguageId, languageById } from "../grammar/languages";
import { definitionsIn } from "./definitions";

beforeAll(async () => {
  await allGrammars();
});

const read = (language: LanguageId, text: string) => definitionsIn(parseWhole(languageById(language), text)!);
/** Each as `kind within/name`, with `~` where it is known in a part of the file only. */
const defined = (language: LanguageId, text: string) =>
  read(language, text)
    .map(({ kind, name, within, scope }) => `${scope ? "~" : ""}${kind} ${[...within, name].join("/")}`)
    .join(", ");

describe("what a text defines", () => {
  const CASES: [LanguageId, string, string][] = [
    [
      "typescript",
      "export const a = (x: number, y = 2) => x; class B extends C { f = 1; get g(): string { return this.f } }",
      "function a, ~parameter a/x, ~parameter a/y, type B, field B/f, function B/g",
    ],
    [
      "typescript",
      "interface I { p: string; m(): void } enum E { A = 1, Q } type T = {k: 1}; const {q, r: s} = z; namespace N {}",
      "type I, field I/p, function I/m, type E, field E/A, field E/Q, type T, field T/k, constant q, constant s, module N",
    ],
    [
      "typescript",
      "function a() { for (const hold of holds) go(hold); try { b(); } catch (error) {} }",
      "function a, ~constant a/hold, ~constant a/error",
    ],
    ["python", "def a():\n  for hold in holds:\n    pass\n", "function a, ~constant a/hold"],
    [
      "go",
      "package p\nfunc a() { for i, hold := range holds { b(i, hold) } }",
      "function a, ~constant a/i, ~constant a/hold",
    ],
    ["java", "class A { void a() { for (Hold hold : holds) {} } }", "type A, function A/a, ~constant A/a/hold"],
    ["typescript", "function fn({u}: V) { const w = 1 }", "function fn, ~parameter fn/u, ~constant fn/w"],
    [
      "tsx",
      "export function Card({ title }: Props) { return <b>{title}</b>; }",
      "function Card, ~parameter Card/title",
    ],
    [
      "javascript",
      "const f = function (a, [b]) {}; class A { #p = 1; m(z) { this.t = 1 } }; x => x;",
      "function f, ~parameter f/a, ~parameter f/b, type A, field A/#p, function A/m, ~parameter A/m/z, field A/t, ~parameter x",
    ],
    [
      "python",
      "X = 1\nX = 2\nclass A(B):\n  y: int = 2\n  def f(self, b=1, *c):\n    self.z = b\n    w = 2\n",
      "constant X, type A, field A/y, function A/f, ~parameter A/f/self, ~parameter A/f/b, ~parameter A/f/c, field A/z, ~constant A/f/w",
    ],
    [
      "go",
      "package p\ntype S struct { F int }\nvar V, W int\nfunc (s *S) M(a int) error { x := 1; return nil }\ntype I interface { N() }",
      "type S, field S/F, constant V, constant W, ~parameter M/s, function M, ~parameter M/a, ~constant M/x, type I, function I/N",
    ],
    [
      "cpp",
      "#define M 1\nstruct S { int f; };\nint A::h(int x) { int y = 1; }\nenum E { P };\nusing U = int; Foo bar(Baz q) {}",
      "constant M, type S, field S/f, function h, ~parameter h/x, ~constant h/y, type E, field E/P, type U, function bar, ~parameter bar/q",
    ],
    [
      "c",
      "typedef int T; static const int K = 2; char *s; int pr(int a);",
      "type T, constant K, constant s, constant pr, ~parameter pr/a",
    ],
    [
      "java",
      "class A extends B { private Foo f = g(); Foo m(int a) { int x = 1; return f.h(); } enum E { P } }",
      "type A, field A/f, function A/m, ~parameter A/m/a, ~constant A/m/x, type A/E, field A/E/P",
    ],
    [
      "rust",
      "struct S { f: i32 } impl S { fn m(&self, a: T) { let x = 1; } } const C: i32 = 1; enum E { P } mod n {}",
      "type S, field S/f, function S/m, ~parameter S/m/a, ~constant S/m/x, constant C, type E, field E/P, module n",
    ],
    [
      "ruby",
      "class A\n X = 1\n def f(a, b = 1)\n  w = 2\n end\n def self.g; end\nend\nmodule M; end",
      "type A, field A/X, function A/f, ~parameter A/f/a, ~parameter A/f/b, ~constant A/f/w, function A/g, module M",
    ],
    [
      "php",
      "<?php class A { const K = 1; public $f = 2; function m($a) { return $this->f; } } function g() {}",
      "type A, field A/K, field A/f, function A/m, ~parameter A/m/a, function g",
    ],
    [
      "csharp",
      "namespace N { class A { int f = 1; public string P { get; } void M(int a) { var x = 1; } } }",
      "module N, type N/A, field N/A/f, field N/A/P, function N/A/M, ~parameter N/A/M/a, ~constant N/A/M/x",
    ],
    ["bash", "f() { local x=1; }\nY=2\n", "function f, ~constant f/x, constant Y"],
    ["css", ".berth { color: red; } #quay {}", "key berth, key quay"],
    ["json", '{"a": {"b": 1}, "c": []}', "key a, key a/b, key c"],
    ["yaml", "a:\n  b: 1\nc: 2\n", "key a, key a/b, key c"],
    ["toml", "[t]\na = 1\n", "key t, key t/a"],
  ];
  for (const [language, text, expected] of CASES)
    it(`in ${language}: ${text.slice(0, 60).replaceAll("\n", " ")}`, () =>
      expect(defined(language, text)).toBe(expected));

  it("stands where its name does, from its head to its end, with what others depend on", () => {
    const text = "import x from 'y';\n\nexport function hold(\n  slot: Slot,\n): Berth {\n  return x(slot);\n}\n";
    const [hold, slot] = read("typescript", text);
    expect(hold).toMatchObject({ name: "hold", line: 2, column: 16, start: 2, end: 7, within: [], scope: null });
    expect(hold.signature).toBe("function hold( slot: Slot, ): Berth");
    expect(slot.scope).toEqual({ start: 2, end: 7 });
    expect(read("typescript", "export const LIMIT = 12;")[0].signature).toBe("LIMIT = 12");
  });

  it("is found around an error, and in any text without an end", () => {
    expect(defined("typescript", "function a() {}\nlet = = (;\nfunction b() {}\n")).toContain("function b");
    const deep = `${"(".repeat(20_000)}`;
    expect(() => read("typescript", deep)).not.toThrow();
    expect(() => read("json", "[".repeat(20_000))).not.toThrow();
  });

  it("costs as much as the text is long, however it nests", () => {
    const loop = Array.from({ length: 8_000 }, (_, n) => `function f${n}(a) { const b${n} = a; }`).join("\n");
    expect(read("javascript", `for (;;) {\n${loop}\n}`)).toHaveLength(24_000);
    const nested = (head: string, depth: number, tail: string) => `${head.repeat(depth)}1${tail.repeat(depth)}`;
    expect(read("javascript", `const o = ${nested("{ a: ", 2_000, " }")};`).length).toBeGreaterThan(1);
    const arrows = read("javascript", `const o = ${nested("(x) => { const y = ", 1_500, "; }")};`);
    expect(Math.max(...arrows.map(({ within }) => within.length))).toBeLessThanOrEqual(20);
    expect(read("json", nested('{"a":', 3_000, "}")).length).toBeGreaterThan(1_000);
  });
});
