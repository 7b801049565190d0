import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { diffLines } from "../diff/lines";
import { carryLines, sharedChanges } from "./carry";
import { mergeLines } from "./merge";

const lines = fc.array(fc.constantFrom("a", "b", "c", "d", "e"), { maxLength: 12 });

describe("carrying a change onto what others made", () => {
  it("is a merge where that is clean, and shows every place where it is not", () => {
    fc.assert(
      fc.property(lines, lines, lines, (base, ours, theirs) => {
        const { lines: carried, conflict } = carryLines(base, ours, theirs);
        const merged = mergeLines(base, ours, theirs);
        expect(conflict).toBe(merged === null);
        if (merged) expect(carried).toEqual(merged);
        // Whoever keeps their own text over that of the others is seen to do so, and whoever gives it up is seen as well.
        else expect(diffLines(carried, ours).length + diffLines(carried, base).length).toBeGreaterThan(0);
      }),
      { numRuns: 500 },
    );
  });

  it("never hides that what others mended was set back", () => {
    const base = ["start", "timeout = 30", "go", "stop"];
    const { lines: carried } = carryLines(base, base.with(1, "timeout = 60"), base.with(1, "timeout = 5"));
    expect(carried).toEqual(["start", "timeout = 5", "go", "stop"]);
  });
});

describe("what both changed alike", () => {
  it("is in the text, and nothing else: what is left differs from either side only in what it did alone", () => {
    fc.assert(
      fc.property(lines, lines, lines, (base, ours, theirs) => {
        const shared = sharedChanges(base, ours, theirs);
        const own = diffLines(base, ours).length;
        expect(diffLines(shared, ours).length).toBeLessThanOrEqual(own + 1);
        if (ours.join() === theirs.join()) expect(shared).toEqual(ours);
        if (theirs.join() === base.join()) expect(shared).toEqual(base);
      }),
      { numRuns: 500 },
    );
    expect(sharedChanges(["a", "b", "c", "d", "e"], ["A", "b", "c", "d", "X"], ["A", "b", "c", "d", "e"])).toEqual([
      ...["A", "b", "c", "d", "e"],
    ]);
  });
});
