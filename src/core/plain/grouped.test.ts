import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { groupedBy } from "./grouped";

describe("groups", () => {
  it("hold each thing once, in its order, with those of the same key, in the order of their first", () => {
    fc.assert(
      fc.property(fc.array(fc.nat(20)), (things) => {
        const keyOf = (thing: number) => thing % 3;
        const groups = groupedBy(things, keyOf);
        expect([...groups.keys()]).toEqual([...new Set(things.map(keyOf))]);
        for (const [key, group] of groups) expect(group).toEqual(things.filter((thing) => keyOf(thing) === key));
      }),
    );
  });
});
