import type { Generated } from "kysely";
import type { Turn } from "@/core/lists/listed";
import type { EventName } from "@/core/review/events";
import type { Role } from "@/core/review/roles";
import type { Weight } from "@/core/review/shapes";

/** Times are milliseconds since 1970; ids are ULIDs; flags are 0 or 1. */
export interface Schema {
  people: PeopleTable;
  sessions: SessionsTable;
  repositories: RepositoriesTable;
  origins: OriginsTable;
  invites: InvitesTable;
  roles: RolesTable;
  rule_sets: RuleSetsTable;
  reports: ReportsTable;
  work_items: WorkItemsTable;
  events: EventsTable;
  change_sets: ChangeSetsTable;
  change_set_people: ChangeSetPeopleTable;
  change_words_of: ChangeWordsOfTable;
  change_words: ChangeWordsTable;
  lists: ListsTable;
  notices: NoticesTable;
  unsent: UnsentTable;
  read_marks: ReadMarksTable;
  comparisons: ComparisonsTable;
  readings: ReadingsTable;
  left_alone: LeftAloneTable;
  ref_intents: RefIntentsTable;
  ref_moves: RefMovesTable;
  audit: AuditTable;
  picks: PicksTable;
  carried: CarriedTable;
  images: ImagesTable;
  tokens: TokensTable;
  followers: FollowersTable;
  letters: LettersTable;
  unfollowed: UnfollowedTable;
  courses: CoursesTable;
  looks: LooksTable;
  secrets: SecretsTable;
  wishes: WishesTable;
  change_loads: ChangeLoadsTable;
  change_paths: ChangePathsTable;
  hooks: HooksTable;
  deliveries: DeliveriesTable;
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
  /** A program's account. */
  machine: number;
  created_at: number;
  /** Whose a machine account is; null for people, and for machines of those who keep the installation. */
  owner: string | null;
  /** Since when they cannot sign in nor do anything; null while they can. */
  disabled_at: number | null;
}

export interface SessionsTable {
  /** By which it is listed and ended. */
  id: string;
  /** SHA-256 of the cookie's value: who reads this table cannot sign in with it. */
  token_hash: string;
  person: string;
  created_at: number;
  expires_at: number;
  used_at: number | null;
  /** From where it was begun: a network address, and what the browser calls itself. */
  address: string;
  agent: string;
}

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
}

/** What somebody wants to hear, as JSON. */
export interface WishesTable {
  person: string;
  wishes: string;
}

/** Addresses that are told what happens in a repository. */
export interface HooksTable {
  id: string;
  repository: string;
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

/** What this installation signs with, by what it is for; made when it is needed first. */
export interface SecretsTable {
  name: string;
  value: string;
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

/** A link by which somebody makes an account of their own. */
export interface InvitesTable {
  id: string;
  /** SHA-256 of its word. */
  word_hash: string;
  /** For whom it is, in the words of who made it. */
  label: string;
  /** The roles that come with it, as JSON: `{"REPOSITORY ID": "reader"}`. */
  roles: string;
  made_by: string;
  made_at: number;
  expires_at: number;
  /** Who came by it. */
  used_by: string | null;
}

export interface RolesTable {
  person: string;
  repository: string;
  role: Role;
}

/** What a target branch asks; the branch `*` speaks for those without a row of their own. */
/** Every edition of a repository's rules; the one with the highest version counts. `rules` are JSON. */
export interface RuleSetsTable {
  repository: string;
  version: number;
  by: string | null;
  at: number;
  note: string;
  rules: string;
}

/** What checks found in detail, as JSON. */
export interface ReportsTable {
  id: string;
  change_set: string;
  result: string;
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
}

/** Numbers of change sets for the index of their words. */
export interface ChangeWordsOfTable {
  id: Generated<number>;
  change_set: string;
}

/** The words of change sets, by those numbers: a full-text index of SQLite. */
export interface ChangeWordsTable {
  rowid: number;
  title: string;
  description: string;
  talk: string;
}

/** That an entry of the log concerns somebody, and when they saw it. */
export interface NoticesTable {
  person: string;
  event: string;
  change_set: string;
  read_at: number | null;
}

/** A list that a person keeps: a query under a name. */
export interface ListsTable {
  id: string;
  person: string;
  name: string;
  query: string;
  /** Lists stand in this order. */
  position: number;
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

/** What a person has written and not sent. Anchor and suggestions are JSON; only remarks have them, only tasks have an assignee. */
export interface UnsentTable {
  id: string;
  change_set: string;
  person: string;
  kind: "remark" | "closing" | "task" | "reply";
  anchor: string | null;
  /** Of a reply: what it answers, and whether it resolves that. */
  thread: string | null;
  resolves: number;
  body: string;
  weight: Weight;
  suggestions: string;
  assignee: string | null;
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

/** Files that a person has opened to their end, with the newest revision in which they did. */
export interface LooksTable {
  change_set: string;
  person: string;
  path: string;
  revision: number;
  at: number;
}

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

/** Who did what to the installation. `about` is JSON: what it was done to. */
export interface AuditTable {
  id: string;
  at: number;
  /** Null for the command line, and where nobody is known. */
  person: string | null;
  what: string;
  about: string;
  /** From where: a network address, or "command line". */
  address: string;
}

/** Suggestions that someone means to take with the next commit. */
export interface PicksTable {
  change_set: string;
  person: string;
  thread: string;
  suggestion: string;
  at: number;
}

/** Keys of commands that were carried out: the same one again does nothing. */
export interface CarriedTable {
  key: string;
  person: string;
  at: number;
}

/** Images in remarks, named by their contents and the repository whose people may see them. */
export interface ImagesTable {
  id: string;
  repository: string;
  person: string;
  type: string;
  bytes: Uint8Array;
  at: number;
}

/** Personal tokens, for programs and for git. */
export interface TokensTable {
  id: string;
  /** SHA-256 of the token. */
  token_hash: string;
  person: string;
  label: string;
  created_at: number;
  used_at: number | null;
  /** Of read, write and git, parted by blanks. */
  scopes: string;
  /** Null: never. */
  expires_at: number | null;
}

/** How far in the log someone who follows it has come: the id of the last event that was dealt with. */
export interface FollowersTable {
  name: string;
  position: string;
}

/** Mail that is to go out, or went. `events` is a JSON list of ids of what it tells. */
export interface LettersTable {
  id: string;
  change_set: string;
  person: string;
  events: string;
  due_at: number;
  tries: number;
  sent_at: number | null;
  problem: string | null;
}

/** Who wants no mail about a change set. */
export interface UnfollowedTable {
  change_set: string;
  person: string;
}

/** How far the lines of a thread have been followed: a `Followed` as JSON, made by a certain version of the follower. */
export interface CoursesTable {
  thread: string;
  change_set: string;
  follower: number;
  result: string;
}
