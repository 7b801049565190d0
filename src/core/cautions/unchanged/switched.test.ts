import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import { diffLines } from "../../diff/lines";
import type { Parse } from "../../grammar/parse";
import { ClassedFile } from "../../quiet/classes";
import { textFrom } from "../../quiet/places";
import { many, switchedIn } from "../testing/switched-in";
import { switchedLines } from "./switched";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const said = (path: string, old: string, next: string) => switchedIn(parse, path, old, next);
const CHECKS = many("check(#);\n");

describe("lines that did not change, and are something else now", () => {
  it.each<[path: string, what: string, old: string, next: string]>([
    ["a.js", "a comment", "// a\n#go();\n", "/* a\n#*/\n"],
    ["a.js", "a comment", 'log("*/");\n#go();\n', 'log("*/"); /*\n#*/\n'],
    ["a.js", "a text", "go();\n#go();\n", "go(`\n#`);\n"],
    ["a.js", "a text", "/`/.test(a);\n#go();\n", "/`/.test(`\n#`);\n"],
    ["a.go", "a comment", "package a\n\nfunc f() {\n// a\n#end();\n}\n", "package a\n\nfunc f() {\n/* a\n#*/\n}\n"],
    [
      "A.java",
      "a text",
      'class A {\nvoid f() {\ngo("");\n#go();\n}\n}\n',
      'class A {\nvoid f() {\ngo("""\n#""");\n}\n}\n',
    ],
    ["a.css", "a comment", ".a {}\n#.b {}\n", "/* .a {}\n#*/\n"],
    ["a.rs", "a text", 'fn f() {\ngo("");\n#go();\n}\n', 'fn f() {\ngo("\n#");\n}\n'],
    ["a.rb", "a comment", "go\n#go\n", "=begin\n#=end\n"],
    ["a.rb", "a text", "go\n#go\n", "go\n__END__\n#go\n"],
    ["a.rb", "a text", "go\n#go\n", "go <<EOF\n#EOF\n"],
    ["a.php", "a text", "<?php\ngo();\n#go();\n", "<?php\n?>\n#<?php\n"],
    ["a.sh", "a text", "go\n#go\n", "go <<EOF\n#EOF\n"],
    ["a.sql", "a comment", "-- a\n#go();\n", "/* a\n#*/\n"],
    ["a.html", "a comment", "<p>\n#<b>\n", "<!--\n#-->\n"],
    ["a.lua", "a comment", "go()\n#go()\n", "--[[\n#]]\n"],
    ["a.py", "a text", "go()\n#go()\n", 'go("""\n#""")\n'],
  ])("in %s: %s", (path, what, before, after) => {
    const checks = many(LINES[path] ?? "check(#);\n");
    const [old, next] = [before.replace("#", checks), after.replace("#", checks)];
    const [[says, line]] = said(path, old, next);
    expect(says).toMatch(new RegExp(`^1[1-3] unchanged lines are in ${what} now`));
    const first = next.slice(0, next.indexOf(checks)).split("\n").length;
    expect([first, first + 1]).toContain(line);
    // And back again.
    const [[back]] = said(path, next, old);
    expect(back).toMatch(new RegExp(`^1[1-3] unchanged lines are code now, and stood in ${what}`));
  });

  it("says which line is the first, and counts no empty ones", () => {
    expect(said("a.ts", `a();\n\n${CHECKS}b();\n`, `/* a();\n\n${CHECKS}b(); */\n`)).toEqual([
      ["12 unchanged lines are in a comment now: what changed above begins it.", 3],
    ]);
  });

  it("goes by the look of comments where the grammar does not read a text", () => {
    const broken = "a b c ???\n";
    expect(said("a.ts", `${broken}a();\n${CHECKS}b();\n`, `${broken}/* a();\n${CHECKS}b(); */\n`)).toEqual([
      ["12 unchanged lines are in a comment now: what changed above begins it.", 3],
    ]);
    expect(said("a.ts", `${broken}a();\n${CHECKS}b();\n`, `${broken}a("/*");\n${CHECKS}b(); /* c */\n`)).toEqual([]);
  });

  it.each<[string, string, string, string]>([
    ["a.ts", "a comment of its own", "a();\n", "/** Says `a`, or\n * `b`. */\na();\n"],
    ["a.ts", "a text in backticks", "a();\n", "a(`b` + `c`);\n"],
    ["a.ts", "a whole text of several lines", "a();\n", "a(`\n  b\n`);\n"],
    ["a.py", "a function with a text about it", "a()\n", 'def b():\n    """Says b.\n\n    More.\n    """\n\n\na()\n'],
    ["a.gradle", "a pattern of files in quotes", "a()\n", 'a("src/*.kt")\n'],
    ["a.scss", "a whole comment", ".a {}\n", "/* a\n * b */ .a {}\n"],
    ["a.rb", "an apostrophe in a comment", "a\n", "# don't\na\n"],
    ["a.tsx", "marks around it", "a();\n", "a(<p>b</p>);\n"],
  ])("says nothing of %s: %s", (path, _, old, next) => {
    expect(said(path, old + CHECKS, next + CHECKS)).toEqual([]);
  });

  it("says under which condition of a preprocessor they stand", () => {
    const [before, after] = [`int a;\n${CHECKS}int b;\n`, `#ifdef TRIAL\n${CHECKS}#endif\n`];
    expect(said("a.c", before, after)).toEqual([
      ["12 unchanged lines stand under another condition now: #ifdef TRIAL.", 2],
    ]);
    expect(said("a.c", after, before)).toEqual([["12 unchanged lines stand under a condition no more.", 2]]);
    expect(said("a.c", after, after.replace("TRIAL", "ALWAYS"))).toHaveLength(1);
    // What keeps a header from being taken in twice is none.
    expect(said("a.h", CHECKS, `#ifndef A_H\n#define A_H\n${CHECKS}#endif\n`)).toEqual([]);
  });

  it("misses none, whatever was put where", () => {
    const line = fc.constantFrom(
      ...[
        "check(1);",
        "/*",
        "*/",
        "/* a */",
        " * `b`",
        "// `",
        "go(`",
        "`);",
        "go(`a ${b} c`);",
        'log("/*");',
        "log('`');",
      ],
      ...[
        "/`/.test(a);",
        'go("it`s", `"`);',
        "/** a",
        " */",
        "// */ `a`",
        "{",
        "}",
        "",
        "log(`/*`);",
        "a = b / c; // `d`",
        "*/ `",
      ],
    );
    let switched = 0;
    fc.assert(
      fc.property(
        fc.array(line, { minLength: 2, maxLength: 12 }),
        fc.nat(),
        fc.array(line, { maxLength: 3 }),
        (old, at, put) => {
          const next = old.toSpliced(at % old.length, put.length > 2 ? 1 : 0, ...put);
          const file = new ClassedFile("a.js", old, next, diffLines(old, next), parse);
          const whole = file.detailed();
          if (!whole) return;
          const isText = (n: number, m: number) => [textFrom(whole.old, n) >= 0, textFrom(whole.next, m) >= 0];
          const differs = file.hunks.some(({ oldEnd, newEnd }, n) => {
            const size = (file.hunks[n + 1]?.newStart ?? next.length) - newEnd;
            return Array.from({ length: size }, (_, k) => k).some((k) => {
              const [was, is] = isText(oldEnd + k, newEnd + k);
              return was !== is && next[newEnd + k].trim() !== "";
            });
          });
          if (differs) switched++;
          expect(switchedLines(file).length > 0).toBe(differs);
        },
      ),
      { numRuns: 6_000, seed: 7 },
    );
    expect(switched).toBeGreaterThan(20);
  });
});

/** A line of code of some languages. */
const LINES: Record<string, string> = { "a.css": ".check# { top: 0 }\n", "a.sh": "check #\n" };
