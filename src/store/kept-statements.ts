import type Sqlite from "libsql";
import { LRUCache } from "lru-cache";

type Connection = InstanceType<typeof Sqlite>;
type Statement = ReturnType<Connection["prepare"]>;

const MOST = 500;
/** Longer ones, in characters, are made for so many values that they hardly come again. */
const LONGEST = 4_000;
/** What changes tables is asked once. */
const COMES_AGAIN = /^(?:select|insert|update|delete|with|begin|commit|rollback)\b/i;

/**
 * A connection whose statements are kept by their words, since preparing one takes longer than most of them run. One that is kept must not be gone through
 * step by step while it is asked again: here all rows of an answer are read at once.
 */
export class KeptStatements {
  readonly #kept = new LRUCache<string, Statement>({ max: MOST });

  constructor(private readonly connection: Connection) {}

  prepare(sql: string): Statement {
    if (sql.length > LONGEST || !COMES_AGAIN.test(sql)) return this.connection.prepare(sql);
    let statement = this.#kept.get(sql);
    if (!statement) {
      statement = this.connection.prepare(sql);
      this.#kept.set(sql, statement);
    }
    return statement;
  }

  close(): void {
    this.#kept.clear();
    this.connection.close();
  }
}
