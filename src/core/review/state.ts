import type { LineAnchor } from "../anchor/anchor";
import type { RevisionFacts, Verdict } from "./events";

export interface Revision extends RevisionFacts {
  /** 1-based: r1, r2 … */
  number: number;
  by: string;
  at: number;
}

export interface Comment {
  id: string;
  by: string;
  at: number;
  body: string;
}

export interface Thread {
  id: string;
  anchor: LineAnchor;
  comments: Comment[];
  /** Who settled it, when, and at which revision; null while it is open. */
  resolved: { by: string; at: number; revision: number } | null;
}

export interface Review {
  id: string;
  by: string;
  at: number;
  revision: number;
  verdict: Verdict;
  remark: string;
  threads: string[];
}

/** A change set as its events have made it. */
export interface ChangeSet {
  id: string;
  repository: string;
  number: number;
  title: string;
  description: string;
  source: string;
  target: string;
  author: string;
  openedAt: number;
  changedAt: number;
  state: "open" | "merged" | "withdrawn";
  /** Who ended it, and the merge commit if it was merged. */
  settled: { by: string; at: number; commit: string | null } | null;
  revisions: Revision[];
  threads: Thread[];
  reviews: Review[];
}

export function newest(change: ChangeSet): Revision {
  return change.revisions[change.revisions.length - 1];
}

/** A person's answer that counts now: their last one that was not `none`. */
export interface Standing {
  person: string;
  verdict: Exclude<Verdict, "none">;
  revision: number;
  at: number;
}

export function standings(change: ChangeSet): Standing[] {
  const latest = new Map<string, Standing>();
  for (const { by, verdict, revision, at } of change.reviews) {
    if (verdict !== "none") latest.set(by, { person: by, verdict, revision, at });
  }
  return [...latest.values()];
}

/** Who has a say in a thread: everyone who wrote in it, and the author of the change set. */
export function inThread(author: string, thread: Thread, person: string): boolean {
  return person === author || thread.comments.some((comment) => comment.by === person);
}
