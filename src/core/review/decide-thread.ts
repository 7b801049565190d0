import { anchorName } from "../anchor/anchor";
import { done, type Outcome, refuse } from "../outcome";
import { type Suggestion, wrongSuggestions } from "../suggest/suggestion";
import { type Actor, hasSay, withThread, wrongText } from "./checks";
import type { NewEvent, Reaction, Weight } from "./events";
import { atLeast } from "./roles";
import type { ChangeSet, Comment, Thread } from "./state";

/** What can be done with a thread once it is there. */
export type ThreadCommand =
  | { kind: "reply"; thread: string; comment: string; body: string }
  | { kind: "resolve"; thread: string; comment?: string; body?: string }
  | { kind: "reopen"; thread: string }
  | { kind: "edit"; thread: string; comment: string; body: string; suggestions?: Suggestion[] }
  | { kind: "erase"; thread: string; comment: string }
  | { kind: "react"; thread: string; comment: string; reaction: Reaction; on: boolean }
  | { kind: "weigh"; thread: string; weight: Weight };

/** Threads live on after a change set was merged: what was asked there can still be answered. In a withdrawn one they rest with it. */
export function decideThread(change: ChangeSet, command: ThreadCommand, actor: Actor): Outcome<NewEvent> {
  if (change.state === "withdrawn")
    return refuse("conflict", "This change set was withdrawn, and its threads rest with it.");
  return withThread(change, command.thread, (thread): Outcome<NewEvent> => {
    switch (command.kind) {
      case "reply": {
        const { comment, body } = command;
        if (thread.comments.some(({ id }) => id === comment)) return refuse("conflict", "This reply was sent already.");
        return (
          wrongText("A reply", body, true) ?? done({ kind: "replied", data: { thread: thread.id, comment, body } })
        );
      }
      case "resolve": {
        if (thread.resolved) return refuse("conflict", "This thread is resolved already.");
        const may = hasSay(change, thread, actor, "resolve");
        if (!may.ok) return may;
        const { comment, body = "" } = command;
        const word = comment && body.trim() !== "" ? { comment, body } : {};
        return wrongText("The word", body) ?? done({ kind: "resolved", data: { thread: thread.id, ...word } });
      }
      case "reopen": {
        if (!thread.resolved) return refuse("conflict", "This thread is open already.");
        const may = hasSay(change, thread, actor, "open");
        return may.ok ? done({ kind: "reopened", data: { thread: thread.id } }) : may;
      }
      case "weigh":
        if (thread.comments[0].by !== actor.id && !atLeast(actor.role, "keeper"))
          return refuse("forbidden", "Only who wrote a remark, or a keeper, can say whether it must be settled.");
        if (thread.weight === command.weight) return refuse("conflict", "It has that weight already.");
        return done({ kind: "weighed", data: { thread: thread.id, weight: command.weight } });
      case "edit":
        return decideEdit(thread, command, actor);
      case "erase":
        return withComment(thread, command.comment, (comment) =>
          comment.by === actor.id || atLeast(actor.role, "keeper")
            ? done({ kind: "erased", data: { thread: thread.id, comment: comment.id } })
            : refuse("forbidden", "Only who wrote a comment, or a keeper, can delete it."),
        );
      case "react":
        return withComment(thread, command.comment, (comment) => {
          const { reaction, on } = command;
          if ((comment.reactions[reaction]?.includes(actor.id) ?? false) === on)
            return refuse("conflict", on ? "You have said so already." : "You have not said so.");
          return done({ kind: "reacted", data: { thread: thread.id, comment: comment.id, reaction, on } });
        });
    }
  });
}

function decideEdit(
  thread: Thread,
  { comment: id, body, suggestions }: Extract<ThreadCommand, { kind: "edit" }>,
  actor: Actor,
): Outcome<NewEvent> {
  return withComment(thread, id, (comment) => {
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
    return done({ kind: "edited", data: { thread: thread.id, comment: id, body, suggestions } });
  });
}

function withComment(thread: Thread, id: string, then: (comment: Comment) => Outcome<NewEvent>): Outcome<NewEvent> {
  const comment = thread.comments.find((candidate) => candidate.id === id);
  if (!comment) return refuse("missing", "There is no such comment in this thread.");
  return comment.erased ? refuse("conflict", "This comment was deleted.") : then(comment);
}
