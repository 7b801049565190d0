import { done, type Outcome, refuse } from "../outcome";
import { type Actor, authorOrKeeper, notOpen, type Refused, wrongText, wrongTitle } from "./checks";
import type { Command, Facts } from "./command";
import { decideMerge, decideMergeWhenOpen } from "./decide-merge";
import { decideReview } from "./decide-review";
import { decideAsking, decideAskingAgain, decideLifting, decideReadiness } from "./decide-rounds";
import { decideThread } from "./decide-thread";
import type { Checked, NewEvent, RevisionFacts } from "./events";
import { sameInvited } from "./evolve";
import { atLeast } from "./roles";
import { type ChangeSet, newest } from "./state";

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
  pusher?: string;
  /** Who answers for it where a machine account opens it: who pushed it, or whose the machine is; null where nobody does. */
  answers?: string | null;
  draft?: boolean;
  /** The number of an open change set for the same two branches. */
  alreadyOpen: number | null;
}

export function decideOpening(opening: Opening): Outcome<NewEvent> {
  const { actor, alreadyOpen, answers = null, ...data } = opening;
  if (!atLeast(actor.role, "contributor"))
    return refuse("forbidden", "Only contributors and keepers of this repository can open a change set.");
  if (actor.machine && answers === null)
    return refuse(
      "forbidden",
      "A machine account is nobody’s colleague: a person has to have pushed what it offers, or to be named as its owner.",
    );
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
  const author = actor.machine && answers !== null ? { author: answers } : {};
  return done({ kind: "opened", data: { ...data, ...author, title: data.title.trim() } });
}

/** What happens when `command` is carried out, or why it is not. Pure. */
export function decide(change: ChangeSet, command: Command, facts: Facts): Outcome<NewEvent> {
  const { actor } = facts;
  if (!atLeast(actor.role, "reader")) return refuse("missing", "There is no such change set, or you may not see it.");
  switch (command.kind) {
    case "describe":
      return (
        authorOrKeeper(change, actor, "change the title and the description") ??
        wrongTitle(command.title) ??
        wrongText("The description", command.description) ??
        done({ kind: "described", data: { title: command.title.trim(), description: command.description } })
      );
    case "revise":
      return decideRevision(change, command, actor);
    case "retarget":
      return decideRetargeting(change, command, actor);
    case "take":
      return decideTaking(change, command, actor);
    case "send-review":
      return decideReview(change, command, actor, facts.rule.approvals.author);
    case "reply":
    case "resolve":
    case "reopen":
    case "edit":
    case "erase":
    case "react":
    case "weigh":
      return decideThread(change, command, actor);
    case "finish-task":
    case "reopen-task":
      return decideTask(change, command.task, command.kind === "finish-task", actor);
    case "ask":
      return decideAsking(change, command, facts);
    case "unask": {
      const wrong = authorOrKeeper(change, actor, "withdraw the asking");
      if (wrong) return wrong;
      if (!change.asked.some((old) => sameInvited(old, command.invited)))
        return refuse("conflict", "They are not asked.");
      return done({ kind: "unasked", data: { invited: command.invited } });
    }
    case "ask-again":
      return decideAskingAgain(change, command.people, facts);
    case "lift":
      return decideLifting(change, command.person, command.reason, actor);
    case "ready":
    case "draft":
      return decideReadiness(change, command.kind === "ready", actor);
    case "step-back":
      if (!change.asked.some((old) => sameInvited(old, { person: actor.id })))
        return refuse("conflict", "You are not asked to review this by name.");
      return done({ kind: "stepped-back", data: {} });
    case "withdraw":
      return (
        authorOrKeeper(change, actor, "withdraw a change set") ??
        notOpen(change) ??
        done({ kind: "withdrawn", data: {} })
      );
    case "open-again": {
      const wrong = authorOrKeeper(change, actor, "open a change set again");
      if (wrong) return wrong;
      if (change.state !== "withdrawn")
        return refuse("conflict", `Only what was withdrawn can be opened again; this is ${change.state}.`);
      return done({ kind: "opened-again", data: {} });
    }
    case "report":
      return decideReport(change, command.checked, actor);
    case "link":
    case "unlink":
      return decideLink(change, command, actor);
    case "merge-when-open":
      return decideMergeWhenOpen(change, command, facts);
    case "merge-not":
      if (!change.mergeAsked) return refuse("conflict", "Nobody asked that it be merged by itself.");
      return (
        authorOrKeeper(change, actor, "take that back") ?? done({ kind: "merge-unasked", data: { why: command.why } })
      );
    case "merge":
      return decideMerge(change, command, facts);
  }
}

