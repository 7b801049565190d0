import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { isWhole, type Points, pointNames, readPoints, revisionOf, samePoints } from "./points";

const hex = fc.string({ unit: fc.constantFrom(..."0123456789abcdef"), minLength: 40, maxLength: 40 });
const number = fc.integer({ min: 1, max: 999_999_999 });
const points: fc.Arbitrary<Points> = fc.oneof(
  fc.record({
    kind: fc.constant("revision" as const),
    from: fc.oneof(fc.constantFrom("base" as const, "read" as const), number),
    to: number,
  }),
  fc.record({ kind: fc.constant("commits" as const), first: hex, last: hex }),
  fc.record({
    kind: fc.constant("yardstick" as const),
    name: fc.string({ unit: fc.constantFrom(..."ab/-.é1"), minLength: 1, maxLength: 300 }),
    to: number,
  }),
);

describe("points", () => {
  it("are told by their names, and read from them", () => {
    fc.assert(
      fc.property(points, (one) => {
        expect(readPoints(pointNames(one))).toEqual(one);
        expect(samePoints(one, readPoints(pointNames(one))!)).toBe(true);
      }),
    );
  });

  it("are not read from what means nothing", () => {
    for (const [from, to] of [
      ["base", "r0"],
      ["base", "r01"],
      ["r1", "base"],
      ["read", "at:0"],
      [`before:${"a".repeat(40)}`, "r1"],
      // Longer than one kind of id and shorter than the other: it may be the name of a branch.
      [`before:${"a".repeat(41)}`, `at:${"a".repeat(40)}`],
      ["live:", "r1"],
      ["", ""],
    ])
      expect([from, to, readPoints({ from, to })]).toEqual([from, to, null]);
    fc.assert(
      fc.property(fc.string(), fc.string(), (from, to) => {
        const read = readPoints({ from, to });
        if (read) expect(pointNames(read)).toEqual({ from, to });
      }),
    );
  });

  it("say which revision is shown, and whether it is the whole", () => {
    expect(revisionOf({ kind: "commits", first: "a", last: "b" })).toBeNull();
    expect(revisionOf({ kind: "yardstick", name: "live", to: 3 })).toBe(3);
    expect(isWhole({ kind: "revision", from: "read", to: 3 })).toBe(true);
    expect(isWhole({ kind: "revision", from: 1, to: 3 })).toBe(false);
  });
});
