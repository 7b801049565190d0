import type { Weight } from "@/core/review/shapes";

/** What belongs to one person: what they have not sent, have read, keep and hear of. */

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

/** Suggestions that someone means to take with the next commit. */
export interface PicksTable {
  change_set: string;
  person: string;
  thread: string;
  suggestion: string;
  /** What names the suggestion as it stood when it was picked: edited, it is another one. */
  content: string;
  at: number;
}

/** That a person has read a file in the state that these two blobs make; an absent side is empty. */
export interface ReadMarksTable {
  person: string;
  change_set: string;
  path: string;
  old_id: string;
  new_id: string;
  /** Its number then, and its commits; those are null in older rows. */
  revision: number;
  head: string | null;
  base: string | null;
  at: number;
}

/** Files that a person has opened to their end, with the newest revision in which they did. */
export interface LooksTable {
  change_set: string;
  person: string;
  path: string;
  /** Its number then, and its commits; those are null in older rows. */
  revision: number;
  head: string | null;
  base: string | null;
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

/** A list that a person keeps: a query under a name. */
export interface ListsTable {
  id: string;
  person: string;
  name: string;
  query: string;
  /** Lists stand in this order. */
  position: number;
}

/** What somebody wants to hear, as JSON. */
export interface WishesTable {
  person: string;
  wishes: string;
}

/** That an entry of the log concerns somebody, and when they saw it. */
export interface NoticesTable {
  person: string;
  event: string;
  change_set: string;
  read_at: number | null;
}

/** Who wants no mail about a change set. */
export interface UnfollowedTable {
  change_set: string;
  person: string;
}

/** Mail that is to go out, or went. `events` is a JSON list of ids of what it tells. */
export interface MessagesTable {
  id: string;
  change_set: string;
  person: string;
  events: string;
  due_at: number;
  tries: number;
  sent_at: number | null;
  problem: string | null;
  /** When it was answered first: from then on others may know the address for answers, too. */
  answered_at: number | null;
}
