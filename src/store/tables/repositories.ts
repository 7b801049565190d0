import type { Generated } from "kysely";
import type { Flag } from "@/core/house/labels/labels";
import type { EditionState } from "@/core/rules/rule";

/** Repositories, where they come from, and what their keepers say of them. */

export interface RepositoriesTable {
  id: string;
  name: string;
  default_branch: string;
  created_at: number;
  /** What it is, in a line. */
  description: string;
  /** Whether everyone who signs in may read it. */
  open_to_all: number;
  archived_at: number | null;
  /** Whether its reviews are written into it. */
  ledger: number;
  /** It is there for a while after that, to be brought back. */
  deleted_at: number | null;
}

/** Where a repository is fetched from. */
export interface OriginsTable {
  repository: string;
  account: string;
  /** A password or token, as it is: it has to be said again at each fetch. */
  secret: string;
  /** In minutes; 0 for never by itself. */
  every: number;
  fetched_at: number | null;
  /** Why the last fetch failed; empty when it did not. */
  problem: string;
}

/** Every edition of a repository's rules; the one with the highest version counts. `rules` are JSON. */
export interface RuleSetsTable {
  repository: string;
  version: number;
  by: string | null;
  at: number;
  note: string;
  rules: string;
  state: Generated<EditionState>;
  /** The second keeper, who agreed to it or dropped it, and when. */
  second: string | null;
  second_at: number | null;
}

/** Mail to a keeper who is to agree to an edition of the rules. */
export interface RuleMessagesTable {
  repository: string;
  version: number;
  person: string;
  due_at: number;
  tries: number;
  sent_at: number | null;
  problem: string | null;
}

export interface LabelsTable {
  repository: string;
  name: string;
  flag: Flag;
  about: string;
  /** A JSON list of patterns. */
  paths: string;
}

/** Lists that all who see a repository have. */
export interface SharedListsTable {
  id: string;
  repository: string;
  name: string;
  query: string;
}

/** The small tracker of reasons for changes. */
export interface WorkItemsTable {
  repository: string;
  number: number;
  title: string;
  body: string;
  state: "open" | "done";
  by: string;
  assignee: string | null;
  at: number;
  changed_at: number;
  /** The change set that ended it. */
  closed_by: string | null;
}

/** Addresses that are told what happens in a repository. */
export interface HooksTable {
  id: string;
  /** Null for one that is told of all of them. */
  repository: string | null;
  url: string;
  /** With which messages are signed, as it was told: it has to be known again at each. */
  secret: string;
  /** Of events, as a JSON list; an empty one stands for all. */
  kinds: string;
  made_at: number;
}

/** A message to one of them. It waits while `due_at` is set; it was taken when `done_at` is; with neither it was given up. */
export interface DeliveriesTable {
  id: string;
  hook: string;
  change_set: string;
  event: string;
  kind: string;
  body: string;
  at: number;
  tries: number;
  due_at: number | null;
  done_at: number | null;
  /** What was answered last. */
  answer: string;
}

/** An event whose branch is about to be moved: lets a crash in between be told from one that happened. One for a change set at a time. */
export interface RefIntentsTable {
  id: string;
  change_set: string;
  by: string;
  at: number;
  branch: string;
  from_commit: string;
  to_commit: string;
  /** Kind and data of the event, as JSON. */
  event: string;
}

/** Who moved a ref, by a push or by what was asked for here. Announced before git moves it, and noted as happened afterwards. */
export interface RefMovesTable {
  id: string;
  repository: string;
  /** "refs/heads/main" */
  ref: string;
  /** Commits; only zeros for none. */
  old: string;
  next: string;
  person: string | null;
  way: "push" | "merge" | "suggestions" | "left-out" | "take-back" | "tidied";
  happened: number;
  at: number;
}

/** Another server that holds the reviews of a repository. */
export interface NeighboursTable {
  repository: string;
  /** What it is called here: its people are shown as “at NAME”. */
  name: string;
  /** The id of the key that it signs with. */
  key: string;
  /** Of the repository there, for git over HTTP. */
  address: string;
  account: string;
  secret: string;
  /** With what its webhook is signed that says that something happened; empty where it has none. */
  bell: string;
  /** How often it is asked, in minutes. */
  every: number;
  asked_at: number | null;
  /** Why the last asking failed; empty where it did not. */
  problem: string;
}