function decideRevision(
  change: ChangeSet,
  { kind: _, number, ...data }: Extract<Command, { kind: "revise" }>,
  actor: Actor,
): Outcome<NewEvent> {
  const { revision } = data;
  const closed = notOpen(change);
  if (closed) return closed;
  if (actor.id !== change.author && !atLeast(actor.role, "contributor")) {
    return refuse("forbidden", "Only contributors and keepers can record a new revision.");
  }
  if (number !== undefined && number !== newest(change).number + 1)
    return refuse("conflict", `r${newest(change).number} has come in between.`);
  if (revision.head === newest(change).head) {
    return refuse("conflict", `${change.source} has not moved since r${newest(change).number} was recorded.`);
  }
  if (revision.head === revision.base) {
    return refuse(
      "conflict",
      `There is no difference left: every commit of ${change.source} is in ${change.target} already.`,
    );
  }
  return done({ kind: "revised", data });
}

/** To another branch by author or keeper; by anyone's merge of the change set that this one stands on (`after`). */
function decideRetargeting(
  change: ChangeSet,
  { kind: _, ...data }: Extract<Command, { kind: "retarget" }>,
  actor: Actor,
): Outcome<NewEvent> {
  const { target, revision, after } = data;
  const wrong =
    notOpen(change) ?? (after === undefined ? authorOrKeeper(change, actor, "offer it to another branch") : null);
  if (wrong) return wrong;
  if (target === change.target) return refuse("conflict", `It is offered to ${target} already.`);
  if (target === change.source) return refuse("invalid", `A branch cannot be offered to itself: both are ${target}.`);
  if (revision.head !== newest(change).head)
    return refuse("conflict", `${change.source} has moved on: record what is there as a revision first.`);
  if (revision.head === revision.base)
    return refuse("conflict", `There is no difference: every commit of ${change.source} is in ${target} already.`);
  return done({ kind: "retargeted", data });
}

function decideTaking(change: ChangeSet, command: Extract<Command, { kind: "take" }>, actor: Actor): Outcome<NewEvent> {
  const { revision, taken } = command;
  const wrong = notOpen(change) ?? mayTake(change, actor);
  if (wrong) return wrong;
  if (taken.length === 0) return refuse("invalid", "No suggestion is picked.");
  for (const { thread, suggestion } of taken) {
    const made = change.threads.find(({ id }) => id === thread)?.suggestions.find(({ id }) => id === suggestion);
    if (!made) return refuse("missing", "One of the suggestions is no longer there.");
    if (made.taken) return refuse("conflict", `One of the suggestions was taken in r${made.taken.revision} already.`);
  }
  return done({ kind: "revised", data: { revision, taken } });
}

/** Who may take suggestions: the author, as long as they may push at all, and keepers. */
export function mayTake(change: ChangeSet, actor: Actor): Refused | null {
  if (atLeast(actor.role, "keeper") || (actor.id === change.author && atLeast(actor.role, "contributor"))) return null;
  return refuse("forbidden", "Only the author of the change set or a keeper can take suggestions.");
}

function decideTask(change: ChangeSet, id: string, finish: boolean, actor: Actor): Outcome<NewEvent> {
  const task = change.tasks.find((candidate) => candidate.id === id);
  if (!task) return refuse("missing", "There is no such task in this change set.");
  if (![task.by, task.person, change.author].includes(actor.id) && !atLeast(actor.role, "keeper"))
    return refuse("forbidden", "Only who set a task, who is to do it, the author and keepers can tick it off.");
  if ((task.done !== null) === finish)
    return refuse("conflict", finish ? "This task is done already." : "This task is open already.");
  return done({ kind: finish ? "task-done" : "task-opened", data: { task: id } });
}

/** So many checks of one commit can one account report. */
const MOST_CHECKS = 100;

function decideReport(change: ChangeSet, checked: Checked, actor: Actor): Outcome<NewEvent> {
  if (!atLeast(actor.role, "contributor"))
    return refuse("forbidden", "Only contributors, keepers and machine accounts of these roles can report checks.");
  if (!change.revisions.some(({ head }) => head === checked.commit))
    return refuse("missing", "That commit is the newest of no revision of this change set.");
  const mine = change.checks.filter(({ by, commit }) => by === actor.id && commit === checked.commit);
  if (mine.length >= MOST_CHECKS && !mine.some(({ name }) => name === checked.name))
    return refuse("conflict", `One account can report ${MOST_CHECKS} checks of a commit.`);
  return done({ kind: "checked", data: checked });
}

function decideLink(
  change: ChangeSet,
  command: Extract<Command, { kind: "link" | "unlink" }>,
  actor: Actor,
): Outcome<NewEvent> {
  const wrong = notOpen(change) ?? authorOrKeeper(change, actor, "link work items");
  if (wrong) return wrong;
  const linked = change.links.find(({ item }) => item === command.item);
  if (command.kind === "unlink")
    return linked ? done({ kind: "unlinked", data: { item: command.item } }) : refuse("conflict", "It is not linked.");
  if (linked && linked.closes === command.closes) return refuse("conflict", "It is linked already.");
  return done({ kind: "linked", data: { item: command.item, closes: command.closes } });
}
