import { describe, expect, it } from "vitest";
import { attributesSentence } from "./attributes";

const OLD = ["* text=auto"];
const come = (...lines: string[]) => attributesSentence(".gitattributes", OLD, [...OLD, ...lines]);

describe("a change of a file of attributes", () => {
  it("tells by which lines a checkout holds something else than what is read", () => {
    for (const line of [
      ...[
        "*.js working-tree-encoding=UTF-7",
        "a.* filter=x",
        "[attr]code ident",
        "*.ts -text",
        "* !eol",
        "*.po binary",
      ],
      ...['"a b.txt" eol=crlf', '"a \\" text" -text'],
    ])
      expect(come(line), line).toBe(`Once merged, a checkout can hold other bytes than are read here, by “${line}”.`);
    for (const line of [
      ...["# filter=x", "*.md diff=markdown", "text.js linguist-detectable", "* context=1", '"a text" diff', "* code"],
      "[attr]shown diff",
    ])
      expect(come(line), line).toMatch(/^This file says/);
    expect(come("*.c text lens-generated")).toMatch(
      /other bytes.* by “\*\.c text lens-generated”\. Once merged, this decides/,
    );
  });

  it("follows names that stand for several, also those that were there, and those that name each other", () => {
    const known = [
      "[attr]inner diff working-tree-encoding=UTF-7",
      "[attr]outer -merge inner",
      "[attr]built lens-generated",
    ];
    const says = (line: string) => attributesSentence(".gitattributes", known, [...known, line]);
    expect(says("*.js outer")).toBe(
      "Once merged, a checkout can hold other bytes than are read here, by “*.js outer”.",
    );
    expect(says("*.js built")).toMatch(/^Once merged, this decides .* “\*\.js built”\./);
    expect(says("outer plain")).toMatch(/^This file says/);
    const chain = Array.from({ length: 50_000 }, (_, at) => `[attr]a${at} a${at + 1}`);
    expect(attributesSentence(".gitattributes", chain, [...chain, "[attr]a50000 text", "* a0"])).toMatch(/“\* a0”/);
    const round = ["[attr]a b", "[attr]b a"];
    expect(attributesSentence(".gitattributes", round, [...round, "* a"])).toMatch(/^This file says/);
  });

  it("tells of lines that are gone, since what they kept away comes back", () => {
    const old = ["* text=auto", "*.dat -text", "*.md diff"];
    expect(attributesSentence(".gitattributes", old, ["* text=auto"])).toBe(
      "Once merged, a checkout can hold other bytes than are read here, by “*.dat -text”, no longer.",
    );
    expect(attributesSentence(".gitattributes", ["[attr]code text", "*.js code"], ["[attr]code text"])).toContain(
      "“*.js code”, no longer",
    );
  });

  it("tells of lines in another order, since the last one that fits a file decides", () => {
    const lines = ["*.dat -text", "a.dat text"];
    expect(attributesSentence(".gitattributes", lines, lines.toReversed())).toBe(
      "The same lines stand in another order: of those that fit a file the last one decides.",
    );
  });

  it("says of a name in a file below that another file can give it a meaning", () => {
    expect(attributesSentence("src/.gitattributes", [], ["*.js code"])).toBe(
      "What a name stands for can be said in another file of attributes: “*.js code”.",
    );
    for (const line of ["*.js diff", "*.js linguist-vendored", "*.js code=1", "*.js -code"])
      expect(attributesSentence("src/.gitattributes", [], [line]), line).toMatch(/^This file says/);
  });

  it("writes out what does not show, and says no more than can be read", () => {
    expect(come("*.js te\u200bxt text")).toContain("te⟨U+200B⟩xt");
    const many = come(...Array.from({ length: 30 }, (_, at) => `${at}.js text`));
    expect(many).toContain("“9.js text”, and 20 more.");
    expect(many).not.toContain("“10.js");
  });
});
