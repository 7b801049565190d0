import fc from "fast-check";
import { expect, it } from "vitest";
import { placesOf } from "./names";

it("finds names where they stand as whole words, whatever stands around them", () => {
  const word = fc.constantFrom("berth", "berths", "b", "$berth", "ebb", "_", "Berth", "größe", "берт", "berth\u0301");
  const between = fc.constantFrom(" ", ".", "-", "\n", "(", "#", "—", "");
  const text = fc.array(fc.tuple(between, word)).map((parts) => parts.flat().join(""));
  fc.assert(
    fc.property(text, fc.uniqueArray(word), (says, names) => {
      const words = [...says.matchAll(/[\p{L}\p{N}\p{M}_$]+/gu)];
      const expected = new Map(
        names
          .map((name) => [name, words.filter(([one]) => one === name).map(({ index }) => index)] as const)
          .filter(([, places]) => places.length > 0),
      );
      expect(placesOf(says, new Set(names))).toEqual(expected);
    }),
  );
});
