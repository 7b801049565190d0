import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { differenceFrom, partOf, segmentLine } from "./segments";

const told = (segments: ReturnType<typeof segmentLine>) =>
  segments.map(({ text, colour, marked }) => `${text}:${colour}${marked ? "!" : ""}`);

describe("a line in segments", () => {
  it("is cut where its colour changes and where what changed begins and ends", () => {
    expect(told(segmentLine("let a = 1", [3, 2, 2, 0], [4, 5]))).toEqual(["let:2", " :0", "a:0!", " = 1:0"]);
    expect(told(segmentLine("let a", [], []))).toEqual(["let a:0"]);
    expect(segmentLine("", [1, 1], [0, 1])).toEqual([]);
  });

  it("says the same whole and in parts", () => {
    const line = fc.string({ minLength: 1, maxLength: 40 });
    const runs = fc.array(fc.integer({ min: 1, max: 9 }), { maxLength: 8 }).map((all) => all.slice(all.length % 2));
    const span = fc.tuple(fc.nat(40), fc.nat(40)).map(([a, b]) => [Math.min(a, b), Math.max(a, b) + 1]);
    fc.assert(
      fc.property(
        line,
        runs,
        span,
        fc.nat(45),
        fc.integer({ min: 1, max: 12 }),
        (text, colours, spans, begin, size) => {
          const segments = segmentLine(text, colours, spans);
          expect(segments.map((segment) => segment.text).join("")).toBe(text);
          const signs = (of: typeof segments) =>
            of.flatMap(({ text: part, colour, marked }) => part.split("").map((sign) => `${sign}${colour}${marked}`));
          expect(signs(partOf(segments, begin, begin + size))).toEqual(signs(segments).slice(begin, begin + size));
        },
      ),
    );
  });
});

describe("where a long line differs from another", () => {
  it("is one stretch, and no half of a sign", () => {
    expect(differenceFrom("go(a, evil(), b)", "go(a, b)")).toEqual([6, 14]);
    expect(differenceFrom("go(a, b)", "go(a, evil(), b)")).toEqual([6, 6]);
    expect(differenceFrom("same", "same")).toEqual([]);
    expect(differenceFrom("aa", "aaa")).toEqual([2, 2]);
    expect(differenceFrom("x\u{1f600}y", "x\u{1f601}y")).toEqual([1, 3]);
  });

  it("holds all that is other: without it both lines are the same", () => {
    const line = fc
      .array(fc.constantFrom("a", "b", "\u{1f600}", "\u{1f601}"), { maxLength: 12 })
      .map((all) => all.join(""));
    fc.assert(
      fc.property(line, line, (one, other) => {
        const [[from, to], [begin, end]] = [differenceFrom(one, other), differenceFrom(other, one)];
        expect(from === undefined).toBe(one === other);
        expect(one.slice(0, from) + one.slice(to)).toBe(other.slice(0, begin) + other.slice(end));
        expect(from).toBe(begin);
      }),
    );
  });
});
