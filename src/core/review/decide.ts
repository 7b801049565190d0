import { LONGEST_ANCHOR } from "../anchor/anchor";
import { done, type Outcome, refuse } from "../outcome";
import { evaluateGate, type Gate, type Rule } from "../rules/gate";
import type { NewEvent, RevisionFacts, SentRemark, Verdict } from "./events";
import { atLeast, type Role } from "./roles";
import { type ChangeSet, inThread, newest, type Thread } from "./state";

export const LONGEST_TITLE = 200;
export const LONGEST_TEXT = 100_000;
export const MOST_REMARKS = 500;

/** Who asks. */
export interface Actor {
  id: string;
  role: Role | null;
}

/** What a person asks for. Ids in it were made by the caller, so that deciding stays free of chance. */
export type Command =
  | { kind: "describe"; title: string; description: string }
  | { kind: "revise"; revision: RevisionFacts }
  | { kind: "send-review"; revision: number; verdict: Verdict; remark: string; remarks: SentRemark[] }
  | { kind: "reply"; thread: string; comment: string; body: string }
  | { kind: "resolve"; thread: string }
  | { kind: "reopen"; thread: string }
  | { kind: "withdraw" }
  | { kind: "merge"; revision: number; commit: string; target: string; message: string };

/** What deciding needs to know beyond the change set itself. */
export interface Facts {
  actor: Actor;
  rule: Rule;
}

/** What is known of a change set before it exists. */
export interface Opening {
  actor: Actor;
  repository: string;
  number: number;
  title: string;
  description: string;
  source: string;
  target: string;
  revision: RevisionFacts;
  /** The number of an open change set for the same two branches. */
  alreadyOpen: number | null;
}

export function decideOpening(opening: Opening): Outcome<NewEvent> {
  const { actor, alreadyOpen, ...data } = opening;
  if (!atLeast(actor.role, "contributor"))
    return refuse("forbidden", "Only contributors and keepers of this repository can open a change set.");
  if (data.source === data.target)
    return refuse("invalid", `A branch cannot be offered to itself: both are ${data.source}.`);
  if (alreadyOpen !== null) {
    return refuse("conflict", `Change set ${alreadyOpen} is already open from ${data.source} into ${data.target}.`);
  }
  if (data.revision.head === data.revision.base) {
    return refuse("conflict", `There is no difference: every commit of ${data.source} is in ${data.target} already.`);
  }
  const wrong = wrongTitle(data.title) ?? wrongText("The description", data.description);
  if (wrong) return wrong;
  return done({ kind: "opened", data: { ...data, title: data.title.trim() } });
}

/** What happens when `command` is carried out, or why it is not. Pure. */
export function decide(change: ChangeSet, command: Command, facts: Facts): Outcome<NewEvent> {
  const { actor } = facts;
  if (!atLeast(actor.role, "reader")) return refuse("missing", "There is no such change set, or you may not see it.");
  switch (command.kind) {
    case "describe":
      if (actor.id !== change.author && !atLeast(actor.role, "keeper")) {
        return refuse("forbidden", "Only the author or a keeper can change the title and the description.");
      }
      return (
        wrongTitle(command.title) ??
        wrongText("The description", command.description) ??
        done({ kind: "described", data: { title: command.title.trim(), description: command.description } })
      );
    case "revise":
      return decideRevision(change, command.revision, actor);
    case "send-review":
      return decideReview(change, command, actor);
    case "reply":
      return (
        wrongText("A reply", command.body, true) ??
        withThread(change, command.thread, () =>
          done({ kind: "replied", data: { thread: command.thread, comment: command.comment, body: command.body } }),
        )
      );
    case "resolve":
      return withThread(change, command.thread, (thread) => {
        if (thread.resolved) return refuse("conflict", "This thread is resolved already.");
        if (!inThread(change.author, thread, actor.id) && !atLeast(actor.role, "keeper")) {
          return refuse("forbidden", "Only the people in a thread, the author and keepers can resolve it.");
        }
        return done({ kind: "resolved", data: { thread: thread.id } });
      });
    case "reopen":
      return withThread(change, command.thread, (thread) => {
        if (!thread.resolved) return refuse("conflict", "This thread is open already.");
        if (!inThread(change.author, thread, actor.id) && !atLeast(actor.role, "keeper")) {
          return refuse("forbidden", "Only the people in a thread, the author and keepers can open it again.");
        }
        return done({ kind: "reopened", data: { thread: thread.id } });
      });
    case "withdraw":
      if (actor.id !== change.author && !atLeast(actor.role, "keeper")) {
        return refuse("forbidden", "Only the author or a keeper can withdraw a change set.");
      }
      return notOpen(change) ?? done({ kind: "withdrawn", data: {} });
    case "merge":
      return decideMerge(change, command, facts);
  }
}

function decideRevision(change: ChangeSet, revision: RevisionFacts, actor: Actor): Outcome<NewEvent> {
  const closed = notOpen(change);
  if (closed) return closed;
  if (actor.id !== change.author && !atLeast(actor.role, "contributor")) {
    return refuse("forbidden", "Only contributors and keepers can record a new revision.");
  }
  if (revision.head === newest(change).head) {
    return refuse("conflict", `${change.source} has not moved since r${newest(change).number} was recorded.`);
  }
  if (revision.head === revision.base) {
    return refuse(
      "conflict",
      `There is no difference left: every commit of ${change.source} is in ${change.target} already.`,
    );
  }
  return done({ kind: "revised", data: { revision } });
}

