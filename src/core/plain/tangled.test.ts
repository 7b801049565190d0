import { describe, expect, it } from "vitest";
import { isTangled } from "./tangled";

describe("a text in Markdown", () => {
  it.each([
    ["quotes in quotes", "> ".repeat(5_000)],
    ["quotes without spaces", ">".repeat(5_000)],
    ["lists in lists", `${"- ".repeat(3_000)}x`],
    ["lists of numbers", `${"1. ".repeat(4_000)}x`],
    ["lists and quotes", `words\n\n${"> - 2) ".repeat(100)}x`],
    ["emphasis", "*a ".repeat(2_000) + "a*".repeat(2_000)],
    ["brackets", "[".repeat(5_000)],
    ["headings", "a\n=\n".repeat(2_000)],
    ["items", "- a\n".repeat(10_000)],
    ["rows", `|a|b\n|-|-\n${"|a|b\n".repeat(9_000)}`],
    ["length alone", "word ".repeat(40_000)],
  ])("stands as it was written where it takes long: %s", (_, text) => {
    expect(isTangled(text)).toBe(true);
  });

  it.each([
    ["a remark", "Why not `Math.min`? See [the table](/x), *twice*.\n\n> He said so.\n\n- one\n- two"],
    ["a rule and a table", `${"-".repeat(200)}\n\n| a | b |\n| --- | --- |\n${"| 1 | 2 |\n".repeat(200)}`],
    ["code that is deep", `\`\`\`\n${" ".repeat(300)}deep();\n\`\`\``],
    ["a rule of stars", "* * * * * * * * * *"],
    ["a long list", "- item with `code` in it\n".repeat(250)],
    ["a quote in a list in a quote", "> - 1. > - what he said that she said"],
    ["lists below lists", Array.from({ length: 30 }, (_, i) => `${"  ".repeat(i)}- deeper`).join("\n")],
  ])("is read where a person wrote it: %s", (_, text) => {
    expect(isTangled(text)).toBe(false);
  });

  it("is told in time whatever it holds", () => {
    for (const unit of [" ", "\t", "> ", "1", "-", "=", "- \n", "\n", "*", "1.", " \n>"])
      expect(typeof isTangled(unit.repeat(Math.floor(100_000 / unit.length)), Number.POSITIVE_INFINITY)).toBe(
        "boolean",
      );
  });
});
