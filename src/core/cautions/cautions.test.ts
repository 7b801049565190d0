import { readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readTexts } from "../quiet/read-texts";
import { CAUTION_KINDS, type CautionKind } from "./caution";
import { leavesTree } from "./cautions";
import { ODD, oddCharacters } from "./characters";
import { confusable } from "./confusable";
import { visible, visibleWords } from "./visible";

/** The kinds of caution that one added line gives rise to, in a file that has another one. */
function kinds(line: string, path = "a.js", old = "const admin = 1;\n"): CautionKind[] {
  const reading = readTexts({ [path]: { old, next: `${old}${line}\n` } }, () => null);
  return reading.files[0].cautions.map(({ kind }) => kind);
}

describe("cautions", () => {
  it.each<[string, CautionKind[]]>([
    ["const plain = 1; // é, ü and 漢字 are letters", []],
    ["a\u200bb();", ["hidden"]],
    ["const a = 'x\u00adx';", ["hidden"]],
    ["if (x) { /* \u202e } \u2066 if (admin) \u2069 \u2066 */", ["direction"]],
    ["go(); // fine\revil();", ["control"]],
    ["// fine\u2028evil();", ["control"]],
    ["a =\u00a0b;", ["space"]],
    ["a =\u3000b;", ["space"]],
    ["const a = 'x\u2800';", ["space"]],
    ["const a = 'x\ufff0\u{1bca1}\u{13437}';", ["hidden"]],
    ["const x = \u0430dmin;", ["mixed-scripts", "confusable"]],
    ["const \uff41dmin = 1;", ["confusable"]],
    ["if (environment\u01c3=ENV) go();", ["confusable"]],
    ["if (isAdmin\u01c0isOwner) go();", ["confusable"]],
    ["if (user\ua4f8isAdmin) go();", ["mixed-scripts"]],
    ["const \ua4e1bc = 1;", ["mixed-scripts"]],
    ["// HTML\u30ce\u30fc\u30c9, \u05d5HTML, \u02bbokina, Web\u30b5\u30a4\u30c8, \u5341x", []],
    ["go('https://quay.example@elsewhere.example');", ["confusable"]],
    ["// see https://quay.example/@person", []],
    [`go();${" ".repeat(80)}evil();`, ["pushed-aside"]],
    [`go();${"\t".repeat(20)}evil();`, ["pushed-aside"]],
    [`${" ".repeat(80)}deep();`, []],
    // Nothing of it is seen: it looks like an empty line.
    [`${" ".repeat(100)}evil();`, ["pushed-aside"]],
    [`${"\t".repeat(25)}evil();`, ["pushed-aside"]],
    [`${" ".repeat(300)}\r`, []],
    [`go();${" ".repeat(80)}`, []],
    [`x("${"y".repeat(3_000)}");`, ["long-lines"]],
  ])("are given for %j", (line, expected) => {
    expect(kinds(line)).toEqual(expected);
  });

  it("miss no sign of Unicode that is drawn as nothing, or as a space", () => {
    const unseen = /[\p{Default_Ignorable_Code_Point}\p{Cc}\p{Cf}\p{Zs}\p{Zl}\p{Zp}]/u;
    // What stands around the figures that follow is drawn.
    const drawn = /[\t\n \u0600-\u0605\u06dd\u070f\u0890\u0891\u08e2\u{110bd}\u{110cd}]/u;
    const missed: string[] = [];
    for (let code = 0; code <= 0x10ffff; code++) {
      const sign = String.fromCodePoint(code);
      if (unseen.test(sign) && !drawn.test(sign) && !ODD.test(sign)) missed.push(code.toString(16));
    }
    expect(missed).toEqual([]);
  });

  it("are of the kinds that the document for programs tells of", () => {
    const schema = readFileSync(join(process.cwd(), "docs/reading.schema.json"), "utf8");
    expect(schema).toContain(`"enum": ${JSON.stringify(CAUTION_KINDS).replaceAll(",", ", ")}`);
  });

  it("are given for a name that is replaced by one that looks alike", () => {
    const reading = readTexts(
      { "a.js": { old: "pay(account1, total);\n", next: "pay(accountl, total);\n" } },
      () => null,
    );
    expect(reading.files[0].cautions.map(({ kind, line }) => [kind, line])).toEqual([["confusable", 1]]);
  });

  it.each([
    ["a /b.txt", /begins or ends with a space/],
    ["a./b.txt", /ends with a dot/],
    ["\u05d0/12/\u05d1.txt", /shown in another order/],
    ["a:b.txt", /part folders or drives/],
    ["aux.txt", /one of a device/],
    ["secret~1.txt", /looks like the short one/],
  ])("are given for a file that came with the name %j", (path, says) => {
    const said = (old: string | null) =>
      readTexts({ [path]: { old, next: "b\n" } }, () => null).files[0].cautions.filter(({ kind }) => kind === "name");
    expect(said(null).map((caution) => caution.says)).toEqual([expect.stringMatching(says)]);
    // What was called so before is known to be.
    expect(said("a\n")).toEqual([]);
  });

  it("are given for a name that is there already, written in other signs", () => {
    const said = (old: string, next: string) =>
      readTexts({ "a.js": { old, next } }, () => null).files[0].cautions.map(({ says }) => says);
    const [one, two] = ["caf\u00e9", "cafe\u0301"];
    expect(said(`const ${one} = 1;\n`, `const ${one} = 1;\nconst ${two} = 2;\n`)).toEqual([
      `Names that look the same and are not: “${two}” (U+0301) and “${one}”.`,
    ]);
    expect(said(`open("${two}");\n`, `open("${one}");\n`)).toEqual([
      `Names that look the same and are not: “${one}” (U+00E9) and “${two}”.`,
    ]);
    // An Ångström is a letter with a ring.
    expect(said("const \u00c5ngle = 1;\n", "const \u00c5ngle = 1;\nconst \u212bngle = 2;\n")).toEqual([
      "Names that look the same and are not: “\u212bngle” (U+212B) and “\u00c5ngle”.",
    ]);
    expect(said("a\n", `a\n${one} ${one}\n`)).toEqual([]);
    expect(said("\u0928\u093f\n", `\u0928\u093f\n${one} \u0928\u093f\n`)).toEqual([]);
  });

  it("are given for files of settings, and for what they would hide", () => {
    expect(kinds("* lens-generated", ".gitattributes", "a\n")).toEqual(["settings"]);
    expect(kinds("{}", ".lens/checks.json", "[]\n")).toEqual(["settings"]);
    expect(kinds("x", "pnpm-lock.yaml", "y\n")).toEqual(["lockfile"]);
  });

  it("know links that lead out of the tree", () => {
    const out = (path: string, target: string) => leavesTree(path, target);
    const within = [out("a", "b"), out("a/b", "../c"), out("a/b/c", ".././../d/e"), out("a", "./b/")];
    expect(within).toEqual([false, false, false, false]);
    const beyond = [out("a", "../b"), out("a/b", "../../c"), out("a", "/etc"), out("a", "b/../../c"), out("a", "C:x")];
    expect(beyond).toEqual([true, true, true, true, true]);
    // What b leads to is not known: where it is a link to this folder, c lies beside the tree.
    expect([out("a", "b/../c"), out("a/b", "x/../../c"), out("a", "./b/..")]).toEqual([true, true, true]);
    expect([out("a", "..\\b"), out("a/b", "..\\..\\c")]).toEqual([true, true]);
  });

  it("know of a link that leads out of the tree behind an end of a line", () => {
    const said = (next: string) =>
      readTexts({ a: { old: null, next, newMode: 0o120000 } }, () => null).files[0].cautions.map(({ kind }) => kind);
    expect(said("b\n/../../etc")).toEqual(["link"]);
    expect(said("b\n/c")).toEqual([]);
  });

  it("quote no more of a name than can be read", () => {
    const long = "l".repeat(1_500);
    const of = (path: string, old: string | null, next: string, newMode = 0o100644) =>
      readTexts({ [path]: { old, next, newMode } }, () => null).files[0].cautions.map(({ says }) => says);
    const said = [
      ...of("a", null, `../${long}`, 0o120000),
      ...of("a.ts", "", `let ${long}я = 1;\n`),
      ...of("b.ts", `pay(a${long}, total);\n`, `pay(а${long}, total);\n`),
    ];
    expect(said).toHaveLength(4);
    for (const sentence of said) expect(sentence.length).toBeLessThan(700);
  });

  it("tell of a new path what is not seen in it, or is read another way elsewhere", () => {
    const said = (path: string, old: string | null = null) =>
      readTexts({ [path]: { old, next: "a\n" } }, () => null).files[0].cautions.map(({ says }) => says);
    expect(said("a/b.c/.d")).toEqual([]);
    expect(said("tools /a.ts")).toEqual([expect.stringMatching(/space/)]);
    expect(said("a.ts.")).toEqual([expect.stringMatching(/dot/)]);
    expect(said("src\\a.ts")).toEqual([expect.stringMatching(/folders/)]);
    for (const path of ["src/NUL", "aux.ts", "com1.tar.gz", "con /a"])
      expect(said(path)).toContainEqual(expect.stringMatching(/device/));
    expect(["src/null.ts", "console.ts", "com.ts", "lpt10"].flatMap((path) => said(path))).toEqual([]);
    expect(said("src/HOOKS~1.JSO")).toEqual([expect.stringMatching(/short/)]);
    expect(["a.~1~", "long-name~1", "a~b.ts"].flatMap((path) => said(path))).toEqual([]);
    // What has long been called so is no news.
    expect(said("a.ts.", "b\n")).toEqual([]);
  });
});