function decideReview(
  change: ChangeSet,
  command: Extract<Command, { kind: "send-review" }>,
  actor: Actor,
): Outcome<NewEvent> {
  const { revision, verdict, remark, remarks } = command;
  const closed = notOpen(change);
  if (closed) return closed;
  if (verdict !== "none" && actor.id === change.author) {
    return refuse(
      "forbidden",
      "This is your own change set: you can remark on it, and the verdict is for others to give.",
    );
  }
  if (verdict !== "none" && !atLeast(actor.role, "contributor")) {
    return refuse(
      "forbidden",
      "As a reader of this repository you can send remarks; a verdict needs a contributor or a keeper.",
    );
  }
  const current = newest(change).number;
  if (!change.revisions.some((known) => known.number === revision))
    return refuse("invalid", `There is no revision r${revision}.`);
  if (verdict === "approve" && revision !== current) {
    return refuse(
      "conflict",
      `You read r${revision}, and r${current} has come since. Read what is new before you approve.`,
    );
  }
  if (verdict === "none" && remark.trim() === "" && remarks.length === 0) {
    return refuse("invalid", "There is nothing to send yet: write a remark, or give a verdict.");
  }
  if (verdict === "request-changes" && remark.trim() === "" && remarks.length === 0) {
    return refuse(
      "invalid",
      "Say what should change: a request for changes needs at least one remark or a closing word.",
    );
  }
  if (remarks.length > MOST_REMARKS)
    return refuse("invalid", `One review can carry ${MOST_REMARKS} remarks; this one has ${remarks.length}.`);
  const wrong = wrongText("The closing word", remark);
  if (wrong) return wrong;
  const threads = new Set(change.threads.map((thread) => thread.id));
  for (const { thread, anchor, body } of remarks) {
    if (threads.has(thread)) return refuse("conflict", "One of these remarks was sent already.");
    threads.add(thread);
    const bad = wrongText(`The remark on ${anchor.path}`, body, true);
    if (bad) return bad;
    if (anchor.start < 1 || anchor.end < anchor.start || anchor.end - anchor.start >= LONGEST_ANCHOR) {
      return refuse("invalid", `A remark on ${anchor.path} stands on lines that do not exist.`);
    }
  }
  return done({ kind: "reviewed", data: { revision, verdict, remark, remarks } });
}

function decideMerge(
  change: ChangeSet,
  command: Extract<Command, { kind: "merge" }>,
  { actor, rule }: Facts,
): Outcome<NewEvent> {
  const may = mayMerge(change, actor);
  if (!may.ok) return may;
  const wrong = wrongText("The message of the merge commit", command.message, true);
  if (wrong) return wrong;
  const current = newest(change).number;
  if (command.revision !== current) {
    return refuse(
      "conflict",
      `You asked to merge r${command.revision}, and r${current} has come since. Look at what is new first.`,
    );
  }
  const gate = evaluateGate(change, rule);
  if (!gate.open) return refuse("conflict", `The gate is not met. ${missing(gate)}`);
  const { kind: _, ...data } = command;
  return done({ kind: "merged", data });
}

/** Whether this person may merge at all, the gate aside. */
export function mayMerge(change: ChangeSet, actor: Actor): Outcome<null> {
  const closed = notOpen(change);
  if (closed) return closed;
  if (atLeast(actor.role, "keeper") || (actor.id === change.author && atLeast(actor.role, "contributor")))
    return done(null);
  return refuse("forbidden", "Only a keeper of this repository or the author of the change set can merge it.");
}

/** The unmet conditions of a gate, in sentences. */
export function missing(gate: Gate): string {
  return gate.conditions
    .filter((condition) => !condition.met)
    .map((condition) => condition.says)
    .join(" ");
}

function notOpen(change: ChangeSet): ReturnType<typeof refuse> | null {
  if (change.state === "open") return null;
  return refuse(
    "conflict",
    change.state === "merged" ? "This change set is merged already." : "This change set was withdrawn.",
  );
}

function withThread(change: ChangeSet, id: string, then: (thread: Thread) => Outcome<NewEvent>): Outcome<NewEvent> {
  const thread = change.threads.find((candidate) => candidate.id === id);
  return thread ? then(thread) : refuse("missing", "There is no such thread in this change set.");
}

function wrongTitle(title: string): ReturnType<typeof refuse> | null {
  if (title.trim() === "") return refuse("invalid", "A change set needs a title.");
  if (title.length > LONGEST_TITLE)
    return refuse("invalid", `A title has at most ${LONGEST_TITLE} characters; this one has ${title.length}.`);
  return null;
}

function wrongText(what: string, text: string, needed = false): ReturnType<typeof refuse> | null {
  if (needed && text.trim() === "") return refuse("invalid", `${what} is empty.`);
  if (text.length > LONGEST_TEXT) {
    return refuse(
      "invalid",
      `${what} has ${text.length.toLocaleString("en")} characters; at most ${LONGEST_TEXT.toLocaleString("en")} are kept.`,
    );
  }
  return null;
}
