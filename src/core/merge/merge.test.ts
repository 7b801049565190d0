import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { carryLines } from "./carry";
import { conflictsBetween } from "./conflicts";
import { mergeLines } from "./merge";

const lines = fc.array(fc.constantFrom("a", "b", "c", "d", "e"), { maxLength: 20 });
/** A text of lines that are all different, and edits in two halves of it that lie apart. */
const apart = fc
  .tuple(
    fc.integer({ min: 1, max: 12 }),
    fc.integer({ min: 1, max: 12 }),
    fc.nat(99),
    fc.nat(99),
    fc.boolean(),
    fc.boolean(),
  )
  .map(([first, second, x, y, drop, insert]) => {
    const base = Array.from({ length: first + 3 + second }, (_, i) => `line ${i}`);
    const [at, to] = [x % first, first + 3 + (y % second)];
    const ours = drop ? base.toSpliced(at, 1) : base.with(at, "ours");
    const theirs = insert ? base.toSpliced(to + 1, 0, "theirs") : base.with(to, "theirs");
    const both = insert ? base.toSpliced(to + 1, 0, "theirs") : base.with(to, "theirs");
    return { base, ours, theirs, both: drop ? both.toSpliced(at, 1) : both.with(at, "ours") };
  });

describe("merging lines", () => {
  it("takes texts of hundreds of thousands of lines, and one of which every other line conflicts", () => {
    const base = Array.from({ length: 150_000 }, (_, n) => `line ${n}`);
    const [first, last] = [base.with(0, "mine"), base.with(-1, "theirs")];
    expect(mergeLines(base, first, last)?.join()).toBe(first.with(-1, "theirs").join());
    const few = base.slice(0, 2_000);
    const every = (word: string) => few.map((line, n) => (n % 2 ? line : `${word} ${n}`));
    const places = conflictsBetween(few, every("mine"), every("theirs"));
    expect(places).toHaveLength(1_000);
    expect(places.at(-1)).toEqual({ base: [1_998, 1_999], ours: [1_998, 1_999], theirs: [1_998, 1_999] });
    const { lines: carried, conflict } = carryLines(few, every("mine"), every("theirs"));
    expect([carried.join(), conflict]).toEqual([every("theirs").join(), true]);
  });

  it("takes what one side changed, and what both changed alike", () => {
    fc.assert(
      fc.property(lines, lines, (base, next) => {
        expect(mergeLines(base, next, base)).toEqual(next);
        expect(mergeLines(base, base, next)).toEqual(next);
        expect(mergeLines(base, next, next)).toEqual(next);
      }),
    );
  });

  it("carries both out where they lie apart, whichever is called ours", () => {
    fc.assert(
      fc.property(apart, ({ base, ours, theirs, both }) => {
        expect(mergeLines(base, ours, theirs)).toEqual(both);
        expect(mergeLines(base, theirs, ours)).toEqual(both);
      }),
    );
  });

  it("gives up where both change one place differently", () => {
    expect(mergeLines(["a", "b", "c"], ["a", "x", "c"], ["a", "y", "c"])).toBeNull();
    expect(mergeLines(["a", "b", "c"], ["a", "x", "c"], ["a", "b", "y"])).toBeNull();
    expect(mergeLines(["a", "b"], ["a"], ["a", "x"])).toBeNull();
    fc.assert(
      fc.property(lines, lines, lines, (base, ours, theirs) => {
        expect(mergeLines(base, ours, theirs)).toEqual(mergeLines(base, theirs, ours));
      }),
    );
  });
});
