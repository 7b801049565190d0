import type { Migration } from "kysely";
import * as first from "./0001-first";

/** In order. A migration that has been released is never changed: add the next one. */
export const migrations: Record<string, Migration> = {
  "0001-first": first,
};
