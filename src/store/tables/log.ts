import type { Generated } from "kysely";
import type { Turn } from "@/core/house/lists/listed";
import type { EventName } from "@/core/review/events";

/** The log, and what lists know of it. */

/** The log. Rows are only ever added. */
export interface EventsTable {
  id: string;
  stream: string;
  kind: EventName;
  version: number;
  by: string;
  at: number;
  data: string;
}

/** How far in the log someone who follows it has come: the id of the last event that was dealt with. */
export interface FollowersTable {
  name: string;
  position: string;
}

/** Keys of commands that were carried out: the same one again does nothing. */
export interface CarriedTable {
  key: string;
  person: string;
  at: number;
}

/** Made from the log by `project`, for lists; can be thrown away and made again. */
export interface ChangeSetsTable {
  id: string;
  repository: string;
  number: number;
  title: string;
  author: string;
  state: "draft" | "open" | "merged" | "withdrawn";
  source: string;
  target: string;
  revision: number;
  head: string;
  open_threads: number;
  opened_at: number;
  changed_at: number;
  settled_at: number | null;
  /** It is to be merged as soon as the gate opens. */
  merge_asked: number;
  turn: Turn;
  /** What the checks of its newest revision say, taken together. */
  checks: string;
  /** Its number in the index of words, see `ChangeWordsTable`. */
  words: Generated<number | null>;
}

/** Who has to do with a change set; made from the log like `change_sets`. */
export interface ChangeSetPeopleTable {
  change_set: string;
  person: string;
  /** They were asked to review it, or to look again. */
  asked: number;
  /** It is for them to move, see `moversOf`. */
  moves: number;
}

/** The words of change sets, by the numbers that they have for it: a full-text index of SQLite. */
export interface ChangeWordsTable {
  rowid: number;
  title: string;
  description: string;
  talk: string;
}

/** How many lines there are to read in a revision, by the commit that it leads to. */
export interface ChangeLoadsTable {
  change_set: string;
  head: string;
  load: number;
}

/** The paths that the newest revision of a change set touches, as far as they were found. */
export interface ChangePathsTable {
  change_set: string;
  path: string;
  /** Lines to read in it, and its contents on both sides; 0 for the name that a file had before. */
  to_read: number;
  old_id: string;
  new_id: string;
}

export interface ChangeLabelsTable {
  change_set: string;
  label: string;
  /** It has it by what it touches; else somebody gave it. */
  by_path: number;
}

/** A person of another installation, and the key that speaks for them. */
export interface LedgerPeopleTable {
  person: string;
  key: string;
  /** Who of this installation that is; null while nobody has said so. */
  joined: string | null;
}

/** Ledgers of which all is in the log and all of the log is in them, as both stood. */
export interface SettledLedgersTable {
  /** The id of its change set. */
  stream: string;
  stand: string;
}
