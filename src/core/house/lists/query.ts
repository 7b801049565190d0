import { done, type Outcome, refuse } from "../../plain/outcome";
import { KEYS, type Key, type Word } from "./words";

/** One thing that is asked of a list: a word with what is said of it, or words that have to be in the text. */
export type Term =
  | { key: Exclude<Key, Counted | Aged | "sort">; value: string; not: boolean }
  | { key: Counted; than: "more" | "less" | "exactly"; number: number; not: boolean }
  /** In milliseconds. */
  | { key: Aged; than: "more" | "less"; span: number; not: boolean }
  | { key: "text"; value: string; not: boolean };

type Counted = "threads" | "rounds" | "load";
type Aged = "age" | "still";

/** A list of change sets as it is asked for. */
export interface Query {
  terms: Term[];
  sort: Sort;
}

export const SORTS = ["changed", "still", "age", "load"] as const;
export type Sort = (typeof SORTS)[number];

const MOST_TERMS = 30;
const LONGEST = 500;
const SPANS: Record<string, number> = { h: 3_600_000, d: 86_400_000, w: 7 * 86_400_000 };

/**
 * Reads a query: `by:me state:open still:>7d "tide table" -in:berth-planner`. What has no word before it has to be in the title, the description or
 * what was said; a dash before anything turns it round. Refuses, with a sentence that names the place, what means nothing.
 *
 * @example `readQuery("rounds:>2")` has the term `{ key: "rounds", than: "more", number: 2, not: false }`
 */
export function readQuery(text: string): Outcome<Query> {
  if (text.length > LONGEST) return refuse("invalid", `A query has ${LONGEST} characters at most.`);
  const terms: Term[] = [];
  let sort: Sort = "changed";
  for (const { raw, not, key, value } of partsOf(text)) {
    if (key === null) {
      terms.push({ key: "text", value, not });
      continue;
    }
    const word = KEYS.get(key);
    if (!word)
      return refuse(
        "invalid",
        `“${key}:” is no word of a query. There are ${[...KEYS.keys()].map((one) => `${one}:`).join(", ")}.`,
      );
    if (value === "") return refuse("invalid", `Say what “${key}:” is to be. ${word.about}`);
    if (word.key === "sort") {
      if (not || !isSort(value)) return refuse("invalid", `“${raw}” is no order: ${SORTS.join(", ")}.`);
      sort = value;
      continue;
    }
    const term = termOf(word, value, not);
    if (!term) return refuse("invalid", `“${raw}” means nothing here. ${word.about}`);
    terms.push(term);
  }
  if (terms.length > MOST_TERMS) return refuse("invalid", `A query asks for ${MOST_TERMS} things at most.`);
  return done({ terms, sort });
}

function isSort(value: string): value is Sort {
  return (SORTS as readonly string[]).includes(value);
}

function termOf(word: Word, value: string, not: boolean): Term | null {
  const { key } = word;
  if (key === "threads" || key === "rounds" || key === "load") {
    const [, sign, number] = /^([<>]?)(\d{1,6})$/.exec(value) ?? [];
    const than = sign === ">" ? "more" : sign === "<" ? "less" : "exactly";
    return number === undefined ? null : { key, than, number: Number(number), not };
  }
  if (key === "age" || key === "still") {
    const [, sign, number, unit] = /^([<>])(\d{1,5})([hdw])$/.exec(value) ?? [];
    return unit ? { key, than: sign === ">" ? "more" : "less", span: Number(number) * SPANS[unit], not } : null;
  }
  if (key === "sort") return null;
  if (Array.isArray(word.values) && !word.values.includes(value)) return null;
  return { key, value, not };
}

interface Part {
  raw: string;
  not: boolean;
  key: string | null;
  value: string;
}

const PART = /(-?)(?:([a-z]+):("[^"]*"?|[^\s"]*)|("[^"]*"?|[^\s"]+))/g;

/** The parts of a query: what stands between spaces, and what stands in quotation marks, as one. */
function partsOf(text: string): Part[] {
  return [...text.matchAll(PART)].flatMap(([raw, dash, key, said, words]) => {
    const value = (said ?? words).replace(/^"|"$/g, "").trim();
    return key === undefined && value === "" ? [] : [{ raw, not: dash === "-", key: key ?? null, value }];
  });
}

/** Writes a term as it is read. */
export function writePart(key: Key, value: string): string {
  return `${key}:${/[\s"]/.test(value) ? `"${value.replaceAll('"', "")}"` : value}`;
}

/** What could come next where somebody writes: whole parts that begin as what stands before the place does. */
export function completions(text: string, at: number, known: KnownValues): { from: number; options: string[] } {
  const from = text.slice(0, at).search(/\S*$/);
  const typed = text.slice(from, at).replace(/^-/, "");
  const dash = text[from] === "-" ? "-" : "";
  const [key, begun] = typed.includes(":") ? typed.split(/:(.*)/s) : [typed, null];
  if (begun === null) {
    const words = [...KEYS.keys()].filter((word) => word.startsWith(key) && key !== "");
    return { from, options: words.map((word) => `${dash}${word}:`) };
  }
  const values = KEYS.get(key)?.values ?? [];
  return {
    from,
    options: (valuesOf(values, known) ?? [])
      .filter((value) => value.startsWith(begun) && value !== begun)
      .map((value) => `${dash}${writePart(key as Key, value)}`),
  };
}

/** What can stand behind words such as `by:` and `in:` in an installation. */
export interface KnownValues {
  people: readonly string[];
  repositories: readonly string[];
  labels: readonly string[];
}

/** What can be said of a word; null where anything can. */
export function valuesOf(
  values: Word["values"],
  { people, repositories, labels }: KnownValues,
): readonly string[] | null {
  if (typeof values !== "string") return values;
  if (values === "people") return ["me", ...people];
  if (values === "asked") return ["me", "nobody", ...people];
  if (values === "label") return ["none", ...labels];
  return values === "repositories" ? repositories : null;
}
