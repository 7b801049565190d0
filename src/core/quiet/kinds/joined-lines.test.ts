import fc from "fast-check";
import { expect, it } from "vitest";
import { tries } from "../../testing/tries";
import { joinedLines } from "./joined-lines";

const words = fc.array(fc.constantFrom("hold(", "berth", ",tide", ")", "free", "", "x"), {
  minLength: 1,
  maxLength: 30,
});

/** The same words, parted into lines in one way or another. */
function parted(all: readonly string[], cuts: readonly boolean[]): string[] {
  const lines = [""];
  for (const [n, word] of all.entries()) {
    lines[lines.length - 1] += word;
    if (cuts[n % cuts.length]) lines.push("");
  }
  return lines;
}

it("finds what is parted otherwise, whole, where nothing else is changed", () => {
  fc.assert(
    fc.property(
      words,
      fc.array(fc.boolean(), { minLength: 1 }),
      fc.array(fc.boolean(), { minLength: 1 }),
      (all, a, b) => {
        const [old, next] = [parted(all, a), parted(all, b)];
        const found = joinedLines(old, next).flat();
        expect(found.map(({ old: { start, end } }) => old.slice(start, end).join("")).join("")).toBe(all.join(""));
        expect(found.map(({ next: { start, end } }) => next.slice(start, end).join("")).join("")).toBe(all.join(""));
      },
    ),
    { numRuns: tries(1_000) },
  );
});

it("finds only what is the same when it is joined, in order, no line twice", () => {
  fc.assert(
    fc.property(words, words, fc.array(fc.boolean(), { minLength: 1 }), (before, after, cuts) => {
      const [old, next] = [parted(before, cuts), parted(after, [...cuts].reverse())];
      let [i, j] = [0, 0];
      for (const part of joinedLines(old, next).flat()) {
        expect(part.old.start).toBeGreaterThanOrEqual(i);
        expect(part.next.start).toBeGreaterThanOrEqual(j);
        expect(old.slice(part.old.start, part.old.end).join("")).toBe(
          next.slice(part.next.start, part.next.end).join(""),
        );
        [i, j] = [part.old.end, part.next.end];
      }
    }),
    { numRuns: tries(1_000) },
  );
});

it("goes on beside an edit, and comes to an end where everything is alike", () => {
  const old = ["go(1)", "hold(berth,tide,slot,ship)", "free(berth,tide,slot)"];
  const next = ["go(2)", "hold(", "berth,tide,slot,ship", ")", "free(berth,tide,slot)"];
  expect(joinedLines(old, next)[0]).toEqual([
    { old: { start: 1, end: 2 }, next: { start: 1, end: 4 } },
    { old: { start: 2, end: 3 }, next: { start: 4, end: 5 } },
  ]);
  const many = (length: number) => Array.from({ length: 3_000 }, () => "a".repeat(length));
  expect(joinedLines(many(200), many(201)).length).toBeGreaterThanOrEqual(0);
});
