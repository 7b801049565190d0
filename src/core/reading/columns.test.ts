import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { compareFiles } from "../diff/compare";
import { diffLines } from "../diff/lines";
import { ClassedFile } from "../quiet/classes";
import { columnsOf, fittingColumns, keyOfPlace, type Layout, oneColumn, twoColumns } from "./columns";
import { ADDED, foldRows, type Interval, layRows, REMOVED, type Rows } from "./rows";

const lines = fc.array(fc.constantFrom("a", "b", "c", "d", ""), { maxLength: 50 });
const intervals = fc.array(
  // An empty interval opens nothing, and may lie within a gap.
  fc.tuple(fc.nat(50), fc.integer({ min: 1, max: 20 })).map(([from, size]): Interval => [from, from + size]),
  { maxLength: 3 },
);

describe("columns", () => {
  it("put every row in exactly one place, in order on either side, and what became each other side by side", () => {
    fc.assert(
      fc.property(lines, lines, (a, b) => {
        const [old, next] = [a, b].map((list) => list.map((l, i) => `const ${l} = value(${i % 5});`));
        const comparison = compareFiles(Buffer.from(old.join("\n")), Buffer.from(next.join("\n")));
        const rows = layRows(comparison.hunks, next.length, []);
        const pairs = new Map(comparison.pairs.map((pair) => [pair.old, pair.next]));
        const layout = twoColumns(rows, pairs);
        const seen = { left: [] as number[], right: [] as number[] };
        for (let place = 0; place < layout.count; place++) {
          const [left, right] = [layout.left[place], layout.right[place]];
          for (const row of [left, right]) if (row >= 0) expect(layout.placeOf[row]).toBe(place);
          if (left >= 0) seen.left.push(left);
          if (right >= 0) seen.right.push(right);
          if (left >= 0) expect(rows.kind[left]).not.toBe(ADDED);
          if (right >= 0) expect(rows.kind[right]).not.toBe(REMOVED);
          if (left >= 0 && rows.kind[left] === REMOVED && pairs.has(rows.old[left]))
            expect(rows.next[right]).toBe(pairs.get(rows.old[left]));
        }
        const all = Array.from({ length: rows.count }, (_, row) => row);
        expect(seen.left).toEqual(all.filter((row) => rows.kind[row] !== ADDED));
        expect(seen.right).toEqual(all.filter((row) => rows.kind[row] !== REMOVED));
        expect(oneColumn(rows).count).toBe(rows.count);
      }),
    );
  });

  it("are known again by a number of their own, whatever is opened and folded around them", () => {
    fc.assert(
      fc.property(lines, lines, intervals, fc.nat(60), (old, next, opened, kept) => {
        const hunks = diffLines(old, next);
        const file = new ClassedFile("a.ts", old, next, hunks);
        for (const j of next.keys()) file.set("new", j, "moved", 0);
        for (const i of old.keys()) file.set("old", i, "moved", 0);
        const runs = file.runs().filter((run) => run.class !== "read");
        const folded = (some: Interval[]) =>
          foldRows(layRows(hunks, next.length, some, 3, runs), runs, (row) => row === kept);
        for (const layOut of [oneColumn, (rows: Rows): Layout => twoColumns(rows, new Map())]) {
          const named = [folded([]), folded(opened)].map((rows) => {
            const layout = layOut(rows);
            const names = Array.from({ length: layout.count }, (_, place) => keyOfPlace(rows, layout, place));
            expect(new Set(names).size).toBe(layout.count);
            // What a place shows, by its number.
            return new Map(
              names.map((name, place) => {
                const row = layout.right[place] >= 0 ? layout.right[place] : layout.left[place];
                return [name, [rows.kind[row], rows.next[row], rows.next[row] < 0 ? rows.old[row] : -1]];
              }),
            );
          });
          // In either layout the same number is of the same line; a fold and a gap may stand for more or fewer.
          for (const [name, shows] of named[0]) if (named[1].has(name)) expect(named[1].get(name)).toEqual(shows);
        }
      }),
    );
  });

  it("fit two where lines were edited, one where they only came or went", () => {
    const columns = (a: string, b: string) => fittingColumns(compareFiles(Buffer.from(a), Buffer.from(b)));
    expect(columns("const limit = 1;\n", "const limit = 2;\n")).toBe(2);
    expect(columns("", "all();\nnew();\n")).toBe(1);
    expect(columns("gone();\n", "const other = thing;\nand(more);\n")).toBe(1);
  });

  it("are as many as the reader wants, but never two for a file that is there on one side alone", () => {
    const edited = compareFiles(Buffer.from("const limit = 1;\n"), Buffer.from("const limit = 2;\n"));
    const of = (wanted: "fit" | "one" | "two", room: boolean, twoSided: boolean) =>
      columnsOf(wanted, edited, { room, twoSided });
    expect([of("fit", true, true), of("one", true, true), of("two", true, true)]).toEqual([2, 1, 2]);
    // Without room two come only where they are asked for.
    expect([of("fit", false, true), of("two", false, true)]).toEqual([1, 2]);
    expect([of("fit", true, false), of("two", true, false)]).toEqual([1, 1]);
  });
});
