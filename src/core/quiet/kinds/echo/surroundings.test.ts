import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import { Enclosing } from "../../../diff/scopes";
import type { Parse } from "../../../grammar/parse";
import { readTexts } from "../../read-texts";
import { Surroundings } from "./surroundings";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

/** A function from which a guard goes, far from its head and its end; indented as its language has it. */
const check = (guard: string) =>
  ["one", "two", "three", "four", guard, "five", "six", "seven"]
    .filter((call) => call !== "")
    .map((call) => `  ${call}(request);\n`)
    .join("");
/** What is to be read where the same guard goes from one file in one setting, and from another of its name in another. */
const read = (ending: string, one: (body: string) => string, other: (body: string) => string) =>
  readTexts(
    Object.fromEntries(
      [one, other].map((of, n) => [`part${n}/check.${ending}`, { old: of(check("guard")), next: of(check("")) }]),
    ),
    parse,
  ).toRead;

const rust = (body: string) => `pub fn check(request: &Request) {\n${body}}\n`;
const python = (body: string) => `def check(request):\n${body.replaceAll(";", "")}`;
const script = (body: string) => `function check(request) {\n${body}}\n`;
const plain = (body: string) => `void check(Request request) {\n${body}}\n`;

describe("where the same lines stand", () => {
  it.each<[string, string, (body: string) => string, (body: string) => string]>([
    ["rs", "an attribute", (body) => `#[cfg(test)]\n${rust(body)}`, rust],
    ["py", "a decorator", (body) => `@tried\n${python(body)}`, (body) => `@routed("/hold")\n${python(body)}`],
    [
      "py",
      "one of several lines, the first of which differs",
      (body) => `@routed(\n    "/test",\n    "GET",\n)\n${python(body)}`,
      (body) => `@routed(\n    "/hold",\n    "GET",\n)\n${python(body)}`,
    ],
    [
      "java",
      "an annotation of the class around it",
      (body) => `@Tried\nclass A {\n${plain(body)}}\n`,
      (body) => `@Routed\nclass A {\n${plain(body)}}\n`,
    ],
    [
      "py",
      "a decorator behind a comment and an empty line",
      (body) => `@tried\n# why\n\n${python(body)}`,
      (body) => `@routed\n# why\n\n${python(body)}`,
    ],
    [
      "cpp",
      "what stands before its name",
      (body) => `template <class Tried>\n${plain(body)}`,
      (body) => `template <class Used>\n${plain(body)}`,
    ],
    [
      "js",
      "a function that nobody calls, not indented, behind others",
      (body) => `${"go();\n".repeat(20)}function tried() {\n${script(body)}}\n`,
      (body) => `${"go();\n".repeat(20)}${script(body)}`,
    ],
    ["kt", "an annotation, without a grammar", (body) => `@Tried\n${plain(body)}`, (body) => `@Routed\n${plain(body)}`],
    ["swift", "a condition, without a grammar", (body) => `#if DEBUG\n${plain(body)}#endif\n`, plain],
    ["cs", "an attribute", (body) => `class A {\n[Tried]\n${plain(body)}}\n`, (body) => `class A {\n${plain(body)}}\n`],
    ["c", "a condition", (body) => `#ifdef TRIED\n${plain(body)}#endif\n`, plain],
    [
      "c",
      "the other branch of a condition",
      (body) => `#if SAFE\nint a;\n#else\n${plain(body)}#endif\n`,
      (body) => `#if SAFE\n${plain(body)}#endif\n`,
    ],
    ["js", "a block that nothing enters, not indented", (body) => `if (false) {\n${script(body)}}\ngo();\n`, script],
    [
      "cpp",
      "a namespace, not indented",
      (body) => `namespace tried {\n${plain(body)}}\n`,
      (body) => `namespace used {\n${plain(body)}}\n`,
    ],
  ])("is told in %s by %s: each is to be read", (ending, _, one, other) => {
    expect(read(ending, one, other)).toBe(2);
    expect(read(ending, one, one)).toBe(1);
  });

  it("is not told by the function that a build puts around a whole file, nor by what is quoted", () => {
    const wrapped = (body: string) => `(function (root) {\n"use strict";\n${script(body)}})(this);\n`;
    expect(read("js", wrapped, script)).toBe(1);
    const quoting = (body: string) => `say("it's {", '(', "\\"[");\n${script(body)}`;
    expect(read("js", quoting, script)).toBe(1);
  });

  it("is not told by a comment that begins like a condition", () => {
    const said = (body: string) => `# if it is low\n${python(body)}`;
    expect(
      read(
        "py",
        (body) => `${said(body)}\n`,
        (body) => `# elif it is high\n\n${python(body)}\n`,
      ),
    ).toBe(1);
  });

  it("is not told where more is open than anyone writes", () => {
    const deep = (lines: number) => {
      const text = [..."(".repeat(lines), "go();"];
      return new Surroundings(text, new Enclosing(text), true).of(lines);
    };
    expect(deep(150)).toHaveLength(150);
    expect(deep(50_000)).toBeNull();
    const marked = ["@a", ...Array.from({ length: 5_000 }, () => "@b"), "def f():", "    go()"];
    expect(new Surroundings(marked, new Enclosing(marked), false).of(marked.length - 1)).toBeNull();
  });

  it("is told alike whatever was asked before", () => {
    const line = fc.constantFrom("a {", "  b(", "}", "  )", "c", "    d", "", '"{"', "#if X", "#endif", "@e");
    const asked = fc.array(fc.nat({ max: 14 }), { minLength: 1, maxLength: 20 });
    fc.assert(
      fc.property(fc.array(line, { minLength: 15, maxLength: 15 }), asked, (lines, places) => {
        const enclosing = new Enclosing(lines);
        const often = new Surroundings(lines, enclosing, true);
        for (const place of places)
          expect(often.of(place)).toEqual(new Surroundings(lines, new Enclosing(lines), true).of(place));
      }),
    );
  });

  it("holds all heads, and is as in a text with anything closed before it", () => {
    const line = fc.constantFrom("a {", "  b(", "}", "  )", "c", "  d", "", '"{"', "#if X", "#endif", "@e", "[f]");
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 20 }), (lines) => {
        const enclosing = new Enclosing(lines);
        const own = new Surroundings(lines, enclosing, true);
        const before = ["x {", "  y();", "}", ""];
        const whole = [...before, ...lines];
        const later = new Surroundings(whole, new Enclosing(whole), true);
        for (const at of lines.keys()) {
          const found = own.of(at)!;
          expect(found).toEqual(expect.arrayContaining([...enclosing.heads(at)]));
          if (lines[at].trim() !== "")
            expect(later.of(at + before.length)!.filter((one) => one >= before.length)).toEqual(
              found.map((one) => one + before.length),
            );
        }
      }),
    );
  });
});
