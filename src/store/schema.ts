import type { EventKind } from "@/core/review/events";
import type { Role } from "@/core/review/roles";

/** Times are milliseconds since 1970; ids are ULIDs; flags are 0 or 1. */
export interface Schema {
  people: PeopleTable;
  sessions: SessionsTable;
  repositories: RepositoriesTable;
  roles: RolesTable;
  rules: RulesTable;
  events: EventsTable;
  change_sets: ChangeSetsTable;
  change_set_people: ChangeSetPeopleTable;
  unsent: UnsentTable;
  read_marks: ReadMarksTable;
  comparisons: ComparisonsTable;
  readings: ReadingsTable;
  merge_intents: MergeIntentsTable;
}

export interface PeopleTable {
  id: string;
  /** What a person signs in with. */
  name: string;
  full_name: string;
  email: string;
  /** argon2id, in its usual text form. */
  password: string;
  administrator: number;
  /** May be signed in as by one click on the demo's sign-in page. */
  demo: number;
  /** What they are in the demo, in a word or two. */
  about: string;
  created_at: number;
}

export interface SessionsTable {
  /** SHA-256 of the cookie's value: who reads this table cannot sign in with it. */
  token_hash: string;
  person: string;
  created_at: number;
  expires_at: number;
}

export interface RepositoriesTable {
  id: string;
  name: string;
  default_branch: string;
  created_at: number;
}

export interface RolesTable {
  person: string;
  repository: string;
  role: Role;
}

/** What a target branch asks; the branch `*` speaks for those without a row of their own. */
export interface RulesTable {
  repository: string;
  branch: string;
  approvals: number;
}

/** The log. Rows are only ever added. */
export interface EventsTable {
  id: string;
  stream: string;
  kind: EventKind;
  version: number;
  by: string;
  at: number;
  data: string;
}

/** Made from the log by `project`, for lists; can be thrown away and made again. */
export interface ChangeSetsTable {
  id: string;
  repository: string;
  number: number;
  title: string;
  author: string;
  state: "open" | "merged" | "withdrawn";
  source: string;
  target: string;
  revision: number;
  head: string;
  open_threads: number;
  opened_at: number;
  changed_at: number;
  settled_at: number | null;
}

/** Who has to do with a change set; made from the log like `change_sets`. */
export interface ChangeSetPeopleTable {
  change_set: string;
  person: string;
}

/** What a person has written and not sent. A row without an anchor is the closing word of their review. */
export interface UnsentTable {
  id: string;
  change_set: string;
  person: string;
  anchor: string | null;
  body: string;
  created_at: number;
  changed_at: number;
}

/** That a person has read a file in the state that these two blobs make; an absent side is empty. */
export interface ReadMarksTable {
  person: string;
  change_set: string;
  path: string;
  old_id: string;
  new_id: string;
  revision: number;
  at: number;
}

/** Results of the engine, kept by content. */
export interface ComparisonsTable {
  engine: number;
  old_id: string;
  new_id: string;
  added: number;
  removed: number;
  result: string;
}

/** Whole readings of two commits, kept: commits never change. */
export interface ReadingsTable {
  engine: number;
  from_commit: string;
  to_commit: string;
  result: string;
}

/** A merge about to move its branch: lets a crash in between be told from a merge that happened. */
export interface MergeIntentsTable {
  change_set: string;
  event: string;
  by: string;
  at: number;
  branch: string;
  from_commit: string;
  to_commit: string;
  revision: number;
  message: string;
}
