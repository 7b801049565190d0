import * as v from "valibot";
import { anchorName } from "../../anchor/anchor";
import type { Block } from "../../doors/mail/blocks";
import { done, type Outcome, refuse } from "../../plain/outcome";
import { haveOwnIds, type Suggestion, wrongSuggestions } from "../../suggest/suggestion";
import { hasSay, wrongText } from "../guards";
import { atLeast } from "../roles";
import { id, reaction, suggestion, suggestionRequest, text, weight } from "../shapes";
import { type ChangeSet, type Comment, commentIds, newComment, newest, type Thread } from "../state";
import { commandKind, eventKind, type Facts, type NewOf, type Telling, thoseInIt } from "./family";
import { withOne } from "./thread-places";

/** What can be said and done in a thread once it is there. A review opens them: see `reviews.ts`. */

const inThread = { thread: v.string(), comment: v.string() };

export const threadEvents = {
  replied: eventKind(v.object({ ...inThread, body: v.string() }), {
    gathered: true,
    live: true,
    evolve: (change, event) => {
      const { thread, comment, body } = event.data;
      return withThread(change, thread, (found) => ({
        ...found,
        comments: [...found.comments, newComment(comment, event, body)],
      }));
    },
    told: thoseInIt,
    says: ({ by }, { name }) => `${name(by)} answers`,
    details: wordInThread,
  }),
  /** With a word where one was said. */
  resolved: eventKind(v.object({ thread: v.string(), comment: v.optional(v.string()), body: v.optional(v.string()) }), {
    gathered: true,
    live: true,
    evolve: (change, event) => {
      const { by, at } = event;
      const { thread, comment, body } = event.data;
      return withThread(change, thread, (found) => ({
        ...found,
        comments: comment && body ? [...found.comments, newComment(comment, event, body)] : found.comments,
        resolved: { by, at, revision: newest(change).number },
      }));
    },
    told: (change, event) => (event.data.body ? thoseInIt(change, event) : []),
    says: ({ by }, { name }) => `${name(by)} resolves a thread`,
    details: wordInThread,
  }),
  reopened: eventKind(v.object({ thread: v.string() }), {
    live: true,
    evolve: (change, { data }) => withThread(change, data.thread, (found) => ({ ...found, resolved: null })),
    says: ({ by }, { name }) => `${name(by)} opens a thread again`,
  }),
  edited: eventKind(v.object({ ...inThread, body: v.string(), suggestions: v.optional(v.array(suggestion)) }), {
    live: true,
    evolve: (change, { at, data: { thread, comment, body, suggestions } }) =>
      withThread(change, thread, (found) => ({
        ...withComment(found, comment, (old) =>
          old.body === body ? old : { ...old, body, edits: [...old.edits, { body: old.body, until: at }] },
        ),
        ...(suggestions ? { suggestions: suggestions.map((made) => ({ ...made, taken: null })) } : {}),
      })),
    says: ({ by }, { name }) => `${name(by)} edits a comment`,
  }),
  erased: eventKind(v.object(inThread), {
    evolve: (change, { by, at, data: { thread, comment } }) =>
      withThread(change, thread, (found) => ({
        ...withComment(found, comment, (old) => ({ ...old, body: "", edits: [], erased: { by, at }, reactions: {} })),
        suggestions:
          found.comments[0].id === comment ? found.suggestions.filter(({ taken }) => taken) : found.suggestions,
      })),
    says: ({ by }, { name }) => `${name(by)} deletes a comment`,
  }),
  reacted: eventKind(v.object({ ...inThread, reaction, on: v.boolean() }), {
    evolve: (change, { by, data: { thread, comment, reaction, on } }) =>
      withThread(change, thread, (found) =>
        withComment(found, comment, (old) => {
          const others = (old.reactions[reaction] ?? []).filter((person) => person !== by);
          return { ...old, reactions: { ...old.reactions, [reaction]: on ? [...others, by] : others } };
        }),
      ),
    says: ({ by, data }, { name }) => `${name(by)} ${data.on ? "says" : "no longer says"} “${data.reaction}”`,
  }),
  weighed: eventKind(v.object({ thread: v.string(), weight }), {
    evolve: (change, { data }) => withThread(change, data.thread, (found) => ({ ...found, weight: data.weight })),
    says: ({ by, data }, { name }) =>
      `a remark ${data.weight === "aside" ? "made an aside" : "to settle"} by ${name(by)}`,
  }),
};

