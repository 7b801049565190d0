import type { Anchor } from "../anchor/anchor";
import type { MergeKind } from "../rules/rule";
import type { Suggestion } from "../suggest/suggestion";
import type { Role } from "./roles";

/** The three answers a review can end with. `none` leaves the person's earlier answer standing. */
export type Verdict = "approve" | "request-changes" | "none";

/** One pushed state of a change set. All three are full commit ids. */
export interface RevisionFacts {
  head: string;
  target: string;
  base: string;
}

/** Whether a remark has to be settled before the change set merges, or is said in passing. */
export type Weight = "settle" | "aside";

/** What can be said to a comment in one word. */
export const REACTIONS = ["agreed", "thanks", "unsure"] as const;
export type Reaction = (typeof REACTIONS)[number];

/**
 * How a revision came of the one before: commits on top of it, the same on another base, other commits in place of it, an earlier commit
 * again, suggestions taken, or the same commits offered to another branch.
 */
export type Kind = "forward" | "rebased" | "rewritten" | "back" | "suggestions" | "retargeted";

/** A remark as it is sent: it opens a thread of the same id. Entries without a weight were written before there was one. */
export interface SentRemark {
  thread: string;
  comment: string;
  anchor: Anchor;
  body: string;
  weight?: Weight;
  suggestions?: Suggestion[];
}

/** Something to do before merging that belongs to no line. */
export interface SentTask {
  task: string;
  body: string;
  /** Who is to do it; null for whoever does. */
  person: string | null;
}

/** A suggestion that was taken, and the thread it was made in. */
export interface Taken {
  thread: string;
  suggestion: string;
}

/** Who is asked to review: a person, or anyone of a role. */
export type Invited = { person: string } | { role: Exclude<Role, "reader"> };

export const CHECK_STATES = ["waiting", "running", "passed", "failed", "skipped"] as const;
export type CheckState = (typeof CHECK_STATES)[number];

/** A check as it was reported. */
export interface Checked {
  commit: string;
  name: string;
  state: CheckState;
  summary: string;
  /** Where more can be read: http or https; empty where there is nothing. */
  link: string;
  /** The id of what the check found in detail; null where it told nothing. */
  report: string | null;
}

/** What happened, by kind. Never changed once written; a new shape gets a new kind or a higher version. */
export interface EventData {
  opened: {
    repository: string;
    number: number;
    title: string;
    description: string;
    source: string;
    target: string;
    revision: RevisionFacts;
    /** Who pushed what is offered; missing where that is not known: then it is who opened it. */
    pusher?: string;
    /** Whose work it is, where a machine account opened it. */
    author?: string;
    /** Asks nobody and cannot merge until it is said to be ready. */
    draft?: boolean;
  };
  readied: Record<string, never>;
  drafted: Record<string, never>;
  described: { title: string; description: string };
  /**
   * `pusher` is who moved the branch there; missing where that is not known: then it is who recorded it. `taken` are the suggestions that the revision carries out, where it was made of such. `same`: the author's work in it is that of the
   * revision before, and only what came from the target differs. `resultSame`: other commits lead to the same, so that something came and
   * went in between.
   */
  revised: {
    revision: RevisionFacts;
    pusher?: string;
    taken?: Taken[];
    how?: Kind;
    same?: boolean;
    resultSame?: boolean;
  };
  /** It is offered to another branch from now on; `after` is the number of the change set whose merge made it so, where it was none's wish. */
  retargeted: { target: string; revision: RevisionFacts; same: boolean; after?: number };
  reviewed: { revision: number; verdict: Verdict; remark: string; remarks: SentRemark[]; tasks?: SentTask[] };
  replied: { thread: string; comment: string; body: string };
  /** With a word where one was said. */
  resolved: { thread: string; comment?: string; body?: string };
  reopened: { thread: string };
  edited: { thread: string; comment: string; body: string; suggestions?: Suggestion[] };
  erased: { thread: string; comment: string };
  reacted: { thread: string; comment: string; reaction: Reaction; on: boolean };
  weighed: { thread: string; weight: Weight };
  "task-done": { task: string };
  "task-opened": { task: string };
  asked: { invited: Invited[] };
  unasked: { invited: Invited };
  /** People who reviewed before, or were asked, and are to look at the newest revision. */
  "asked-again": { people: string[]; revision: number };
  /** A request for changes that no longer stands: taken back by its writer, or by a keeper, who says why. */
  lifted: { person: string; reason: string };
  "stepped-back": Record<string, never>;
  withdrawn: Record<string, never>;
  /** Withdrawn before, and offered again. */
  "opened-again": Record<string, never>;
  /** What a machine, or a person, says of a commit. `report` names what was found, where it gave that. */
  checked: Checked;
  /** A work item that is a reason for the change; merging ends it where `closes` says so. */
  linked: { item: string; closes: boolean };
  unlinked: { item: string };
  /** It is to be merged as soon as the gate opens; or no longer. */
  "merge-asked": { kind: MergeKind; message: string | null };
  "merge-unasked": { why: string };
  /** `kind` is missing in entries of before there were several; `passing` says why the gate was passed although it was not met. */
  merged: { revision: number; commit: string; target: string; message: string; kind?: MergeKind; passing?: string };
}

export type EventKind = keyof EventData;

/** One entry of the log. `id` is globally unique and sorts by time; `at` is milliseconds since 1970. */
export type ReviewEvent = {
  [K in EventKind]: { id: string; stream: string; kind: K; version: 1; by: string; at: number; data: EventData[K] };
}[EventKind];

/** An event before it is written: what the decision gives. */
export type NewEvent = { [K in EventKind]: { kind: K; data: EventData[K] } }[EventKind];
