import type { QueryExecutor } from "kysely";
import type { AskingOnce } from "./asking-once";
import type { Queries } from "./database";

/**
 * What `make` gives, kept until something is written to a table that it asked. `name` says what it is and all that it depends on: nothing but
 * the database may `make` look at besides, neither the time nor a repository. What is given is frozen, since everybody is given the same. In a
 * transaction it is made each time.
 */
export function madeOnce<T>(db: Queries, name: string, make: () => Promise<T>): Promise<T> {
  // By what it can and not by its class: pages and routes are bundled apart, and each would have its own.
  const executor: QueryExecutor & Partial<Pick<AskingOnce, "once">> = db.getExecutor();
  return executor.once ? executor.once(name, make) : make();
}
