import * as v from "valibot";
import { diffLines } from "../../diff/lines";

/** A cell of a notebook: what was written in it, and what came of it. */
export interface NotebookCell {
  id: string | null;
  kind: "code" | "markdown" | "raw";
  lines: string[];
  outputs: CellOutput[];
  /** What else stands in the cell, by its keys, each as JSON, without the numbers of runs: not drawn. What came of it is there as a whole. */
  rest: Record<string, string>;
}

export type CellOutput =
  | { kind: "text"; text: string }
  /** An image that a browser draws and that can do nothing: `source` is an address with the data in it. */
  | { kind: "image"; source: string }
  /** What is not drawn, since it could do something or hide something. */
  | { kind: "untold"; type: string; length: number };

export type NotebookPart =
  | { mark: "same"; count: number }
  /** What the notebook says of itself, such as the language that it is run in: which of it differs. Comes first. */
  | { mark: "about"; keys: string[] }
  | { mark: "changed" | "added" | "removed"; before: NotebookCell | null; after: NotebookCell | null };

const lines = v.union([v.string(), v.array(v.string())]);
const output = v.looseObject({
  output_type: v.string(),
  text: v.optional(lines),
  data: v.optional(v.record(v.string(), v.unknown())),
  ename: v.optional(v.string()),
  evalue: v.optional(v.string()),
});
const notebook = v.looseObject({
  cells: v.array(
    v.looseObject({
      id: v.optional(v.string()),
      cell_type: v.picklist(["code", "markdown", "raw"]),
      source: lines,
      outputs: v.optional(v.array(output), []),
    }),
  ),
});

interface Book {
  cells: NotebookCell[];
  /** What stands beside the cells, by its keys, each as JSON; null where there is no notebook. */
  about: Record<string, string> | null;
}

/**
 * What a change made of a notebook (nbformat 4), cell by cell: cells are the same by what is in them, then by their ids, then by their places. Refuses, with
 * a sentence, what is none, and what gives one key twice, since one of them would not be seen.
 */
export function notebookParts(old: string, next: string): NotebookPart[] | string {
  const [first, second] = [bookOf(old), bookOf(next)];
  if (typeof first === "string") return first;
  if (typeof second === "string") return second;
  const [before, after] = [first.cells, second.cells];
  const [was, is] = [before, after].map((cells) => cells.map((cell) => JSON.stringify(cell)));
  const parts: NotebookPart[] = [];
  const about = first.about && second.about ? differing(first.about, second.about) : [];
  if (about.length > 0) parts.push({ mark: "about", keys: about });
  const same = (count: number) => {
    if (count > 0) parts.push({ mark: "same", count });
  };
  let at = 0;
  for (const { oldStart, oldEnd, newStart, newEnd } of diffLines(was, is)) {
    same(oldStart - at);
    at = oldEnd;
    const left = before.slice(oldStart, oldEnd);
    const come = after.slice(newStart, newEnd);
    const partners = come.map((cell) => take(left, (other) => cell.id !== null && other.id === cell.id));
    for (const [i, cell] of come.entries()) partners[i] ??= take(left, (other) => isOfOne(other, cell));
    for (const cell of left) parts.push({ mark: "removed", before: cell, after: null });
    for (const [i, cell] of come.entries())
      parts.push({ mark: partners[i] ? "changed" : "added", before: partners[i], after: cell });
  }
  same(before.length - at);
  return parts;
}

/** Of cells without an id, or with a new one, those of one kind at one place belong together. */
function isOfOne(a: NotebookCell, b: NotebookCell): boolean {
  return a.kind === b.kind && (a.id === null || b.id === null);
}

function take(cells: NotebookCell[], fits: (cell: NotebookCell) => boolean): NotebookCell | null {
  const at = cells.findIndex(fits);
  return at < 0 ? null : cells.splice(at, 1)[0];
}

/** The keys of which the values differ, in order. */
export function differing(before: Record<string, string>, after: Record<string, string>): string[] {
  const keys = new Set([...Object.keys(before), ...Object.keys(after)]);
  return [...keys].filter((key) => before[key] !== after[key]).sort();
}

function bookOf(text: string): Book | string {
  if (text.trim() === "") return { cells: [], about: null };
  if (hasKeyTwice(text)) return "A key stands twice in it: it can only be read line by line.";
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    return "It cannot be read as a notebook: it can only be read line by line.";
  }
  const parsed = v.safeParse(notebook, data);
  if (!parsed.success) return "It is no notebook of the fourth format: it can only be read line by line.";
  // As it is written: what is validated lacks keys such as “constructor”.
  const { cells: written, ...about } = data as { cells: Record<string, unknown>[] };
  return {
    about: asJson(about),
    cells: parsed.output.cells.map(({ id, cell_type, source, outputs }, at) => ({
      id: id ?? null,
      kind: cell_type,
      lines: joined(source).split("\n"),
      outputs: outputs.flatMap(outputOf),
      rest: restOf(written[at]),
    })),
  };
}

function restOf({ id: _id, cell_type: _type, source: _source, ...rest }: Record<string, unknown>) {
  return asJson(rest);
}

/** Each value as JSON, without the numbers of runs in it, whatever the order of keys. */
function asJson(values: object): Record<string, string> {
  const said = (all: object) =>
    Object.entries(all)
      .filter(([key, value]) => key !== "execution_count" || (value !== null && typeof value !== "number"))
      .sort(([a], [b]) => (a < b ? -1 : 1));
  const ordered = (_: string, value: unknown) =>
    value && typeof value === "object" && !Array.isArray(value) ? Object.fromEntries(said(value)) : value;
  return Object.fromEntries(said(values).map(([key, value]) => [key, JSON.stringify(value, ordered)]));
}

function joined(text: string | readonly string[]): string {
  return typeof text === "string" ? text : text.join("");
}

const IMAGES = ["image/png", "image/jpeg"];

function outputOf({ text, data, ename, evalue }: v.InferOutput<typeof output>): CellOutput[] {
  const told = [
    ...(ename === undefined ? [] : [`${ename}: ${evalue ?? ""}`]),
    ...(text === undefined ? [] : [joined(text)]),
  ];
  const shown = Object.entries(data ?? {}).map(([type, value]): CellOutput => {
    const content = v.is(lines, value) ? joined(value) : JSON.stringify(value);
    if (type === "text/plain") return { kind: "text", text: content };
    const code = content.replace(/\s/g, "");
    if (IMAGES.includes(type) && /^[\w+/=]+$/.test(code))
      return { kind: "image", source: `data:${type};base64,${code}` };
    return { kind: "untold", type, length: content.length };
  });
  return [...told.map((text): CellOutput => ({ kind: "text", text })), ...shown];
}

const TOKEN = /"(?:[^"\\]|\\.)*"|[{}[\],:]/g;

/** Whether an object of a JSON text has one key twice: those who read JSON take one of them and say nothing. */
export function hasKeyTwice(text: string): boolean {
  const open: (Set<string> | null)[] = [];
  let last = "";
  for (const [token] of text.matchAll(TOKEN)) {
    if (token === "{") open.push(new Set());
    else if (token === "[") open.push(null);
    else if (token === "}" || token === "]") open.pop();
    else if (token === ":" && last !== "") {
      const keys = open.at(-1);
      const key = keyOf(last);
      if (keys?.has(key)) return true;
      keys?.add(key);
    }
    last = token.startsWith('"') ? token : "";
  }
  return false;
}

function keyOf(token: string): string {
  try {
    return JSON.parse(token);
  } catch {
    return token;
  }
}
