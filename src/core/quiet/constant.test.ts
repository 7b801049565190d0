import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { asked, mayAlwaysHold } from "./constant";

describe("a condition as it stands", () => {
  it.each([
    ["if (true) {", true],
    ["if ((true)) return;", true],
    ["if (!0)", true],
    ["if (1 || left)", true],
    ["if True or left:", true],
    ["while :; do", true],
    ["while true\n", true],
    ["#if 1\n", true],
    ["# if 0\n", false],
    ["#elif 0\n", false],
    ["if (false && left) {", false],
    ["while False:", false],
    ["if not True:", false],
    ["if false {", false],
    ["if (  (\n  null\n) ) {", false],
    ["unless true\n", false],
    ["unless false then", true],
    ["until nil and left\n", true],
    // What they are joined to decides.
    ["if (false && left || right) {", null],
    ["if ((true || left) && right) {", null],
    ["if ((true) && right) {", null],
    ["if (true) && right {", null],
    ["unless false || left\n", null],
    ["if (0 ? left : right) {", null],
    ["if (1 < left)", null],
    ["if (trueish)", null],
    ["if (0x10)", null],
    ["if (none) {", null],
    ["if (true || left, right) {", null],
    ["If ($True) {", true],
    ["if (true.left())", null],
    // No condition at all, or none that is at its end.
    ["switch (0) {", null],
    ["iffy (true)", null],
    ["if (true", null],
    ["", null],
  ])("%j is %s", (statement, holds) => expect(asked(statement)).toBe(holds));

  it("is found in the line in which it stands alone", () => {
    const words = fc.constantFrom("if", "while", "unless", "until");
    const value = fc.constantFrom("true", "false", "!0", "1", "0", "nil", "not False", "$false");
    const gap = fc.constantFrom("", " ", "  ");
    fc.assert(
      fc.property(words, value, gap, gap, fc.constantFrom("(", "(("), (word, said, one, other, open) => {
        const line = `${word}${one}${open}${other}${said}${")".repeat(open.length)} {`;
        expect([line, asked(line) !== true || mayAlwaysHold(line)]).toEqual([line, true]);
      }),
    );
  });
});
