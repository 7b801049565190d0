import fc from "fast-check";
import { expect, it } from "vitest";
import { measuresOf, readLook, SIZES, TABS, USUAL, writeLook } from "./look";

it("is read as it was written, and is as usual where nobody can read it", () => {
  const look = fc.record({
    size: fc.constantFrom(...SIZES.map(({ size }) => size)),
    tabs: fc.constantFrom(...TABS),
    ligatures: fc.boolean(),
  });
  fc.assert(
    fc.property(look, (one) => {
      expect(readLook(writeLook(one))).toEqual(one);
    }),
  );
  fc.assert(
    fc.property(fc.string(), (text) => {
      expect(measuresOf(readLook(text)).line).toBeGreaterThan(0);
    }),
  );
  expect([readLook(undefined), readLook("99_3_x")]).toEqual([USUAL, USUAL]);
});
