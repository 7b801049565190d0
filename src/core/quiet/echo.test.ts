import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { foldWords } from "../reading/folds";
import { FOLD, foldRows, layRows } from "../reading/rows";
import { bothSides } from "../reading/verify";
import { tries } from "../tries";
import { echoedLines } from "./kinds/echoes";
import { readTexts } from "./read-texts";
import type { Reading } from "./reading";

const BODY = [
  "export function hold(slot, ship) {",
  "  const tide = tideAt(slot);",
  "  const quay = quayOf(slot);",
  "  if (tide > limit) return null;",
  "  const berth = quay.free(ship);",
  "  berth.keep(ship, tide);",
  "  return berth;",
  "}",
];
const CHANGED = BODY.with(3, "  if (tide >= limit) return null;");
const text = (lines: readonly string[]) => `${lines.join("\n")}\n`;
const reading = (files: Record<string, readonly [old: readonly string[] | null, next: readonly string[] | null]>) =>
  readTexts(
    Object.fromEntries(
      Object.entries(files).map(([path, [old, next]]) => [path, { old: old && text(old), next: next && text(next) }]),
    ),
    () => null,
  );
/** How many lines of a file are to be read, and how many are echoes. */
const counts = (of: Reading, path: string) => {
  const { counts: by } = of.files.find((file) => file.path === path)!;
  return { read: by.read, echo: by.echo };
};

