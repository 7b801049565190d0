import type { Generated } from "kysely";

/** What was worked out and can be again, and what checks reported. */

/** What was worked out and can be again: its length in characters, and about when it was used last. */
interface KeptByUse {
  size: Generated<number>;
  used_at: Generated<number>;
}

/** Results of the engine, kept by content. */
export interface ComparisonsTable extends KeptByUse {
  engine: number;
  old_id: string;
  new_id: string;
  added: number;
  removed: number;
  result: string;
}

/** Whole readings of two commits, kept: commits never change. */
export interface ReadingsTable extends KeptByUse {
  engine: number;
  from_commit: string;
  to_commit: string;
  /** Whose settings counted. */
  settings_commit: string;
  result: string;
}

/** What a change between two commits leaves alone, as JSON of a `LeftAloneView`. */
export interface LeftAloneTable extends KeptByUse {
  engine: number;
  from_commit: string;
  to_commit: string;
  /** Whose settings counted: what is generated is what they say. */
  settings_commit: string;
  result: string;
}

/** How far the lines of a thread have been followed: a `Followed` as JSON, made by a certain version of the follower. */
export interface AnchorHistoriesTable {
  thread: string;
  change_set: string;
  follower: number;
  result: string;
}

/** What checks found in detail, as JSON. */
export interface ReportsTable {
  id: string;
  change_set: string;
  result: string;
}

/** The end of what a check wrote of a commit, as one account told it. */
export interface CheckLogsTable {
  repository: string;
  commit: string;
  name: string;
  person: string;
  tail: string;
  /** From 0 to 1; null where it is not known how far it is. */
  part: number | null;
  at: number;
}
