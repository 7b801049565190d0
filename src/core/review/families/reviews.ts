import * as v from "valibot";
import { anchorName, LONGEST_ANCHOR } from "../../anchor/anchor";
import type { Block } from "../../doors/mail/blocks";
import { done, refuse } from "../../plain/outcome";
import { counted, listed } from "../../plain/words";
import { type GatePerson, whoIsBehind } from "../../rules/facts";
import { haveOwnIds, wrongSuggestions } from "../../suggest/suggestion";
import { type Actor, hasSay, MOST_REMARKS, type No, notOpen, notReady, wrongText } from "../guards";
import { atLeast } from "../roles";
import {
  type CommitsRead,
  commitsRead,
  id,
  ordinal,
  type SentRemark,
  type SentReply,
  type SentTask,
  sentRemark,
  sentReply,
  sentTask,
  text,
  type Verdict,
  verdict,
} from "../shapes";
import {
  type ChangeSet,
  commentIds,
  newComment,
  newest,
  pushersOf,
  revisionName,
  revisionRead,
  type Standing,
  standings,
  type Task,
  type Thread,
} from "../state";
import { commandKind, eventKind, type Happened, type NewOf, type Telling, thoseInIt } from "./family";
import { withMore } from "./thread-places";
import { withThread, wordInThread } from "./threads";

/** Reviews, which are sent as one: remarks, tasks, a closing word and a verdict; and what takes a request for changes away again. */

const reviewed = v.object({
  /** Its number where this was written, and its commits, which are the same everywhere. */
  revision: v.number(),
  read: v.optional(commitsRead),
  verdict,
  remark: v.string(),
  remarks: v.array(sentRemark),
  tasks: v.optional(v.array(sentTask)),
  replies: v.optional(v.array(sentReply)),
});
type Reviewed = v.InferOutput<typeof reviewed>;

export const reviewEvents = {
  reviewed: eventKind(reviewed, {
    live: true,
    evolve: (change, event) => {
      const { id, by, at } = event;
      const { read = null, verdict, remark, remarks, tasks = [], replies = [] } = event.data;
      const threads = remarks.map((sent) => newThread(sent, event));
      const revision = read ? revisionRead(change, event.data) : event.data.revision;
      const review = { id, by, at, revision, read, verdict, remark, threads: threads.map((thread) => thread.id) };
      const given = tasks.map(({ task, body, person }): Task => ({ id: task, by, at, body, person, done: null }));
      const answered = replies.reduce(
        (after, { thread, comment, body, resolves }) =>
          withThread(after, thread, (found) => ({
            ...found,
            comments: [...found.comments, newComment(comment, event, body)],
            resolved: resolves ? { by, at, revision: newest(change).number } : found.resolved,
          })),
        change,
      );
      return {
        ...answered,
        threads: withMore(answered.threads, threads),
        reviews: [...change.reviews, review],
        tasks: [...change.tasks, ...given],
        again: change.again.filter(({ person }) => person !== by),
      };
    },
    told: thoseInIt,
    says: ({ id, by, data: { verdict, revision, remarks, replies = [] } }, { change, name }) => {
      const what = revisionName(change.reviews.find((review) => review.id === id)?.revision ?? revision);
      if (verdict === "approve") return `${name(by)} approves ${what}`;
      if (verdict === "request-changes") return `${name(by)} asks for changes in ${what}`;
      const said = [
        remarks.length > 0 ? counted(remarks.length, "remark") : "",
        replies.length > 0 ? counted(replies.length, "answer") : "",
      ].filter((words) => words !== "");
      return said.length > 0 ? `${listed(said)} by ${name(by)}` : `a word of ${name(by)}`;
    },
    details: reviewBlocks,
  }),
  /** A request for changes that no longer stands: taken back by its writer, or by a keeper, who says why. */
  lifted: eventKind(v.object({ person: v.string(), reason: v.string(), review: v.optional(v.string()) }), {
    live: true,
    evolve: (change, { by, at, data: { person, reason, review } }) => {
      // Older entries do not say which one they mean: it is the one that stood then.
      const meant = review ?? requestOf(change, person)?.review ?? null;
      return { ...change, lifts: [...change.lifts, { person, by, at, reason, review: meant }] };
    },
    told: thoseInIt,
    says: ({ by, data: { person } }, { name }) =>
      person === by
        ? `${name(by)} takes the request for changes back`
        : `${name(by)} lifts the request for changes of ${name(person)}`,
    details: ({ data }) => [{ kind: "words", words: data.reason }],
  }),
};

type New = NewOf<typeof reviewEvents>;

const lift = v.object({ kind: v.literal("lift"), person: id, reason: text });

