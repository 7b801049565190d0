import fc from "fast-check";
import { expect, it } from "vitest";
import { type TableForm, tableForm } from "./table";

function form(old: string, next: string, path = "tides.csv"): TableForm {
  const result = tableForm(path, old, next);
  if (typeof result === "string") throw new Error(result);
  return result;
}
/** Each row as `kind: before>after …`, only where a value differs. */
const told = ({ rows }: TableForm) =>
  rows.map((row) =>
    row.kind === "same"
      ? `same ${row.count}`
      : `${row.kind} ${row.old}/${row.next}: ${row.cells
          .filter(({ before, after }) => before !== after)
          .map(({ before, after }) => `${before}>${after}`)
          .join(" ")}`,
  );

it("tells cell by cell what differs, whatever was added above, and counts the rest", () => {
  const old = "ship,quay,free\nAlma,3,yes\nBrig,4,no\nCog,5,no\n";
  const next = "ship,quay,free\nDory,1,yes\nAlma,3,yes\nBrig,7,no\n";
  expect(told(form(old, next))).toEqual([
    "added null/1: null>Dory null>1 null>yes",
    "same 1",
    "removed 3/null: Cog>null 5>null no>null",
    "changed 2/3: 4>7",
  ]);
});

it("knows columns by their names, wherever they stand, and rows that run over lines", () => {
  const old = 'ship,note,quay\nAlma,"two\nlines",3\nBrig,b,4\nCog,,6\n';
  const next = "ship,quay,hold\nAlma,3,\nBrig,5,1\nCog,6,\n";
  const { columns, rows, reordered } = form(old, next);
  expect(columns.map(({ name, mark }) => `${mark} ${name}`)).toEqual([
    "same ship",
    "same quay",
    "added hold",
    "removed note",
  ]);
  expect(reordered).toBe(false);
  // What stands in a column that came or went is a difference; nothing in it is none.
  expect(rows.map((row) => row.kind === "same" || [row.kind, row.old, row.next])).toEqual([
    ["changed", 1, 1],
    ["changed", 3, 2],
    true,
  ]);
  expect(form("a,b\n1,2\n", "b,a\n2,1\n")).toMatchObject({ reordered: true, rows: [{ kind: "same", count: 1 }] });
});

it("says where only the writing differs, and that nothing is no table", () => {
  expect(told(form("a,b\nx,1\n", 'a,b\n"x",1\n'))).toEqual(["written 1/1: "]);
  expect(told(form("a,b\nx,1\n", '"a",b\nx,1\n'))).toEqual(["written 0/0: ", "same 1"]);
  expect(told(form("a,b\nx,1\n", "a,b\r\nx,1\r\n"))).toEqual(["written 0/0: ", "written 1/1: "]);
  expect(told(form("", "a,b\nx,1\n"))).toEqual(["added null/1: null>x null>1"]);
  expect(told(form("a\tb\nx,y\t1\n", "a\tb\nx,y\t2\n", "a.tsv"))).toEqual(["changed 1/1: 1>2"]);
  expect(tableForm("a.csv", "a\n", 'a,b\n"x"y,1\n')).toMatch(/quotation mark stands wrong in line 2/);
  expect(tableForm("a.csv", "", `${",".repeat(300)}\n`)).toMatch(/more than 200 columns/);
  expect(form("", "").rows).toEqual([]);
});

it("never counts a row as the same whose line differs, and has every row of both states once", () => {
  const cell = fc.constantFrom("a", "b", "", '"q"', '"x,y"', '"two\nlines"');
  const table = fc
    .array(fc.tuple(cell, cell), { maxLength: 7 })
    .map((rows) => ["h,i", ...rows.map((row) => row.join(","))].join("\n"));
  const rowsIn = (text: string) => {
    const all = form("", text).rows;
    return all.length;
  };
  fc.assert(
    fc.property(table, table, (old, next) => {
      const { rows } = form(old, next);
      const same = rows.reduce((sum, row) => sum + (row.kind === "same" ? row.count : 0), 0);
      const told = rows.flatMap((row) => (row.kind === "same" ? [] : [row]));
      expect(same + told.filter((row) => row.old !== null).length).toBe(rowsIn(old));
      expect(same + told.filter((row) => row.next !== null).length).toBe(rowsIn(next));
      if (told.length === 0) expect(old.replace(/\n+$/, "")).toBe(next.replace(/\n+$/, ""));
    }),
  );
});

it("shows every value that became another, whatever the columns are called and however long the rows are", () => {
  const name = fc.constantFrom("a", "a (2)", "a (3)", "a (2) (2)", "", "column 3");
  const row = fc.array(fc.constantFrom<string>("1", "2", ""), { minLength: 1, maxLength: 5 });
  const table = fc.tuple(fc.array(name, { minLength: 1, maxLength: 4 }), fc.array(row, { minLength: 1, maxLength: 4 }));
  fc.assert(
    fc.property(table, fc.nat(), fc.nat(), ([head, rows], at, place) => {
      const text = (all: string[][]) =>
        [head, ...all].map((cells) => cells.map((one) => `"${one}"`).join(",")).join("\n");
      const line = at % rows.length;
      const values = rows[line].with(place % rows[line].length, "9");
      const told = form(text(rows), text(rows.with(line, values))).rows;
      const shown = told.flatMap((one) => (one.kind === "same" || one.kind === "written" ? [] : one.cells));
      expect(shown.filter(({ before, after }) => before !== "9" && after === "9")).toHaveLength(1);
    }),
  );
});

it("pairs rows of one first value in their order, however many there are", () => {
  const rows = (value: number) => `year,tide\n${`2026,${value}\n`.repeat(100_000)}`;
  const { rows: told } = form(rows(1), rows(2));
  expect(told).toHaveLength(100_000);
  expect(told.every((row, n) => row.kind === "changed" && row.old === n + 1 && row.next === n + 1)).toBe(true);
});
