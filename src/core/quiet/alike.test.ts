import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tries } from "../testing/tries";
import { readTexts } from "./read-texts";

const body = (name: string, check: boolean, deep = "") => [
  `${deep}function ${name}(ship) {`,
  ...(check ? [`${deep}  if (!ship.isKnown()) throw ship;`] : []),
  `${deep}  ${name}Now(ship);`,
  `${deep}}`,
];
const text = (...parts: string[][]) => `${parts.flat().join("\n")}\n`;
const made = (files: Record<string, { old: string; next: string }>) => readTexts(files, () => null);

describe("the same change at several places", () => {
  const files = {
    "a.js": {
      old: text(body("hold", true), body("drop", true)),
      next: text(body("hold", false), body("drop", false)),
    },
    "b.js": {
      old: text(["class Quay {"], body("shift", true, "  "), ["}"]),
      next: text(["class Quay {"], body("shift", false, "  "), ["}"]),
    },
  };

  it("is listed once, each place with what it lies in, however deep; and all of it is to be read", () => {
    const { alike, toRead, changed } = made(files);
    expect(alike.map((places) => places.map(({ file, old, within }) => [file, old.start, within]))).toEqual([
      [
        [0, 1, "function hold(ship)"],
        [0, 5, "function drop(ship)"],
        [1, 2, "function shift(ship)"],
      ],
    ]);
    expect([toRead, changed]).toEqual([3, 3]);
  });

  it("is none where a line differs, where it says next to nothing, or where a file came or went", () => {
    const other = { ...files["b.js"], old: files["b.js"].old.replace("!ship", "ship") };
    expect(made({ "a.js": files["a.js"], "b.js": other }).alike.map((places) => places.length)).toEqual([2]);
    const braces = { old: "a(1);\n{\n}\nb(2);\n", next: "a(1);\nb(2);\n" };
    expect(made({ "a.js": braces, "b.js": braces }).alike).toEqual([]);
    const came = { old: null, next: files["a.js"].next };
    expect(readTexts({ "a.js": came, "c.js": came }, () => null).alike).toEqual([]);
  });

  it("names lines that really are the same, each of them to be read, and no place twice", () => {
    const line = fc.constantFrom("hold the ship;", "  drop the ship;", "shift it on", "}", "");
    const lines = fc.array(line, { maxLength: 14 }).map((all) => all.map((one) => `${one}\n`).join(""));
    const file = fc.record({ old: lines, next: lines });
    fc.assert(
      fc.property(file, file, (a, b) => {
        const all = { "a.txt": a, "b.txt": b };
        const { alike, files: read } = made(all);
        const seen = new Set<string>();
        for (const places of alike) {
          const says = places.map(({ file: at, old, next }) => {
            const { path, runs } = read[at];
            for (const [side, { start, end }] of [
              ["old", old],
              ["new", next],
            ] as const)
              for (let n = start; n < end; n++)
                expect(runs.find((run) => run.side === side && run.start <= n && n < run.end)?.class).toBe("read");
            const cut = (of: string, { start, end }: { start: number; end: number }) =>
              of
                .split("\n")
                .slice(start, end)
                .map((one) => one.trim())
                .join("\n");
            const key = `${at} ${old.start} ${next.start}`;
            expect(seen.has(key)).toBe(false);
            seen.add(key);
            const { old: before, next: after } = all[path as keyof typeof all];
            return `${cut(before, old)}\0${cut(after, next)}`;
          });
          expect(new Set(says).size).toBe(1);
          expect(places.length).toBeGreaterThan(1);
        }
      }),
      { numRuns: tries(300) },
    );
  });
});
