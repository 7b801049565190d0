import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../../grammar/parse";
import { switchedIn } from "../testing/switched-in";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const said = (path: string, old: string, next: string) => switchedIn(parse, path, old, next);
const script = (...lines: string[]) => `function f(a, b) {\n${lines.map((line) => `  ${line}\n`).join("")}}\n`;
const c = (...lines: string[]) => script(...lines).replace("function", "void");
const java = (...lines: string[]) => `class A {\n${c(...lines).replace("(a, b)", "(B a, B b)")}}\n`;
const php = (...lines: string[]) => `<?php\n${script(...lines).replace("(a, b)", "()")}`;
const rust = (...lines: string[]) =>
  script(...lines)
    .replace("function", "fn")
    .replace("(a, b)", "(a: B, b: B) -> B");

const PART = "1 unchanged line is a part of the statement above now.";
const NONE = "1 unchanged line is no part of the statement above any more.";

describe("an unchanged line below what was put in", () => {
  it.each<[path: string, what: string, old: string, next: string, line: number]>([
    ["a.js", "is called by it", script("go(a);", "(a || b)()"), script("go(a);", "let c = deny", "(a || b)()"), 4],
    [
      "a.ts",
      "is an entry of it",
      script("go(a);", "[a, b].map(go)"),
      script("go(a);", "const c = b", "[a, b].map(go)"),
      4,
    ],
    ["a.js", "is its only statement", script("go(a)", "free(a)"), script("go(a)", "if (b)", "free(a)"), 4],
    [
      "a.js",
      "is what else is done",
      script("if (b) go(a);", "free(a);"),
      script("if (b) go(a);", "else", "free(a);"),
      4,
    ],
    ["a.c", "is given", c("go(a);", "free(a);"), c("if (b)", "  return", "free(a);"), 4],
    ["a.c", "is given, though it looks like a comment", c("go(a);", "*a = b;"), c("go(a);", "return", "*a = b;"), 4],
    ["a.cpp", "is thrown", c("go(a);", "free(a);"), c("if (b)", "  throw", "free(a);"), 4],
    [
      "A.java",
      "is given, behind a comment",
      java("go(a);", "free(a);"),
      java("go(a);", "return // done", "free(a);"),
      5,
    ],
    ["A.cs", "is its only statement", java("go(a);", "free(a);"), java("go(a);", "while (b)", "free(a);"), 5],
    ["a.php", "is given", php("go($a);", "free($a);"), php("go($a);", "return", "free($a);"), 5],
    ["a.rs", "is given", rust("go(a);", "free(a);"), rust("go(a);", "return", "free(a);"), 4],
  ])("in %s %s", (path, _, old, next, line) => {
    expect(said(path, old, next)).toEqual([[PART, line]]);
  });

  it.each<[path: string, what: string, old: string, next: string, line: number]>([
    ["a.js", "a condition", script("if (a)", "  go(a);"), script("if (a);", "  go(a);"), 3],
    ["a.c", "a loop", c("while (a)", "  go(a);"), c("while (a);", "  go(a);"), 3],
    [
      "A.java",
      "another branch",
      java("if (a) free(a);", "else", "  go(a);"),
      java("if (a) free(a);", "else;", "  go(a);"),
      5,
    ],
    ["a.js", "a call", script("go(a)", "[a].map(go)"), script("go(a)", "{", "}", "[a].map(go)"), 5],
  ])("in %s it is no part any more of %s", (path, _, old, next, line) => {
    expect(said(path, old, next)).toEqual([[NONE, line]]);
  });

  it.each<[path: string, what: string, old: string, next: string]>([
    ["a.js", "is indented as what it is", script("if (b) {", "  free(a);", "}"), script("if (b)", "  free(a);")],
    ["a.js", "is put into brackets", script("if (b)", "  free(a);"), script("if (b) {", "  free(a);", "}")],
    ["a.js", "was a part before", script("return a", "  .b()"), script("return b", "  .b()")],
    ["a.js", "begins with what ends all above it", script("go(a)", ";[a].map(go)"), script("go(b)", ";[a].map(go)")],
    ["a.js", "stands behind a statement that is ended", script("go(a);", "(a || b)()"), script("go(b);", "(a || b)()")],
    ["a.js", "stands behind a comment", script("go(a)", "free(a)"), script("go(a)", "// if (b)", "free(a)")],
    ["a.c", "has a label", c("go(a);", "free(a);"), c("go(a);", "out:", "free(a);")],
    ["A.java", "is marked", java("go(a);"), java("go(a);").replace("void", "@Held\nvoid")],
    ["a.ts", "is a class that is marked", "go();\nclass A {}\n", "go();\n@b\nclass A {}\n"],
    ["a.py", "is read by how far it is indented", "go(a)\nfree(a)\n", "go(a)\nx = (\nfree(a)\n)\n"],
  ])("in %s nothing is said where it %s", (path, _, old, next) => {
    expect(said(path, old, next)).toEqual([]);
  });

  it("is counted with others like it", () => {
    const old = script("go(a)", "free(a)", "keep(a)", "free(b)");
    const next = script("if (a)", "free(a)", "keep(a)", "if (b)", "free(b)");
    expect(said("a.js", old, next)).toEqual([["2 unchanged lines are a part of the statement above now.", 3]]);
  });
});
