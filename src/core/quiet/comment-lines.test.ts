import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../grammar/parse";
import { goesOnInComment } from "./comment-lines";
import { readTexts } from "./read-texts";

let grammars: Parse;
beforeAll(async () => {
  grammars = await allGrammars();
});

describe("lines that go on in a comment", () => {
  const lines = [
    "/**", // 0
    " * Ebb.",
    " *",
    " * Flood.",
    " */", // 4
    "const depth = tide",
    "  * berths",
    "  * 2;", // 7
    "go(); /* and",
    "* back", // 9
    "*/",
    "* 3",
  ];

  it("are told by what stands above them", () => {
    expect(lines.map((_, at) => goesOnInComment(lines, at)).flatMap((is, at) => (is ? [at] : []))).toEqual([
      1, 2, 3, 4, 9, 10,
    ]);
  });

  it("are looked for so far up and no further", () => {
    const long = ["/*", ...Array<string>(100_000).fill("* ebb")];
    expect(goesOnInComment(long, 100)).toBe(true);
    expect(goesOnInComment(long, 99_999)).toBe(false);
  });
});

describe("a file of which only comments changed", () => {
  const text = (indent: string, name: string) =>
    ["/**", ...Array.from({ length: 6 }, (_, n) => ` *${indent}${name}.hold(${n})`), " */", "tide.go();", ""].join(
      "\n",
    );
  /** What is read of a change, and how many texts were read by their grammars for it. */
  const read = (old: string, next: string) => {
    let parsed = 0;
    const parse: Parse = (ask) => {
      parsed++;
      return grammars(ask);
    };
    const { counts } = readTexts({ "berths.ts": { old, next } }, parse);
    return { toRead: counts.read, parsed };
  };

  it("is not parsed for their layout or their names, and is to be read", () => {
    expect(read(text(" ", "berth"), text("   ", "berth"))).toEqual({ toRead: 12, parsed: 0 });
    expect(read(text(" ", "berth"), text(" ", "quay"))).toEqual({ toRead: 12, parsed: 0 });
  });

  it("is parsed where code changed along", () => {
    const code = (indent: string) => `${text(indent, "berth")}function go() {\n${indent}return tide * 2;\n}\n`;
    expect(read(code(" "), code("   "))).toEqual({ toRead: 12, parsed: 2 });
  });

  it("may hold lines of code that begin with a star", () => {
    const product = (name: string) => `const all = 2\n${`  * ${name}.depth\n`.repeat(3)}  * 3;\n`;
    expect(read(product("berth"), product("quay"))).toEqual({ toRead: 0, parsed: 2 });
  });
});
