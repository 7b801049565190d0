import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../grammar/parse";
import { FOOLABLE, HARMLESS } from "./foolable";
import { readTexts } from "./read-texts";
import type { Reading } from "./whole-reading";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

/** The texts of the lines left to read. */
function linesToRead(reading: Reading, files: (typeof FOOLABLE)[number]["files"]): string[] {
  return reading.files.flatMap(({ path, runs }) =>
    runs
      .filter((run) => run.class === "read")
      .flatMap(({ side, start, end }) =>
        (files[path][side === "old" ? "old" : "next"] ?? "").split("\n").slice(start, end),
      ),
  );
}

const title = ({ files, what }: (typeof FOOLABLE)[number], n: number) =>
  `${n}: ${Object.keys(files).join(", ")}: ${what}`;

describe("the corpus of what could fool", () => {
  it("is large enough on both sides, and no case stands in it twice", () => {
    expect(FOOLABLE.length).toBeGreaterThanOrEqual(250);
    expect(HARMLESS.length).toBeGreaterThanOrEqual(80);
    const all = [...FOOLABLE, ...HARMLESS].map(({ files }) => JSON.stringify(files));
    expect(all.filter((one, n) => all.indexOf(one) !== n)).toEqual([]);
  });

  for (const [n, one] of FOOLABLE.entries()) {
    it(`leaves to read ${title(one, n)}`, () => {
      const reading = readTexts(one.files, parse);
      expect(reading.toRead, JSON.stringify(reading.counts)).toBeGreaterThan(0);
      if (one.shows) expect(linesToRead(reading, one.files).join("\n")).toContain(one.shows);
    });
  }

  for (const [n, one] of HARMLESS.entries()) {
    it(`leaves quiet ${title(one, n)}`, () => {
      const reading = readTexts(one.files, parse);
      expect(linesToRead(reading, one.files)).toEqual([]);
      expect(reading.toRead).toBe(0);
      const classes = Object.entries(reading.counts)
        .filter(([, count]) => count > 0)
        .map(([name]) => name);
      expect(one.classes).toEqual(expect.arrayContaining(classes));
    });
  }
});
