import fc from "fast-check";
import { expect, it } from "vitest";
import { stretchesOf } from "./right-to-left";

const told = (line: string) => stretchesOf(line).map(({ text, isRightToLeft }) => (isRightToLeft ? [text] : text));

it("parts words that are written from right to left from all that stands between them", () => {
  expect(told("go(1);")).toEqual(["go(1);"]);
  expect(told("")).toEqual([]);
  expect(told('allow("א", 0, "ב");')).toEqual(['allow("', ["א"], '", 0, "', ["ב"], '");']);
  expect(told("קצב > 5 && 3 < אבג")).toEqual([["קצב"], " > 5 && 3 < ", ["אבג"]]);
  // Words of one text stay together, with what is set above and below them.
  expect(told("// שָׁלוֹם לך, x")).toEqual(["// ", ["שָׁלוֹם לך"], ", x"]);
  expect(told('x = "عرب" - 12;')).toEqual(['x = "', ["عرب"], '" - 12;']);
  expect(told("\u{1e900}\u{1e901}+1")).toEqual([["\u{1e900}\u{1e901}"], "+1"]);
});

it("loses nothing of a line, and leaves no such letter in what is not", () => {
  const piece = fc.constantFrom("a", " ", "1", '"', "א", "ב", "\u05b0", "ع", "٣", "\u0301", "+", "\u{10a00}");
  fc.assert(
    fc.property(fc.array(piece, { maxLength: 30 }), (pieces) => {
      const line = pieces.join("");
      const parts = stretchesOf(line);
      expect(parts.map(({ text }) => text).join("")).toBe(line);
      for (const { text, isRightToLeft } of parts) {
        expect(/[אבع٣\u05b0\u{10a00}]/u.test(text)).toBe(isRightToLeft);
        if (isRightToLeft) expect(text).not.toMatch(/[a1"+]/);
      }
    }),
  );
});

it("is done at once with a long line of words and gaps", () => {
  expect(stretchesOf(`${"א".repeat(100_000)}${" ".repeat(300_000)}a`)).toHaveLength(2);
  expect(stretchesOf("א ".repeat(200_000))).toHaveLength(2);
});
