import type Sqlite from "libsql";
import { LRUCache } from "lru-cache";

type Connection = InstanceType<typeof Sqlite>;

const MOST = 500;
/** Longer ones, in characters, are made for so many values that they hardly come again. */
const LONGEST = 4_000;
/** What changes tables is asked once. */
const COMES_AGAIN = /^(?:select|insert|update|delete|with|begin|commit|rollback)\b/i;

/** A statement as the query builder runs it: one that has rows is asked for all of them at once. */
export interface Run {
  readonly reader: boolean;
  all(parameters: readonly unknown[]): unknown[];
  run(parameters: readonly unknown[]): { changes: number; lastInsertRowid: number };
}

/**
 * A connection whose statements are kept by their words, since preparing one takes longer than most of them run. One that is kept must not be gone through
 * step by step while it is asked again: here all rows of an answer are read at once. `ran` is told of each, and how many rows it changed.
 */
export class KeptStatements {
  readonly #kept = new LRUCache<string, Run>({ max: MOST });

  constructor(
    private readonly connection: Connection,
    private readonly ran: (sql: string, changes: number) => void = () => undefined,
  ) {}

  prepare(sql: string): Run {
    if (sql.length > LONGEST || !COMES_AGAIN.test(sql)) return this.#made(sql);
    let statement = this.#kept.get(sql);
    if (!statement) {
      statement = this.#made(sql);
      this.#kept.set(sql, statement);
    }
    return statement;
  }

  close(): void {
    this.#kept.clear();
    this.connection.close();
  }

  #made(sql: string): Run {
    const statement = this.connection.prepare(sql) as unknown as Run;
    // Asked once: it crosses over to what is no JavaScript.
    const { reader } = statement;
    return {
      reader,
      all: (parameters) => {
        const rows = statement.all(parameters);
        this.ran(sql, rows.length);
        return rows;
      },
      run: (parameters) => {
        const done = statement.run(parameters);
        this.ran(sql, done.changes);
        return done;
      },
    };
  }
}
