import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../grammar/parse";
import { foldWords } from "../reading/folds";
import { FOLD, foldRows, layRows } from "../reading/rows";
import { bothSides } from "../reading/verify";
import { tries } from "../testing/tries";
import { echoedLines } from "./kinds/echo/echoed-lines";
import { groupsOf } from "./kinds/groups";
import { readTexts } from "./read-texts";
import type { Reading } from "./whole-reading";

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

describe("groups", () => {
  it("are those of the full key, whatever the cheap one leaves together", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(3), fc.nat(3))), (list) => {
        const groups = groupsOf(
          list,
          ([a]) => a % 2,
          ([a, b]) => `${a} ${b}`,
        );
        const all = [...new Set(list.map(String))].map((key) => list.filter((one) => `${one}` === key));
        const expected = all.filter((group) => group.length > 1);
        expect(groups.toSorted()).toEqual(expected.toSorted());
      }),
    );
  });
});

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
    expect(made.echoes).toEqual([
      { file: 0, old: { start: 3, end: 4 }, next: { start: 3, end: 4 }, times: 2, names: [] },
    ]);
    const [run] = made.files[1].runs;
    const place = { path: "build/cjs/hold.cjs", start: 4, end: 4, within: null };
    const echoed = { places: [], many: 0 };
    const classes = {
      runs: [],
      moves: {},
      replacements: {},
      echoes: { 0: { old: place, next: place, times: 2, names: [] } },
      echoed,
      alike: [],
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

  it("are the same file that goes in several folders, or comes, which is a fact to read", () => {
    const gone = reading({ "a/old.ts": [BODY, null], "b/old.ts": [BODY, null], "c/other.ts": [BODY, null] });
    expect(["a/old.ts", "b/old.ts", "c/other.ts"].map((path) => counts(gone, path).echo)).toEqual([0, 8, 0]);
    const added = reading({ "a/new.ts": [null, BODY], "b/new.ts": [null, BODY] });
    expect(["a/new.ts", "b/new.ts"].map((path) => counts(added, path))).toEqual([
      { read: 8, echo: 0 },
      { read: 0, echo: 8 },
    ]);
    expect(added.files.map(({ toRead }) => toRead)).toEqual([8, 1]);
    expect(added.files[1].facts.map(({ says }) => says)).toEqual([
      "All that a/new.ts says, which is new as well, stands here, too.",
    ]);
    const others = reading({
      "a/new.ts": [null, BODY],
      "b/newer.ts": [null, BODY],
      "c/new.ts": [null, CHANGED],
      "d/new.ts": [BODY, CHANGED],
    });
    expect(others.files.map(({ counts: { echo } }) => echo)).toEqual([0, 0, 0, 0]);
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

  /** Two builds that were rewritten: nearly all of it is the same. */
  const built = (limit: string, more: readonly string[]) => [
    ...["hold", "drop", "shift"].flatMap((name) => [
      `export function ${name}(slot, ship) {`,
      ...BODY.slice(1, 3),
      `  if (tide ${limit} ${name}Limit) return null;`,
      ...BODY.slice(4),
      "",
    ]),
    ...more,
  ];

  it("are lines of two files that differ elsewhere, with three lines around each difference to read", () => {
    const made = reading({
      "dist/hold.js": [["// old"], built(">=", ["export { hold };"])],
      "lib/hold.js": [["// old"], built(">=", ["module.exports = { hold };"])],
    });
    expect(counts(made, "dist/hold.js")).toEqual({ read: 29, echo: 0 });
    expect(counts(made, "lib/hold.js")).toEqual({ read: 5, echo: 24 });
    expect(made.echoes).toEqual([
      { file: 0, old: { start: 0, end: 0 }, next: { start: 0, end: 24 }, times: 1, names: [] },
    ]);
  });

  it("never are what stands twice where the other has it once, nor what stands in another order", () => {
    const once = built(">=", []);
    const twice = [...once, ...once];
    const made = reading({ "a/hold.js": [["// old"], once], "b/hold.js": [["// old"], twice] });
    expect(counts(made, "b/hold.js").read).toBeGreaterThanOrEqual(once.length);
    const [hold, drop, shift] = [0, 9, 18].map((at) => once.slice(at, at + 9));
    const turned = reading({
      "a/hold.js": [["// old"], once],
      "b/hold.js": [["// old"], [...shift, ...drop, ...hold]],
    });
    expect(counts(turned, "b/hold.js").read).toBeGreaterThanOrEqual(18);
  });

  it("of lines hide no difference: one that differs by a single sign is to read, and the three around it", () => {
    const one = built(">=", ["export { hold };"]);
    fc.assert(
      fc.property(fc.nat(one.length - 1), fc.nat(60), fc.constantFrom("x", " ", ";", "1"), (line, at, sign) => {
        const place = Math.min(at, one[line].length);
        const other = one.with(line, one[line].slice(0, place) + sign + one[line].slice(place));
        const made = reading({ "a/hold.js": [["// old"], one], "b/hold.js": [["// old"], other] });
        const { runs } = made.files.find(({ path }) => path === "b/hold.js")!;
        const classOf = (n: number) =>
          runs.find(({ side, start, end }) => side === "new" && start <= n && n < end)?.class;
        for (let n = Math.max(0, line - 3); n <= Math.min(one.length - 1, line + 3); n++)
          expect(classOf(n), `${line} ${at}: ${n}`).not.toBe("echo");
      }),
      { numRuns: tries(300) },
    );
  });
});

describe("echoes with names", () => {
  let parse: Parse;
  beforeAll(async () => {
    parse = await allGrammars();
  });
  const module = (name: string, Name: string, limit: string) =>
    text([
      `export function hold${Name}(slot, ${name}) {`,
      `  const tide = tideOf(${name});`,
      `  if (!is${Name}Free(${name})) return 12;`,
      `  if (tide ${limit} LIMIT) return "held";`,
      `  return hold${Name}Now(slot, ${name}) || is${Name}Free(${name}) || hold${Name}Now;`,
      "}",
    ]);
  const berth = { old: module("berth", "Berth", ">"), next: module("berth", "Berth", ">=") };
  const pier = { old: module("pier", "Pier", ">"), next: module("pier", "Pier", ">=") };
  const classesIn = (path: string, other: { old: string; next: string }) => {
    const made = readTexts({ "src/berth.js": berth, [path]: other }, parse);
    const { counts: by } = made.files.find((file) => file.path === path)!;
    return { echo: by.echo, names: made.echoes[0]?.names };
  };

  it("fold to the one that is read, with every pair of names", () => {
    expect(classesIn("src/pier.js", pier)).toEqual({
      echo: 2,
      names: [
        { from: "holdBerth", to: "holdPier" },
        { from: "berth", to: "pier" },
        { from: "isBerthFree", to: "isPierFree" },
        { from: "holdBerthNow", to: "holdPierNow" },
      ],
    });
  });

  it("never are of names that do not go with those of the files, nor of a text, number or operator", () => {
    expect(classesIn("src/quay.js", pier).echo).toBe(0);
    const edited = (from: string, to: string, both = true) => ({
      old: both ? pier.old.replaceAll(from, to) : pier.old,
      next: pier.next.replaceAll(from, to),
    });
    expect(classesIn("src/pier.js", edited("tideOf", "tideAt")).echo).toBe(0);
    expect(classesIn("src/pier.js", edited("12", "13")).echo).toBe(0);
    expect(classesIn("src/pier.js", edited('"held"', '"pier"')).echo).toBe(0);
    expect(classesIn("src/pier.js", edited(">=", "<", false)).echo).toBe(0);
    expect(classesIn("src/pier.js", edited("!isPierFree", "isPierFree")).echo).toBe(0);
  });

  it("hide no name that the change brings in, and no single one that is another", () => {
    const words = [...pier.next.matchAll(/[A-Za-z]+/g)];
    for (const { 0: word, index } of words) {
      for (const other of ["evil", "pier", "isPierFree", "berth"]) {
        if (other === word) continue;
        const edit = (of: string) => of.slice(0, index) + other + of.slice(index + word.length);
        // In the new state alone; and where it was there before, too.
        for (const old of [pier.old, edit(pier.old.replace("> L", ">= L")).replace(">= L", "> L")]) {
          const made = readTexts({ "src/berth.js": berth, "src/pier.js": { old, next: edit(pier.next) } }, parse);
          const line = pier.next.slice(0, index).split("\n").length - 1;
          const { runs } = made.files.find(({ path }) => path === "src/pier.js")!;
          expect(
            runs.some(({ class: kind }) => kind === "echo"),
            `${word} ${index} in line ${line}: ${other}`,
          ).toBe(false);
        }
      }
    }
  });
});