describe("echoes", () => {
  it("fold to the first of their kind, which is to be read, and say where it stands", () => {
    const made = reading({
      "build/esm/hold.mjs": [BODY, CHANGED],
      "build/cjs/hold.cjs": [BODY, CHANGED],
      "build/web/hold.js": [
        ["// web", "", ...BODY],
        ["// web", "", ...CHANGED],
      ],
    });
    expect(made.files.map(({ path }) => [path, counts(made, path)])).toEqual([
      ["build/cjs/hold.cjs", { read: 2, echo: 0 }],
      ["build/esm/hold.mjs", { read: 0, echo: 2 }],
      ["build/web/hold.js", { read: 0, echo: 2 }],
    ]);
    expect(
      echoedLines(
        made.files.map(({ runs }) => runs),
        made.echoes,
      ),
    ).toEqual(new Map([[0, 4]]));
    // However few lines, they are folded, since the fold says where the change is read.
    const rows = layRows([{ oldStart: 3, oldEnd: 4, newStart: 3, newEnd: 4 }], 8, [], 3, made.files[1].runs);
    const folded = foldRows(rows, made.files[1].runs, () => false);
    expect([...folded.kind.slice(0, folded.count)].filter((kind) => kind === FOLD)).toHaveLength(1);
    expect(made.echoes).toEqual([{ file: 0, old: { start: 3, end: 4 }, next: { start: 3, end: 4 }, times: 2 }]);
    const [run] = made.files[1].runs;
    const place = { path: "build/cjs/hold.cjs", start: 4, end: 4, within: null };
    const echoed = { places: [], many: 0 };
    const classes = {
      runs: [],
      moves: {},
      replacements: {},
      echoes: { 0: { old: place, next: place, times: 2 } },
      echoed,
    };
    expect(foldWords(run, 2, classes, "build/esm/hold.mjs", null)).toMatchObject({
      kind: "Echo",
      says: "2 lines, the same change as at line 4 of build/cjs/hold.cjs, which is to be read; one of 2",
      otherEnd: { path: "build/cjs/hold.cjs", start: 4, side: "new" },
    });
    // Both are seen side by side where a fold is verified.
    const hunk = { oldStart: 3, oldEnd: 4, newStart: 3, newEnd: 4 };
    const sides = bothSides(run, classes, [hunk], "build/esm/hold.mjs", "build/esm/hold.mjs");
    expect(sides.old.map(({ path }) => path)).toEqual(["build/cjs/hold.cjs", "build/esm/hold.mjs"]);
  });

  it("are of a source, rather than of what is made of it or tries it, whichever comes first", () => {
    const made = reading({
      "fixtures/hold.js": [BODY, CHANGED],
      "src/hold.js": [BODY, CHANGED],
      "test/hold.js": [BODY, CHANGED],
    });
    expect(["fixtures/hold.js", "src/hold.js", "test/hold.js"].map((path) => counts(made, path).read)).toEqual([
      0, 2, 0,
    ]);
  });

  it("are the same file that goes in several folders; one that is added is read wherever it comes in", () => {
    const gone = reading({ "a/old.ts": [BODY, null], "b/old.ts": [BODY, null], "c/other.ts": [BODY, null] });
    expect(["a/old.ts", "b/old.ts", "c/other.ts"].map((path) => counts(gone, path).echo)).toEqual([0, 8, 0]);
    const added = reading({ "a/new.ts": [null, BODY], "b/new.ts": [null, BODY] });
    expect(["a/new.ts", "b/new.ts"].map((path) => counts(added, path).echo)).toEqual([0, 0]);
  });

  const apart = (one: string, other: string, old: readonly string[], next: readonly string[]) =>
    counts(reading({ [one]: [BODY, CHANGED], [other]: [old, next] }), other).echo;

  it("are never the same change in a file of another name or kind", () => {
    expect(apart("a/hold.js", "b/hold.js", BODY, CHANGED)).toBe(2);
    expect(apart("a/hold.js", "b/access.js", BODY, CHANGED)).toBe(0);
    expect(apart("a/hold.js", "b/hold.py", BODY, CHANGED)).toBe(0);
    expect(apart("a/hold.js", "b/hold.txt", BODY, CHANGED)).toBe(0);
  });

  it("are never the same lines in another function, or where next to nothing is around them", () => {
    const renamed = (lines: readonly string[]) => lines.with(0, "export function drop(slot, ship) {");
    const deep = (lines: readonly string[]) => ["export class Quay {", ...lines.map((line) => `  ${line}`), "}"];
    // The head of the function stands beyond the three lines around the change here.
    const long = (lines: readonly string[]) => lines.toSpliced(1, 0, "  note(slot);", "  note(ship);");
    expect(apart("a/hold.js", "b/hold.js", renamed(BODY), renamed(CHANGED))).toBe(0);
    expect(apart("a/hold.js", "b/hold.js", deep(BODY), deep(CHANGED))).toBe(0);
    const one = {
      "a/hold.js": [long(BODY), long(CHANGED)],
      "b/hold.js": [long(renamed(BODY)), long(renamed(CHANGED))],
    } as const;
    expect(counts(reading(one), "b/hold.js").echo).toBe(0);
    const brackets = ["a(x);", "}", "}", "}", "drop(1);", "}", "}", "}", "b(y);"];
    const bare = (lines: readonly string[]) => lines.toSpliced(4, 1);
    const both = { "a/hold.js": [brackets, bare(brackets)], "b/hold.js": [brackets, bare(brackets)] } as const;
    expect(counts(reading(both), "b/hold.js").echo).toBe(0);
  });

  it("hide no difference: one that differs by a single sign, in it or around it, is to be read", () => {
    fc.assert(
      fc.property(
        fc.nat(BODY.length - 1),
        fc.nat(60),
        fc.constantFrom("x", " ", ";", "1"),
        fc.boolean(),
        (line, at, sign, both) => {
          const edit = (lines: readonly string[]) => {
            const place = Math.min(at, lines[line].length);
            return lines.with(line, lines[line].slice(0, place) + sign + lines[line].slice(place));
          };
          // In the new state alone, or in both: a difference that was there before.
          const old = both ? edit(BODY) : BODY;
          const made = reading({ "a/hold.js": [BODY, CHANGED], "b/hold.js": [old, edit(CHANGED)] });
          for (const path of ["a/hold.js", "b/hold.js"]) {
            const { echo } = counts(made, path);
            // Beyond three lines and the heads around it, a difference is its own.
            if (line <= 6) expect(echo, `${path} ${line} ${at}`).toBe(0);
          }
        },
      ),
      { numRuns: tries(300) },
    );
  });
});
