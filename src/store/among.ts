import { type RawBuilder, sql } from "kysely";

/**
 * Ids as one value, to be held against with `in`: a statement with a value for each of a hundred takes longer to be put together than to be answered, and
 * is another one for each number of them.
 */
export function among(ids: readonly string[]): RawBuilder<string> {
  return sql<string>`(select value from json_each(${JSON.stringify(ids)}))`;
}
