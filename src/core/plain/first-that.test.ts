import fc from "fast-check";
import { expect, it } from "vitest";
import { firstThat } from "./first-that";

it("finds what a search from the front finds, and asks few", () => {
  fc.assert(
    fc.property(fc.array(fc.nat(20)), fc.nat(22), (numbers, least) => {
      const sorted = numbers.toSorted((a, b) => a - b);
      const front = sorted.findIndex((number) => number >= least);
      let asked = 0;
      const found = firstThat(sorted.length, (at) => {
        asked++;
        return sorted[at] >= least;
      });
      expect(found).toBe(front < 0 ? sorted.length : front);
      expect(asked).toBeLessThanOrEqual(Math.ceil(Math.log2(sorted.length + 1)));
    }),
  );
});