type New = NewOf<typeof threadEvents>;

const reply = v.object({ kind: v.literal("reply"), thread: id, body: text });
const resolve = v.object({ kind: v.literal("resolve"), thread: id, body: v.optional(text) });
const reopen = v.object({ kind: v.literal("reopen"), thread: id });
const edit = v.object({
  kind: v.literal("edit"),
  ...{ thread: id, comment: id, body: text },
  suggestions: v.optional(v.array(suggestionRequest)),
});
const erase = v.object({ kind: v.literal("erase"), thread: id, comment: id });
const react = v.object({ kind: v.literal("react"), thread: id, comment: id, reaction, on: v.boolean() });
const weigh = v.object({ kind: v.literal("weigh"), thread: id, weight });

export const threadRequests = [reply, resolve, reopen, edit, erase, react, weigh] as const;

type Asked<S extends v.GenericSchema> = v.InferOutput<S>;
/** With the ids and the lines that the server adds to what is asked. */
type Reply = Asked<typeof reply> & { comment: string };
type Resolve = Asked<typeof resolve> & { comment?: string };
type Edit = Omit<Asked<typeof edit>, "suggestions"> & { suggestions?: Suggestion[] };

export const threadCommands = {
  reply: inLivingThread<Reply>((change, thread, { comment, body }) => {
    if (commentIds(change).has(comment)) return refuse("conflict", "This reply was sent already.");
    return wrongText("A reply", body, true) ?? done({ kind: "replied", data: { thread: thread.id, comment, body } });
  }),
  resolve: inLivingThread<Resolve>((change, thread, { comment, body = "" }, { actor }) => {
    if (thread.resolved) return refuse("conflict", "This thread is resolved already.");
    const may = hasSay(change, thread, actor, "resolve");
    if (!may.ok) return may;
    if (comment && commentIds(change).has(comment)) return refuse("conflict", "This word was sent already.");
    const word = comment && body.trim() !== "" ? { comment, body } : {};
    return wrongText("The word", body) ?? done({ kind: "resolved", data: { thread: thread.id, ...word } });
  }),
  reopen: inLivingThread<Asked<typeof reopen>>((change, thread, _, { actor }) => {
    if (!thread.resolved) return refuse("conflict", "This thread is open already.");
    const may = hasSay(change, thread, actor, "open");
    return may.ok ? done({ kind: "reopened", data: { thread: thread.id } }) : may;
  }),
  edit: inLivingThread<Edit>((change, thread, { comment: id, body, suggestions }, { actor }) =>
    ofComment(thread, id, (comment) => {
      if (comment.by !== actor.id) return refuse("forbidden", "Only who wrote a comment can edit it.");
      const wrong = wrongText("The comment", body, !suggestions?.length);
      if (wrong) return wrong;
      if (!suggestions) {
        if (comment.body === body) return refuse("conflict", "It says that already.");
        return done({ kind: "edited", data: { thread: thread.id, comment: id, body } });
      }
      if (comment.id !== thread.comments[0].id) return refuse("invalid", "Suggestions belong to the remark itself.");
      if (thread.suggestions.some(({ taken }) => taken))
        return refuse("conflict", "One of the suggestions was taken already: write a reply instead.");
      const reason = wrongSuggestions(suggestions, anchorName(thread.anchor));
      if (reason) return refuse("invalid", reason);
      const elsewhere = change.threads.flatMap((other) => (other === thread ? [] : other.suggestions));
      if (!haveOwnIds(suggestions, new Set(elsewhere.map((other) => other.id))))
        return refuse("conflict", "One of these suggestions is in another thread already, or here twice.");
      return done({ kind: "edited", data: { thread: thread.id, comment: id, body, suggestions } });
    }),
  ),
  erase: inLivingThread<Asked<typeof erase>>((_, thread, command, { actor }) =>
    ofComment(thread, command.comment, (comment) =>
      comment.by === actor.id || atLeast(actor.role, "keeper")
        ? done({ kind: "erased", data: { thread: thread.id, comment: comment.id } })
        : refuse("forbidden", "Only who wrote a comment, or a keeper, can delete it."),
    ),
  ),
  react: inLivingThread<Asked<typeof react>>((_, thread, { comment: id, reaction, on }, { actor }) =>
    ofComment(thread, id, (comment) => {
      if ((comment.reactions[reaction]?.includes(actor.id) ?? false) === on)
        return refuse("conflict", on ? "You have said so already." : "You have not said so.");
      return done({ kind: "reacted", data: { thread: thread.id, comment: id, reaction, on } });
    }),
  ),
  weigh: inLivingThread<Asked<typeof weigh>>((_, thread, { weight }, { actor }) => {
    if (thread.comments[0].by !== actor.id && !atLeast(actor.role, "keeper"))
      return refuse("forbidden", "Only who wrote a remark, or a keeper, can say whether it must be settled.");
    if (thread.weight === weight) return refuse("conflict", "It has that weight already.");
    return done({ kind: "weighed", data: { thread: thread.id, weight } });
  }),
};