describe("odd characters", () => {
  it("are found each in its place, and written out without losing another", () => {
    const piece = fc.constantFrom("a", " ", "\t", "é", "\u200b", "\u202e", "\u00a0", "\u{e0041}", "я", "()");
    fc.assert(
      fc.property(fc.array(piece), (pieces) => {
        const text = pieces.join("");
        const places = oddCharacters(text);
        for (const { at, length, code } of places)
          expect(
            `U+${text
              .slice(at, at + length)
              .codePointAt(0)!
              .toString(16)
              .toUpperCase()
              .padStart(4, "0")}`,
          ).toBe(code);
        const back = visible(text).replace(/⟨U\+([0-9A-F]+)⟩/g, (_, code) =>
          String.fromCodePoint(Number.parseInt(code, 16)),
        );
        expect(back).toBe(text);
        expect(oddCharacters(visible(text)).filter(({ kind }) => kind !== "letter")).toEqual([]);
      }),
    );
  });

  it("stay in the words of people where they are usual there, and nowhere else", () => {
    expect(visibleWords("Mend\u202e it \u2764\ufe0f\r\n\n\tby 5\u00a0pm\u200b")).toBe(
      "Mend⟨U+202E⟩ it \u2764\ufe0f\r\n\n\tby 5\u00a0pm⟨U+200B⟩",
    );
    expect(visible("a\ufe0f")).toBe("a⟨U+FE0F⟩");
  });

  it("that look alike are told from those that do not", () => {
    expect([confusable("admin", "\u0430dmin"), confusable("admin", "admin"), confusable("admin", "owner")]).toEqual([
      true,
      false,
      false,
    ]);
  });
});
