import Papa from "papaparse";
import { diffLines } from "../../diff/lines";
import { groupedBy } from "../../plain/grouped";

/** A table of values in both states. */
export interface TableForm {
  columns: { name: string; mark: "same" | "added" | "removed" }[];
  /** The columns that both states have stand in another order now. */
  reordered: boolean;
  rows: TableRow[];
}

export type TableRow =
  /** So many rows that are the same to the last sign. */
  | { kind: "same"; count: number }
  | {
      /** `written`: every value is the same, and the row is written in another way, such as with quotation marks. */
      kind: "changed" | "added" | "removed" | "written";
      /** Where it begins in either state, 0-based; null where it is not there. */
      old: number | null;
      next: number | null;
      cells: Cell[];
    };

/** A value as it was and is; null where the row or the column is not there. */
export interface Cell {
  before: string | null;
  after: string | null;
}

interface Row {
  values: string[];
  raw: string;
  /** 0-based. */
  line: number;
}

const MOST_COLUMNS = 200;

/**
 * What a change made of a table of values (RFC 4180), by cell: columns are the same by their names in the first row, rows by what is in the columns of
 * both states, within what differs by their first value. Refuses, with a sentence, what cannot be read as a table.
 */
export function tableForm(path: string, old: string, next: string): TableForm | string {
  const [before, after] = [rowsOf(path, old), rowsOf(path, next)];
  if (typeof before === "string") return before;
  if (typeof after === "string") return after;
  const [was, is] = [namesOf(before), namesOf(after)];
  if (Math.max(was.length, is.length) > MOST_COLUMNS)
    return `It has more than ${MOST_COLUMNS} columns: it can only be read line by line.`;
  const columns = [
    ...is.map((name) => ({ name, mark: was.includes(name) ? ("same" as const) : ("added" as const) })),
    ...was.filter((name) => !is.includes(name)).map((name) => ({ name, mark: "removed" as const })),
  ];
  // A state that is not there has no columns of its own.
  if (before.length === 0 || after.length === 0) for (const column of columns) Object.assign(column, { mark: "same" });
  const both = columns.filter(({ name }) => was.includes(name) && is.includes(name)).map(({ name }) => name);
  const order = was.filter((name) => both.includes(name)).join("\0");
  const reordered = order !== is.filter((name) => both.includes(name)).join("\0");
  const [oldRows, newRows] = [before.slice(1), after.slice(1)];
  const valueIn = (names: readonly string[]) => {
    const places = new Map(names.map((name, at) => [name, at]));
    return (row: Row | null, name: string) => {
      const at = places.get(name);
      return row === null || at === undefined ? null : (row.values[at] ?? "");
    };
  };
  const [oldValue, newValue] = [valueIn(was), valueIn(is)];
  const key = (row: Row, value: typeof oldValue) => JSON.stringify(both.map((name) => value(row, name)));
  const cells = (a: Row | null, b: Row | null): Cell[] =>
    columns.map(({ name }) => ({ before: oldValue(a, name), after: newValue(b, name) }));
  const isNew = was.join("\0") !== is.join("\0") && before.length > 0 && after.length > 0;
  const rows: TableRow[] = [];
  const put = (a: Row | null, b: Row | null) => {
    const where = { old: a?.line ?? null, next: b?.line ?? null, cells: cells(a, b) };
    if (!a || !b) return rows.push({ kind: a ? "removed" : "added", ...where });
    const last = rows[rows.length - 1];
    const sameValues = where.cells.every(({ before, after }) => (before ?? "") === (after ?? ""));
    if (!sameValues) return rows.push({ kind: "changed", ...where });
    // With other columns every row is written in another way.
    if (a.raw !== b.raw && !isNew) return rows.push({ kind: "written", ...where });
    if (last?.kind === "same") last.count++;
    else rows.push({ kind: "same", count: 1 });
  };
  // The names of the columns may be written in another way, too.
  if (before.length > 0 && after.length > 0 && !isNew && before[0].raw !== after[0].raw) put(before[0], after[0]);
  let at = 0;
  let shift = 0;
  const hunks = diffLines(
    oldRows.map((row) => key(row, oldValue)),
    newRows.map((row) => key(row, newValue)),
  );
  for (const hunk of hunks) {
    for (; at < hunk.oldStart; at++) put(oldRows[at], newRows[at + shift]);
    for (const [a, b] of paired(
      oldRows.slice(hunk.oldStart, hunk.oldEnd),
      newRows.slice(hunk.newStart, hunk.newEnd),
      (one, other) => alike(both, (name) => oldValue(one, name) === newValue(other, name)),
    ))
      put(a, b);
    at = hunk.oldEnd;
    shift = hunk.newEnd - hunk.oldEnd;
  }
  for (; at < oldRows.length; at++) put(oldRows[at], newRows[at + shift]);
  return { columns, reordered, rows };
}

/** Rows with the same first value belong together, and those at the same place that are alike. Each is in the result once. */
function paired(old: Row[], next: Row[], isAlike: (a: Row, b: Row) => boolean): [Row | null, Row | null][] {
  // The first of each at the end, where it is taken from.
  const byFirst = groupedBy(old.toReversed(), ({ values }) => values[0]);
  const partner = new Map<Row, Row>();
  for (const row of next) {
    const other = byFirst.get(row.values[0])?.pop();
    if (other) partner.set(row, other);
  }
  const taken = new Set(partner.values());
  for (const [at, row] of next.entries()) {
    const other = old[at];
    if (partner.has(row) || !other || taken.has(other) || !isAlike(other, row)) continue;
    partner.set(row, other);
    taken.add(other);
  }
  const gone = old.filter((row) => !taken.has(row)).map((row): [Row, null] => [row, null]);
  return [...gone, ...next.map((row): [Row | null, Row] => [partner.get(row) ?? null, row])];
}

function alike(names: readonly string[], isSame: (name: string) => boolean): boolean {
  return names.filter(isSame).length * 2 >= names.length && names.length > 1;
}

/** The names of the columns, each once: a second of one name is told by a number. Where rows are longer than the first one, what they go on with is in columns, too. */
function namesOf(rows: readonly Row[]): string[] {
  const seen = new Map<string, number>();
  const names = new Set<string>();
  const width = rows.reduce((most, { values }) => Math.max(most, values.length), 0);
  for (let at = 0; at < width; at++) {
    const name = rows[0].values[at] ?? `column ${at + 1}`;
    let count = seen.get(name) ?? 0;
    let only = name;
    do only = count++ === 0 ? name : `${name} (${count})`;
    while (names.has(only));
    seen.set(name, count);
    names.add(only);
  }
  return [...names];
}

/** The rows of a text, or a sentence that says why it has none. */
function rowsOf(path: string, text: string): Row[] | string {
  const rows: Row[] = [];
  let from = 0;
  let line = 0;
  let wrong = "";
  Papa.parse<string[]>(text, {
    delimiter: /\.tsv$/i.test(path) ? "\t" : "",
    delimitersToGuess: [",", ";", "\t", "|"],
    step: ({ data, errors, meta }) => {
      const problem = errors.find(({ type }) => type === "Quotes");
      if (problem) wrong = `A quotation mark stands wrong in line ${line + 1}: it can only be read line by line.`;
      const raw = text.slice(from, meta.cursor).replace(/\n$/, "");
      from = meta.cursor;
      if (raw !== "" || data.length > 1) rows.push({ values: data, raw, line });
      line += raw.split("\n").length;
    },
  });
  return wrong || rows;
}