/** Threads live on after a change set was merged: what was asked there can still be answered. In a withdrawn one they rest with it. */
function inLivingThread<C extends { thread: string }>(
  decide: (change: ChangeSet, thread: Thread, command: C, facts: Pick<Facts, "actor">) => Outcome<New>,
) {
  return commandKind<C, New>([], (change, command, facts) => {
    if (change.state === "withdrawn")
      return refuse("conflict", "This change set was withdrawn, and its threads rest with it.");
    const thread = change.threads.find((candidate) => candidate.id === command.thread);
    if (!thread) return refuse("missing", "There is no such thread in this change set.");
    return decide(change, thread, command, facts);
  });
}

function ofComment(thread: Thread, id: string, then: (comment: Comment) => Outcome<New>): Outcome<New> {
  const comment = thread.comments.find((candidate) => candidate.id === id);
  if (!comment) return refuse("missing", "There is no such comment in this thread.");
  return comment.erased ? refuse("conflict", "This comment was deleted.") : then(comment);
}

/** A change set in which one thread is another. */
export function withThread(change: ChangeSet, id: string, edit: (thread: Thread) => Thread): ChangeSet {
  return { ...change, threads: withOne(change.threads, id, edit) };
}

function withComment(thread: Thread, id: string, edit: (comment: Comment) => Comment): Thread {
  return { ...thread, comments: thread.comments.map((comment) => (comment.id === id ? edit(comment) : comment)) };
}

/** What was said in a thread, below what it answers. */
export function wordInThread(
  { data: { thread: id, comment, body } }: { data: { thread: string; comment?: string; body?: string } },
  { change, address }: Telling,
): Block[] {
  const thread = change.threads.find((candidate) => candidate.id === id);
  if (!thread) return [];
  const [first] = thread.comments;
  const { anchor } = thread;
  return [
    { kind: "head", words: anchorName(anchor) },
    ...(anchor.kind === "lines" ? [{ kind: "quote" as const, lines: anchor.text }] : []),
    ...(first.id === comment || first.erased ? [] : [{ kind: "quote" as const, lines: first.body.split("\n") }]),
    { kind: "words", words: body ?? "" },
    { kind: "link", words: "To the thread", to: `${address}?thread=${id}` },
  ];
}
