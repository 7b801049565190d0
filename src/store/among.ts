import { type RawBuilder, sql } from "kysely";

/**
 * Ids or numbers as one value, to be held against with `in`: a statement with a value for each of a hundred takes longer to be put together than to be answered, and
 * is another one for each number of them.
 */
export function among<T extends string | number>(ids: readonly T[]): RawBuilder<T> {
  return sql<T>`(select value from json_each(${JSON.stringify(ids)}))`;
}
