import type { Anchor } from "../anchor/anchor";
import type { MergeKind } from "../rules/rule";
import type { Suggestion } from "../suggest/suggestion";
import type { Checked, CommitsRead, Invited, Reaction, RevisionFacts, RevisionKind, Verdict, Weight } from "./shapes";

export interface Revision extends RevisionFacts {
  /** 1-based: r1, r2 … */
  number: number;
  /** Who recorded it. */
  by: string;
  /** Who pushed its commits. */
  pusher: string;
  at: number;
  /** Null for the first, and for those recorded before it was told. */
  how: RevisionKind | null;
  /** The author's work in it is that of the revision before. */
  same: boolean;
  /** There are new commits in it, and what they lead to is that of the revision before: something came and went in between. */
  resultSame: boolean;
}

export interface Comment {
  id: string;
  by: string;
  at: number;
  /** Empty once it was erased. */
  body: string;
  /** What it said before, the oldest first, with the time from which it said something else. */
  edits: { body: string; until: number }[];
  erased: { by: string; at: number } | null;
  reactions: Partial<Record<Reaction, string[]>>;
}

export function newComment(id: string, { by, at }: { by: string; at: number }, body: string): Comment {
  return { id, by, at, body, edits: [], erased: null, reactions: {} };
}

/** A suggestion as it stands: taken in a revision, or not. */
export interface MadeSuggestion extends Suggestion {
  taken: { revision: number; by: string; at: number } | null;
}

export interface Thread {
  id: string;
  anchor: Anchor;
  weight: Weight;
  comments: Comment[];
  suggestions: MadeSuggestion[];
  /** Who settled it, when, and at which revision; null while it is open. */
  resolved: { by: string; at: number; revision: number } | null;
}

export interface Task {
  id: string;
  by: string;
  at: number;
  body: string;
  person: string | null;
  done: { by: string; at: number } | null;
}

export interface Review {
  id: string;
  by: string;
  at: number;
  /** Its number here; 0 while those commits are no revision here, where they were read elsewhere. */
  revision: number;
  /** What was read; null in older entries, which say the number alone. */
  read: CommitsRead | null;
  verdict: Verdict;
  remark: string;
  threads: string[];
}

export type ChangeState = "draft" | "open" | "merged" | "withdrawn";

/** Whether a change set can still go on: it is open, or a draft. */
export function goesOn({ state }: { state: ChangeState }): boolean {
  return state === "open" || state === "draft";
}

/** A request for changes that was lifted. */
export interface Lift {
  person: string;
  by: string;
  at: number;
  reason: string;
  /** The review that asked for them: another one, that came in later or was written later, is not meant. */
  review: string | null;
}

/** A change set as its events have made it. */
export interface ChangeSet {
  id: string;
  /** The id of the last event that made it so. */
  last: string;
  /** How many events made it so; with `last` it tells one state from another, also where entries came in between. */
  entries: number;
  /** Entries that do not count, since they cannot have happened by then: what they were, by whom, and why not. */
  leftOut: { id: string; by: string; kind: string; why: string }[];
  repository: string;
  number: number;
  title: string;
  description: string;
  source: string;
  target: string;
  author: string;
  openedAt: number;
  /** When it was last said to be ready; for one that was never a draft, when it was opened. */
  readyAt: number;
  changedAt: number;
  state: ChangeState;
  /** The number of the change set whose merge sent this one to its target; null where none did. */
  sentBy: number | null;
  /** Who wrote title and description as they are now. */
  describedBy: string;
  /** Who ended it, and the merge commit if it was merged. */
  settled: { by: string; at: number; commit: string | null; passing: string | null } | null;
  revisions: Revision[];
  threads: Thread[];
  reviews: Review[];
  tasks: Task[];
  /** Who was asked to review, and has not stepped back since. */
  asked: (Invited & { by: string; at: number })[];
  /** Who was asked to look again, at which revision, and has sent no review since. */
  again: { person: string; by: string; at: number; revision: number }[];
  lifts: Lift[];
  /** What each check said last of each commit. */
  checks: Check[];
  links: WorkLink[];
  /** Names of the labels that somebody gave it, in order. */
  labels: string[];
  /** What title and description said before, the oldest first: who had written it, and until when it stood. */
  wordings: Wording[];
  /** Why it is not merged by itself any more although that was asked, and who had asked. */
  mergeFailed: { why: string; at: number; asker: string } | null;
  /** Who asked that it be merged as soon as the gate opens. */
  mergeAsked: { by: string; at: number; kind: MergeKind; message: string | null } | null;
}

/** A title and description that others took the place of. */
export interface Wording {
  title: string;
  description: string;
  by: string;
  until: number;
}

export interface Check extends Checked {
  by: string;
  at: number;
}

/** A work item that is a reason for the change. */
export interface WorkLink {
  item: string;
  closes: boolean;
  by: string;
  at: number;
}

export function newest(change: Pick<ChangeSet, "revisions">): Revision {
  return change.revisions[change.revisions.length - 1];
}

/** The first revision whose work is that of the newest one: what was said of it holds for all that came of it by rebasing alone. */
export function sinceWhen({ revisions }: Pick<ChangeSet, "revisions">): number {
  let at = revisions.length;
  while (at > 1 && revisions[at - 1].same) at--;
  return at;
}

