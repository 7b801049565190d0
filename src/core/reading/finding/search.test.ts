import { describe, expect, it } from "vitest";
import { finderOf } from "./finder";
import { findIn, linesSought, type SearchedFile } from "./search";

describe("searching", () => {
  const file: SearchedFile = {
    path: "a.ts",
    oldId: "o",
    newId: "n",
    runs: [
      { side: "old", start: 1, end: 2 },
      { side: "new", start: 3, end: 5 },
    ],
  };
  it("looks at changed lines of both sides, or at the whole text that is there now", () => {
    expect(linesSought(file, "old", "changed")).toHaveLength(1);
    expect(linesSought(file, "old", "whole")).toBeNull();
    expect(linesSought({ ...file, newId: null }, "old", "whole")).toBe("all");
    const text = ["Berth", "berth", "a berth", "no", "BERTH"];
    const finder = (words: string) => {
      const made = finderOf(words, "words");
      if (!made.ok) throw new Error(made.refusal.reason);
      return made.value;
    };
    const found = (words: string, within: Parameters<typeof findIn>[1]) =>
      findIn(text, within, finder(words)).map(({ line, at }) => [line, at]);
    expect(found("berth", "all")).toEqual([
      [1, 0],
      [2, 0],
      [3, 2],
      [5, 0],
    ]);
    expect(found("Berth", "all")).toEqual([[1, 0]]);
    expect(found("berth", [{ start: 2, end: 4 }])).toEqual([[3, 2]]);
    const [far] = findIn([`${"x".repeat(5_000_000)}needle`], "all", finder("needle"));
    expect(far.text.slice(far.at)).toBe("needle");
    expect(far.text.length).toBeLessThan(400);
  });
});