export const reviewRequests = [
  v.object({
    ...{ kind: v.literal("send-review"), revision: ordinal, verdict, remark: text },
    /** What was shown as that revision, so that it is no other one. */
    read: v.optional(commitsRead),
  }),
  /** One unsent remark or task alone, at once. */
  v.object({ kind: v.literal("send-one"), note: id }),
  lift,
] as const;

/** All that is sent as one. */
interface SendReview {
  kind: "send-review";
  revision: number;
  read?: CommitsRead;
  verdict: Verdict;
  remark: string;
  remarks: SentRemark[];
  tasks?: SentTask[];
  replies?: SentReply[];
}

export const reviewCommands = {
  "send-review": commandKind<SendReview, New, "rule">(["rule"], (change, command, { actor, rule }) => {
    const { revision, verdict, remark, remarks, tasks = [], replies = [] } = command;
    const said = commentIds(change);
    const wrong =
      notOpen(change) ??
      wrongVerdict(change, command, actor, rule.approvals.author) ??
      wrongText("The closing word", remark) ??
      wrongRemarks(change, remarks, said) ??
      wrongTasks(change, tasks) ??
      wrongReplies(change, replies, actor, said);
    if (wrong) return wrong;
    const { head, base } = change.revisions[revisionRead(change, command) - 1];
    return done({
      kind: "reviewed",
      data: {
        revision,
        read: { head, base },
        verdict,
        remark,
        remarks,
        ...(tasks.length > 0 ? { tasks } : {}),
        ...(replies.length > 0 ? { replies } : {}),
      },
    });
  }),
  lift: commandKind<v.InferOutput<typeof lift>, New, "people">(["people"], (change, command, { actor, people }) => {
    const { person, reason } = command;
    const wrong = notOpen(change) ?? wrongText("The reason", reason);
    if (wrong) return wrong;
    const request = requestOf(change, person);
    if (!request) return refuse("conflict", "No request for changes of theirs stands.");
    if (actor.id !== person) {
      const may = mayLift(change, actor, people);
      if (may) return may;
      if (reason.trim() === "")
        return refuse("invalid", "Say why the request no longer stands: the reason stays on the record.");
    }
    return done({ kind: "lifted", data: { person, reason: reason.trim(), review: request.review } });
  }),
};

/** Why somebody cannot lift what others asked for; null where they can. What a machine of theirs opened or pushed is their own work. */
export function mayLift(change: ChangeSet, actor: Actor, people: readonly GatePerson[]): No | null {
  if (!atLeast(actor.role, "keeper"))
    return refuse("forbidden", "Only who asked for changes can take that back; or a keeper, with a reason.");
  return [change.author, ...pushersOf(change)].flatMap(whoIsBehind(people)).includes(actor.id)
    ? refuse("forbidden", "What was asked of your own work is for another keeper to lift.")
    : null;
}

/** The request for changes of a person that stands now. */
function requestOf(change: ChangeSet, person: string): Standing | undefined {
  return standings(change).find((one) => one.person === person && one.verdict === "request-changes");
}

function newThread(
  { thread, comment, anchor, body, weight = "settle", suggestions = [] }: SentRemark,
  event: { by: string; at: number },
): Thread {
  return {
    id: thread,
    anchor,
    weight,
    comments: [newComment(comment, event, body)],
    suggestions: suggestions.map((suggestion) => ({ ...suggestion, taken: null })),
    resolved: null,
  };
}

