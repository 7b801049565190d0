import type Sqlite from "libsql";
import { LRUCache } from "lru-cache";
import { frozen } from "@/core/plain/frozen";

type Connection = InstanceType<typeof Sqlite>;
/** What is checked once, and not kept in memory for whoever looks there. */
const SECRET = /"password"/;

type Row = Readonly<Record<string, unknown>>;

/** Bytes that all answers may take with their questions, and one of them, as they are estimated. */
const ALL = 8_000_000;
const LARGEST = 100_000;
/** What is said of a statement by its words, for so many. */
const STATEMENTS = 2_000;

/** What changes no table. */
const CHANGES_NOTHING =
  /^(?:select|begin|commit|rollback|savepoint|release|with(?![\s\S]*\b(?:insert|update|delete|replace)\b))\b/i;
/** What changes one table alone, as the query builder writes it. Deleting, and putting in the place of another row, may take rows of others with it. */
const CHANGES_ONE = /^(?:insert into|insert or ignore into|update) "(\w+)"/;
/** What tells how many rows it changed. */
const COUNTS = /^(?:insert|update|delete|replace)\b/i;
/** What gives another answer each time, whatever the tables hold. */
const VARIES =
  /\bcurrent_(?:date|time)|\b(?:random|randomblob|date|time|datetime|julianday|unixepoch|strftime|changes|total_changes|last_insert_rowid)\s*\(/i;

/** What something was made of: the words of all that was asked for it, and the bytes of what was said. */
export interface Sources {
  words: ReadonlySet<string>;
  size: number;
}

/** An answer, or what was made of some, and the place in the order of changes that it was asked at. */
export interface Answer<T = unknown> extends Sources {
  value: T;
  at: number;
}

/**
 * Answers to questions of the database, kept as long as nothing was written to a table that they name: many readers ask the same. What another process
 * writes is noticed at the next turn of the loop, and ends all of them. What is kept is frozen, since whoever asks again has the same rows. What is made of
 * answers alone is kept in the same way: as long as nothing was written to a table that any of them names.
 */
export class KeptAnswers {
  readonly #answers = new LRUCache<string, Answer>({
    maxSize: ALL,
    maxEntrySize: LARGEST,
    // A question may name thousands of ids, and be answered with nothing.
    sizeCalculation: ({ size }, key) => size + key.length,
  });
  readonly #words = new LRUCache<string, ReadonlySet<string>>({ max: STATEMENTS });
  readonly #written = new Map<string, number>();
  readonly #version: ReturnType<Connection["prepare"]>;
  /** What stands behind the names of views, and the tables of which a change sets off others; null until it is asked for. */
  #behind: { views: ReadonlyMap<string, readonly string[]>; setOff: ReadonlySet<string> } | null = null;
  /** Counts changes; `#all` is when the last one came that may have reached any table. */
  #now = 0;
  #all = 0;
  #seen: unknown = null;
  #looked = false;

  constructor(private readonly connection: Connection) {
    this.#version = connection.prepare("pragma data_version");
  }

  /** Where the order of changes stands: to be taken before a question is asked, and given with its answer. */
  get now(): number {
    return this.#now;
  }

  /** The rows that a question would be answered with now, if they are known. */
  find(sql: string, parameters: readonly unknown[]): Answer<readonly Row[]> | null {
    this.#look();
    const key = keyOf(sql, parameters);
    return key === null ? null : (this.#holding(key) as Answer<readonly Row[]> | null);
  }

  /** Keeps an answer and freezes its rows; null where it is large, has bytes in it or may differ without a change. */
  keep<T>(sql: string, parameters: readonly unknown[], rows: T[], at: number): Answer<readonly T[]> | null {
    const words = this.#wordsOf(sql);
    const key = keyOf(sql, parameters);
    if (words.size === 0 || key === null) return null;
    const size = sizeOf(rows as Row[]);
    if (size > LARGEST || (rows as Row[]).some((row) => Object.values(row).some(isObject))) return null;
    for (const row of rows) Object.freeze(row);
    const answer = { value: rows, at, words, size };
    this.#answers.set(key, answer);
    return answer;
  }

  /** What was made under a name, if what it was made of is as it was. */
  findMade(name: string): Answer | null {
    this.#look();
    return this.#holding(madeKey(name));
  }

  /** Keeps what was made of answers, all of it frozen: whoever asks again is given the same. */
  keepMade<T>(name: string, value: T, { words, size }: Sources, at: number): Answer<T> {
    const answer = { value: frozen(value), at, words, size: size + 200 };
    this.#answers.set(madeKey(name), answer);
    return answer;
  }

  /** A statement was run that may have changed something. */
  ran(sql: string, changes: number): void {
    if (CHANGES_NOTHING.test(sql)) return;
    if (changes === 0 && COUNTS.test(sql)) return;
    const table = CHANGES_ONE.exec(sql)?.[1].toLowerCase();
    if (table && !this.#schema().setOff.has(table)) this.#written.set(table, ++this.#now);
    else this.#end();
    // Anything else may have made or dropped a table.
    if (!COUNTS.test(sql)) this.#forgetSchema();
  }

  #end(): void {
    this.#all = ++this.#now;
  }

  #forgetSchema(): void {
    this.#behind = null;
    this.#words.clear();
  }

  #schema() {
    if (this.#behind) return this.#behind;
    const rows = this.connection
      .prepare("select type, name, tbl_name as of, sql from sqlite_master where type in ('view', 'trigger')")
      .all([]) as { type: string; name: string; of: string; sql: string }[];
    const views = new Map(
      rows.flatMap(({ type, name, sql }) => (type === "view" ? [[name.toLowerCase(), wordsIn(sql)]] : [])),
    );
    const setOff = new Set(rows.flatMap(({ type, of }) => (type === "trigger" ? [of.toLowerCase()] : [])));
    this.#behind = { views, setOff };
    return this.#behind;
  }

  #holding(key: string): Answer | null {
    const answer = this.#answers.get(key);
    return answer && this.#holds(answer) ? answer : null;
  }

  #holds({ at, words }: Answer): boolean {
    if (at < this.#all) return false;
    for (const [table, when] of this.#written) if (when > at && words.has(table)) return false;
    return true;
  }

  /** Whether another connection has written since: asked once for all that is asked together. */
  #look(): void {
    if (this.#looked) return;
    this.#looked = true;
    setImmediate(() => {
      this.#looked = false;
    });
    const { data_version } = (this.#version as unknown as { get(): unknown }).get() as { data_version: number };
    if (data_version === this.#seen) return;
    this.#seen = data_version;
    this.#end();
    this.#forgetSchema();
  }

  /** All words of a question, among them the tables that it is about; none where its answer varies by itself, or is a secret. */
  #wordsOf(sql: string): ReadonlySet<string> {
    const known = this.#words.get(sql);
    if (known) return known;
    const words = new Set(/^select\b/i.test(sql) && !VARIES.test(sql) && !SECRET.test(sql) ? wordsIn(sql) : []);
    // A set is gone through with what is added to it meanwhile: views of views are followed, too.
    for (const word of words) for (const behind of this.#schema().views.get(word) ?? []) words.add(behind);
    this.#words.set(sql, words);
    return words;
  }
}

function wordsIn(sql: string): string[] {
  return sql.toLowerCase().match(/\w+/g) ?? [];
}

/** A question with its values, told apart from every other one; null where one of them is no plain value. */
function keyOf(sql: string, parameters: readonly unknown[]): string | null {
  const isPlain = (value: unknown) =>
    value === null || typeof value === "string" || (typeof value === "number" && Number.isFinite(value));
  return parameters.every(isPlain) ? `${sql}\0${JSON.stringify(parameters)}` : null;
}

/** Told apart from questions, which begin with a word of SQL. */
function madeKey(name: string): string {
  return `\0${name}`;
}

function sizeOf(rows: readonly Row[]): number {
  let size = 200;
  for (const row of rows) {
    size += 80;
    for (const value of Object.values(row)) size += typeof value === "string" ? 16 + value.length : 16;
  }
  return size;
}

function isObject(value: unknown): boolean {
  return typeof value === "object" && value !== null;
}
