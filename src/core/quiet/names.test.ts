import fc from "fast-check";
import { expect, it } from "vitest";
import { finderOf } from "./names";

it("finds names where they stand as whole words, whatever stands around them", () => {
  const word: fc.Arbitrary<string> = fc.constantFrom(
    "berth",
    "berths",
    "b",
    "$berth",
    "ebb",
    "_",
    "Berth",
    "größe",
    "берт",
    "berth\u0301",
  );
  const between = fc.constantFrom(" ", ".", "-", "\n", "(", "#", "—", "");
  const text = fc.array(fc.tuple(between, word)).map((parts) => parts.flat().join(""));
  fc.assert(
    fc.property(text, fc.uniqueArray(word), (says, names) => {
      const words = [...says.matchAll(/[\p{L}\p{N}\p{M}_$]+/gu)];
      const expected = words.filter(([one]) => names.includes(one)).map(({ 0: one, index }) => [one, index]);
      const found: [string, number][] = [];
      finderOf(new Set(names))(says, (name, place) => found.push([name, place]));
      expect(found).toEqual(expected);
    }),
  );
});
