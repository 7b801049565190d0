import { describe, expect, it } from "vitest";
import { readTexts } from "../quiet/read-texts";

/** The lines, 1-based, at which a caution says that the language reads a text otherwise, where some were added to one. */
function lines(path: string, added: string, old = "a\n"): (number | null)[] {
  const reading = readTexts({ [path]: { old, next: `${old}${added}` } }, () => null);
  return reading.files[0].cautions.filter(({ kind }) => kind === "reads-otherwise").map(({ line }) => line);
}

describe("what a language reads otherwise than it looks", () => {
  it.each<[string, string, string]>([
    ["a.c", "a comment that takes in the check", "// see C:\\tmp\\\ncheck();\n"],
    ["a.c", "the same, with a space behind the backslash", "// see C:\\tmp\\ \ncheck();\n"],
    ["a.h", "the same, by the three signs that stand for a backslash", "// why??/\ncheck();\n"],
    ["a.cpp", "behind code", 'go("x"); // see C:\\\ncheck();\n'],
    ["Makefile", "a comment that takes in a recipe", "# see \\\ncheck:\n"],
    ["deploy.sh", "a command that ends before its second line", "serve \\ \n  --read-only\n"],
    ["Containerfile", "the same", "RUN serve \\\t\n  --read-only\n"],
    ["deploy", "the same, of a script without an ending", "serve \\ \n  --read-only\n"],
    ["a.ps1", "the same, behind a backtick", "serve ` \n  -ReadOnly\n"],
    ["a.js", "a letter of a name", "window.ev\\u0061l(text);\n"],
    ["a.ts", "the first letter of a name", "\\u0065val(text);\n"],
    ["a.cs", "a letter in braces", "ev\\u{61}l(text);\n"],
    ["a.cs", "the first letter, in eight digits", "\\U00000065val(text);\n"],
    ["A.java", "the end of a comment within it", "// a \\u000a evil();\n"],
    ["A.java", "the same, with more letters and another case", "// a \\uuu000D evil();\n"],
    ["A.java", "the end of a text within it", 'a = "\\u0022+evil()+\\u0022";\n'],
    ["a.php", "code behind the comment", "a(); // fine ?><?php evil();\n"],
    ["a.php", "the same", "  # fine ?> evil\n"],
    ["a.sql", "a comment that is run", "/*!50000 drop table berths */\n"],
  ])("is said of %s: %s", (path, _, added) => {
    expect(lines(path, added)).toEqual([2]);
  });

  it.each<[string, string, string]>([
    ["a.c", "a comment under another", "// a \\\n// b\n"],
    ["a.c", "the end of a comment", "// a \\\n\ncheck();\n"],
    ["a.c", "a macro of several lines", '#define URL "https://harbour.example" \\\n  b\n'],
    ["a.js", "a language in which a comment ends with its line", "// a \\\ncheck();\n"],
    ["deploy.sh", "a command that goes on", "serve \\\n  --read-only\n"],
    ["deploy.sh", "a space that is an argument", "serve \\ \n"],
    ["a.md", "prose", "a \\ \nb\n"],
    [
      "a.js",
      "escapes for letters of other scripts, and a range of letters",
      'a = "caf\\u00e9\\u2028"; b = /[\\u0041-\\u005a]/;\n',
    ],
    ["a.js", "a backslash before a word", 'a = "c:\\\\u0061b";\n'],
    ["A.java", "an escape for a sign that is on no keyboard", 'a = "\\u00e9\\u001b";\n'],
    ["A.java", "a backslash before a word", 'a = "\\\\u000a";\n'],
    ["a.phtml", "a link beside code", '<a href="#top"><?= $a ?></a>\n'],
    ["a.php", "the end of the code", "# fine ?>\n"],
    ["a.sql", "a comment", "/* ! */\n"],
    ["a.py", "a text of the usual signs", "# coding: utf-8\n"],
  ])("is not said of %s: %s", (path, _, added) => {
    expect(lines(path, added)).toEqual([]);
  });

  it("is said of a line that came in below such a comment, and of one above which it came in", () => {
    expect(lines("a.c", "check();\n", "// a \\\n")).toEqual([1]);
    const between = { old: "a\nb();\n", next: "a\n// c \\\nb();\n" };
    expect(readTexts({ "a.c": between }, () => null).files[0].cautions.map(({ line }) => line)).toEqual([2]);
  });

  it("is said of any change of a text whose signs mean others", () => {
    expect(lines("a.py", "# \\x0aimport evil\n", "#!/usr/bin/python3\n# -*- coding: unicode_escape -*-\n")).toEqual([
      2,
    ]);
    expect(lines("a.py", "b = 1\n", "#\n#\n# coding: utf-7\n")).toEqual([]);
  });

  it("is found at once in lines that were made to be looked at for long", () => {
    const long = ["// ".repeat(6_600), `${"\\".repeat(20_000)}`, `;${" ".repeat(20_000)}`, `\\${"u".repeat(20_000)}`];
    const added = `${long.flatMap((line) => Array.from({ length: 20 }, () => `${line} \\`)).join("\n")}\n`;
    for (const path of ["a.c", "A.java", "a.php", "a.sh", "Makefile"])
      expect(lines(path, added).length).toBeLessThan(2);
  });
});
