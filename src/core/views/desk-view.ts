import type { HeldLabel } from "../house/labels/labels";
import type { ChangeSet } from "../review/state";
import type { Gate } from "../rules/gate";

/** One line of a desk or of a repository's list. Names are names of people, not ids. */
export interface ChangeLine {
  repository: string;
  number: number;
  title: string;
  state: ChangeSet["state"];
  author: string;
  authorId: string;
  source: string;
  target: string;
  revision: number;
  changedAt: number;
  openThreads: number;
  /** Lines to read in its newest revision; null while that is not known. */
  load: number | null;
  /** How many of them are new to who asks; null where that is not known, and for what is their own. */
  fresh: number | null;
  gate: Gate | null;
  labels: HeldLabel[];
  /** How much of what happened to it nobody else was given yet; null on a server. */
  keptHere: number | null;
  /** What the checks of its newest revision say, taken together. */
  checks: "passed" | "failed" | "running" | "none";
  /** Why it stands where it does, in sentences: one at least. */
  reasons: string[];
}

/** Open change sets by who has to move next, and those that were settled lately. */
export interface DeskView {
  forMe: ChangeLine[];
  forThem: ChangeLine[];
  /** Nobody asked this person, and an approval or a merge of theirs would bring it on. */
  couldBe: ChangeLine[];
  elsewhere: ChangeLine[];
  settled: ChangeLine[];
  /** How many more are open, with which this person has nothing to do, and which were not looked at. */
  more: number;
  /** Something of it is being counted or followed yet: it may say more in a moment. */
  counting: boolean;
}

/** A page of a list. */
export interface ListView {
  lines: ListLine[];
  /** How many there are in all. */
  count: number;
  /** Where the next page begins; null on the last one. */
  next: string | null;
  /** Something of this page is being counted or followed yet: it may say more in a moment. */
  counting: boolean;
}

/** A line of a list, with how it stands for who asks: see `DeskPlace`. */
export interface ListLine extends ChangeLine {
  waits: "me" | "them" | "could" | "none";
}

/** A list that somebody keeps: a query under a name. `count` is null where the query can no longer be read. */
export interface KeptList {
  id: string;
  name: string;
  query: string;
  count: number | null;
  /** The repository whose keepers share it; null for one's own. */
  shared: string | null;
}

/** Something that was found by its words, wherever it is. */
export interface FoundThing {
  kind: "change" | "thread" | "file" | "person" | "work" | "repository" | "commit";
  /** What it is called, or how it begins. */
  title: string;
  /** Where it is, in words. */
  where: string;
  /** The page that shows it. */
  address: string;
}

/** What happened that concerns somebody, by change set. */
export interface NoticesView {
  groups: { repository: string; number: number; title: string; state: ChangeSet["state"]; notices: Notice[] }[];
  /** There are older ones that are not listed. */
  more: boolean;
}

export interface Notice {
  /** The entry of the log. */
  event: string;
  at: number;
  by: string;
  /** A sentence without a full stop. */
  says: string;
  /** Why it is told, in a sentence. */
  why: string;
  unread: boolean;
}