/** `own`: the author may approve, since the rule counts that. */
function wrongVerdict(
  change: ChangeSet,
  { revision, read, verdict, remark, remarks, tasks = [], replies = [] }: SendReview,
  actor: Actor,
  own: boolean,
): No | null {
  if (verdict !== "none" && actor.machine)
    return refuse("forbidden", "A machine account can remark; a verdict is for people to give.");
  if (verdict !== "none" && actor.id === change.author && !(own && verdict === "approve")) {
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
  const draft = verdict === "none" ? null : notReady(change);
  if (draft) return draft;
  const current = newest(change).number;
  const number = revisionRead(change, { revision, read });
  if (number === 0 && read)
    return refuse(
      "conflict",
      `What was read as r${revision} is no revision here. Read what is here before you judge it.`,
    );
  if (number === 0) return refuse("invalid", `There is no revision r${revision}.`);
  if (verdict === "approve" && number !== current) {
    return refuse(
      "conflict",
      `You read r${number}, and r${current} has come since. Read what is new before you approve.`,
    );
  }
  const empty = remark.trim() === "" && remarks.length + tasks.length + replies.length === 0;
  if (verdict === "none" && empty)
    return refuse("invalid", "There is nothing to send yet: write a remark, or give a verdict.");
  if (verdict === "request-changes" && empty) {
    return refuse(
      "invalid",
      "Say what should change: a request for changes needs at least one remark or a closing word.",
    );
  }
  return null;
}

/** `said` are the ids of all comments, and of those that are looked at by and by. */
function wrongRemarks(change: ChangeSet, remarks: readonly SentRemark[], said: Set<string>): No | null {
  if (remarks.length > MOST_REMARKS)
    return refuse("invalid", `One review can carry ${MOST_REMARKS} remarks; this one has ${remarks.length}.`);
  const threads = new Set(change.threads.map((thread) => thread.id));
  const suggested = new Set(change.threads.flatMap((thread) => thread.suggestions.map(({ id }) => id)));
  for (const { thread, comment, anchor, body, suggestions = [] } of remarks) {
    if (threads.has(thread) || said.has(comment)) return refuse("conflict", "One of these remarks was sent already.");
    threads.add(thread);
    said.add(comment);
    const where = anchorName(anchor);
    const bad = wrongText(`The remark on ${where}`, body, suggestions.length === 0);
    if (bad) return bad;
    if (!change.revisions.some(({ number }) => number === anchor.revision))
      return refuse("invalid", `A remark stands on r${anchor.revision}, which does not exist.`);
    if (anchor.kind === "lines") {
      const { start, end, part } = anchor;
      if (
        start < 1 ||
        end < start ||
        end - start >= LONGEST_ANCHOR ||
        (part && (start !== end || part.to <= part.from))
      )
        return refuse("invalid", `A remark on ${anchor.path} stands on lines that do not exist.`);
    }
    if (suggestions.length > 0 && !(anchor.kind === "lines" && anchor.side === "new"))
      return refuse("invalid", "A suggestion stands on lines of the new text.");
    const reason = wrongSuggestions(suggestions, where);
    if (reason) return refuse("invalid", reason);
    if (!haveOwnIds(suggestions, suggested)) return refuse("conflict", "One of these suggestions was sent already.");
  }
  return null;
}

function wrongTasks(change: ChangeSet, tasks: readonly SentTask[]): No | null {
  if (tasks.length > MOST_REMARKS) return refuse("invalid", `One review can carry ${MOST_REMARKS} tasks.`);
  const known = new Set(change.tasks.map(({ id }) => id));
  for (const { task, body } of tasks) {
    if (known.has(task)) return refuse("conflict", "One of these tasks was sent already.");
    known.add(task);
    const bad = wrongText("A task", body, true);
    if (bad) return bad;
  }
  return null;
}

function wrongReplies(change: ChangeSet, replies: readonly SentReply[], actor: Actor, said: Set<string>): No | null {
  if (replies.length > MOST_REMARKS) return refuse("invalid", `One review can carry ${MOST_REMARKS} answers.`);
  for (const { thread: id, comment, body, resolves } of replies) {
    const thread = change.threads.find((one) => one.id === id);
    if (!thread) return refuse("missing", "There is no such thread in this change set.");
    if (said.has(comment)) return refuse("conflict", "One of these answers was sent already.");
    said.add(comment);
    const bad = wrongText("An answer", body, true);
    if (bad) return bad;
    const may = resolves ? hasSay(change, thread, actor, "resolve") : null;
    if (may && !may.ok) return may;
  }
  return null;
}

function reviewBlocks(
  { data: { remark, remarks, tasks = [], replies = [] } }: Happened<Reviewed>,
  telling: Telling,
): Block[] {
  const { change, address, name } = telling;
  const blocks: Block[] = [{ kind: "words", words: remark }];
  for (const { thread: id, anchor, body, suggestions = [], weight = "settle" } of remarks) {
    const thread = change.threads.find((candidate) => candidate.id === id);
    // What was deleted meanwhile is not told any more.
    if (thread?.comments[0].erased) continue;
    blocks.push({ kind: "head", words: `${anchorName(anchor)}${weight === "aside" ? " (an aside)" : ""}` });
    if (anchor.kind === "lines") blocks.push({ kind: "quote", lines: anchor.text });
    blocks.push({ kind: "words", words: thread?.comments[0].body ?? body });
    for (const { was, lines } of suggestions) blocks.push({ kind: "change", was, lines });
    blocks.push({ kind: "link", words: "To the thread", to: `${address}?thread=${id}` });
  }
  for (const reply of replies) blocks.push(...wordInThread({ data: reply }, telling));
  for (const { body, person } of tasks) {
    blocks.push({ kind: "head", words: person ? `A task for ${name(person)}` : "A task" });
    blocks.push({ kind: "words", words: body });
  }
  return blocks;
}
