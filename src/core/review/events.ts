import type { LineAnchor } from "../anchor/anchor";

/** The three answers a review can end with. `none` leaves the person's earlier answer standing. */
export type Verdict = "approve" | "request-changes" | "none";

/** One pushed state of a change set. All three are full commit ids. */
export interface RevisionFacts {
  head: string;
  target: string;
  base: string;
}

/** A remark as it is sent: it opens a thread of the same id. */
export interface SentRemark {
  thread: string;
  comment: string;
  anchor: LineAnchor;
  body: string;
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
  };
  described: { title: string; description: string };
  revised: { revision: RevisionFacts };
  reviewed: { revision: number; verdict: Verdict; remark: string; remarks: SentRemark[] };
  replied: { thread: string; comment: string; body: string };
  resolved: { thread: string };
  reopened: { thread: string };
  withdrawn: Record<string, never>;
  merged: { revision: number; commit: string; target: string; message: string };
}

export type EventKind = keyof EventData;

/** One entry of the log. `id` is globally unique and sorts by time; `at` is milliseconds since 1970. */
export type ReviewEvent = {
  [K in EventKind]: { id: string; stream: string; kind: K; version: 1; by: string; at: number; data: EventData[K] };
}[EventKind];

/** An event before it is written: what the decision gives. */
export type NewEvent = { [K in EventKind]: { kind: K; data: EventData[K] } }[EventKind];