/**
 * The number of the revision that somebody has read. What was read in a clone may have another number there, so the commits tell, where they are said; 0 where no
 * revision here is of them.
 */
export function revisionRead(
  { revisions }: Pick<ChangeSet, "revisions">,
  { revision, read }: { revision: number; read?: CommitsRead | null },
): number {
  const isIt = (one?: Revision) => one !== undefined && (!read || sameWork(one, read));
  if (isIt(revisions[revision - 1])) return revision;
  return (read && revisions.findLast(isIt)?.number) || 0;
}

/** Whether two revisions are the same commits on the same ground, whatever branch they are offered to. */
export function sameWork(before: CommitsRead, after: CommitsRead): boolean {
  return before.head === after.head && before.base === after.base;
}

/** Ids of those who pushed the work of the newest revision: also who pushed it first, where others have only put it on another base since. */
export function pushersOf(change: Pick<ChangeSet, "revisions">): string[] {
  return [...new Set(change.revisions.slice(sinceWhen(change) - 1).map(({ pusher }) => pusher))];
}

/** "r2"; or in words where it has no number here. */
export function revisionName(revision: number): string {
  return revision > 0 ? `r${revision}` : "commits that are no revision here";
}

/** Reviews with the numbers that what they speak of has among some revisions. Older ones keep theirs. */
export function numberedReviews(reviews: Review[], revisions: Revision[]): Review[] {
  const waits = ({ read, revision }: Review) => read !== null && revision === 0;
  if (!reviews.some(waits)) return reviews;
  return reviews.map((review) =>
    waits(review) ? { ...review, revision: revisionRead({ revisions }, review) } : review,
  );
}

/** A person's answer that counts now: their last one that was not `none`. */
export interface Standing {
  person: string;
  /** The review that it was given with. */
  review: string;
  verdict: Exclude<Verdict, "none">;
  revision: number;
  at: number;
}

/** Those of everyone; without requests for changes that were lifted, and without approvals of what is not here. */
export function standings(change: Pick<ChangeSet, "reviews" | "lifts">): Standing[] {
  const latest = new Map<string, Standing>();
  for (const { id, by, verdict, revision, at } of change.reviews)
    if (verdict === "request-changes" || (verdict === "approve" && revision > 0))
      latest.set(by, { person: by, review: id, verdict, revision, at });
  // Of the one whose request it is: nobody names another's beside their own.
  const lifted = new Set(change.lifts.map(({ person, review }) => `${person} ${review}`));
  return [...latest.values()].filter(
    ({ person, verdict, review }) => verdict !== "request-changes" || !lifted.has(`${person} ${review}`),
  );
}

/** The ids of all comments: each is that of one, wherever it stands. */
export function commentIds({ threads }: Pick<ChangeSet, "threads">): Set<string> {
  return new Set(threads.flatMap(({ comments }) => comments.map(({ id }) => id)));
}

/** Who has a say in a thread: everyone who wrote in it, and the author of the change set. */
export function inThread(author: string, thread: Thread, person: string): boolean {
  return person === author || thread.comments.some((comment) => comment.by === person);
}

/** Threads that have to be settled before the change set merges, and are not. */
export function unsettled(change: Pick<ChangeSet, "threads">): Thread[] {
  return change.threads.filter(({ resolved, weight }) => resolved === null && weight === "settle");
}

/** Whether an open thread waits for a word of the author: somebody else had the last one. */
export function waitsForAuthor({ resolved, comments }: Thread, author: string): boolean {
  return resolved === null && lastWord(comments).by !== author;
}

/** The last comment that was not erased; the first when all were. */
export function lastWord(comments: readonly Comment[]): Comment {
  return comments.findLast(({ erased }) => erased === null) ?? comments[0];
}

/** Everyone who has to do with a change set: its author, who wrote in it, reviewed it, was asked, or has a task in it. */
export function peopleOf(change: ChangeSet): Set<string> {
  const people = new Set([change.author]);
  for (const { by } of change.reviews) people.add(by);
  for (const { comments } of change.threads) for (const { by } of comments) people.add(by);
  // A draft asks nobody yet.
  if (change.state !== "draft") for (const invited of change.asked) if ("person" in invited) people.add(invited.person);
  for (const { person, by } of change.tasks) for (const id of [person, by]) if (id) people.add(id);
  return people;
}

/**
 * Whether a change set offers a branch. One that does not is what somebody reads of their own clone before it is committed, and is theirs alone. Its source is called
 * as no branch can be.
 */
export function offersBranch({ source }: Pick<ChangeSet, "source">): boolean {
  return !source.includes(" ");
}

/** Whether somebody is asked, by their own name, to review it. */
export function isAsked({ asked }: Pick<ChangeSet, "asked">, person: string): boolean {
  return asked.some((one) => "person" in one && one.person === person);
}

/** The newest revision of which someone gave a verdict; 0 when they gave none. */
export function lastVerdict({ reviews }: Pick<ChangeSet, "reviews">, person: string): number {
  return Math.max(
    0,
    ...reviews.filter(({ by, verdict }) => by === person && verdict !== "none").map(({ revision }) => revision),
  );
}
