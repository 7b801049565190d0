import * as v from "valibot";
import { done, type Outcome, refuse } from "../../plain/outcome";
import { counted } from "../../plain/words";
import { hidingName } from "../../rules/ref-name";
import { type Actor, authorOrKeeper, type No, notOpen } from "../guards";
import { atLeast } from "../roles";
import { type RevisionFacts, type RevisionKind, revisionFacts, revisionKind, type Taken, taken, text } from "../shapes";
import { type ChangeSet, type MadeSuggestion, newest, numberedReviews, type Thread } from "../state";
import { askerOfFallen, fall, wordsOfFallen } from "./asked-merge";
import { commandKind, eventKind, type NewOf, thoseInIt } from "./family";

/** What is offered, and to which branch: new revisions, suggestions taken, another target. */

export const revisionEvents = {
  revised: eventKind(
    v.object({
      revision: revisionFacts,
      /** Who moved the branch there; missing where that is not known: then it is who recorded it. */
      pusher: v.optional(v.string()),
      /** The suggestions that it carries out, where it was made of such. */
      taken: v.optional(v.array(taken)),
      how: v.optional(revisionKind),
      /** The author's work in it is that of the revision before, and only what came from the target differs. */
      same: v.optional(v.boolean()),
      /** Other commits lead to the same, so that something came and went in between. */
      resultSame: v.optional(v.boolean()),
    }),
    {
      evolve: (change, { by, at, data }) => {
        // Recorded in a clone and by the server that it was pushed to, it is one revision.
        if (newest(change).head === data.revision.head) return change;
        const number = change.revisions.length + 1;
        const { revision, taken = null, same = false, resultSame = false, pusher = by } = data;
        const how = data.how ?? (taken ? ("suggestions" as const) : null);
        const revisions = [...change.revisions, { ...revision, number, by, pusher, at, how, same, resultSame }];
        return {
          ...change,
          ...mergeAskedAfter(change, pusher, at),
          revisions,
          reviews: numberedReviews(change.reviews, revisions),
          threads: withTaken(change.threads, taken ?? [], { revision: number, by, at }),
        };
      },
      told: toldOfRevision,
      says: ({ by, data }, { change, name }) => {
        const number = 1 + change.revisions.findIndex(({ head }) => head === data.revision.head);
        return data.taken
          ? `r${number}, in which ${name(by)} takes ${counted(data.taken.length, "suggestion")}`
          : `r${number} by ${name(by)}`;
      },
      details: wordsOfFallen,
    },
  ),
  /** It is offered to another branch from now on; `after` is the number of the change set whose merge made it so, where it was none's wish. */
  retargeted: eventKind(
    v.object({ target: v.string(), revision: revisionFacts, same: v.boolean(), after: v.optional(v.number()) }),
    {
      live: true,
      evolve: (change, { by, at, data: { target, revision, same, after = null } }) => {
        const { pusher } = newest(change);
        const number = change.revisions.length + 1;
        const how = "retargeted" as const;
        const revisions = [...change.revisions, { ...revision, number, by, pusher, at, how, same, resultSame: false }];
        return {
          ...change,
          ...mergeAskedAfter(change, null, at),
          target,
          sentBy: after,
          revisions,
          reviews: numberedReviews(change.reviews, revisions),
        };
      },
      told: toldOfRevision,
      says: ({ by, data: { target, after } }, { name }) =>
        after === undefined
          ? `${name(by)} offers it to ${target}`
          : `it goes to ${target} now that change set ${after} is merged`,
      details: wordsOfFallen,
    },
  ),
};

type New = NewOf<typeof revisionEvents>;

export const revisionRequests = [
  v.object({ kind: v.literal("revise") }),
  v.object({ kind: v.literal("retarget"), target: text }),
  v.object({ kind: v.literal("take"), message: text }),
] as const;

export interface Revise {
  kind: "revise";
  revision: RevisionFacts;
  /** The number it is to have: what is told of it was found out about the one before. */
  number?: number;
  pusher?: string;
  how?: RevisionKind;
  same?: boolean;
  resultSame?: boolean;
}

export interface Retarget {
  kind: "retarget";
  target: string;
  revision: RevisionFacts;
  same: boolean;
  after?: number;
}

export const revisionCommands = {
  revise: commandKind<Revise, New>([], (change, { kind: _, number, ...data }, { actor }) => {
    const { revision } = data;
    const closed = notOpen(change);
    if (closed) return closed;
    if (actor.id !== change.author && !atLeast(actor.role, "contributor"))
      return refuse("forbidden", "Only contributors and keepers can record a new revision.");
    if (number !== undefined && number !== newest(change).number + 1)
      return refuse("conflict", `r${newest(change).number} has come in between.`);
    if (revision.head === newest(change).head)
      return refuse("conflict", `${change.source} has not moved since r${newest(change).number} was recorded.`);
    if (revision.head === revision.base)
      return refuse(
        "conflict",
        `There is no difference left: every commit of ${change.source} is in ${change.target} already.`,
      );
    return done({ kind: "revised", data });
  }),
  /** To another branch by author or keeper; by anyone's merge of the change set that this one stands on (`after`). */
  retarget: commandKind<Retarget, New>([], (change, { kind: _, ...data }, { actor }): Outcome<New> => {
    const { target, revision, after } = data;
    const wrong =
      notOpen(change) ?? (after === undefined ? authorOrKeeper(change, actor, "offer it to another branch") : null);
    if (wrong) return wrong;
    const hiding = hidingName(target);
    if (hiding !== null)
      return refuse("invalid", `Nothing is offered to a branch with signs that cannot be seen: ${hiding}.`);
    if (target === change.target) return refuse("conflict", `It is offered to ${target} already.`);
    if (target === change.source) return refuse("invalid", `A branch cannot be offered to itself: both are ${target}.`);
    if (revision.head !== newest(change).head)
      return refuse("conflict", `${change.source} has moved on: record what is there as a revision first.`);
    if (revision.head === revision.base)
      return refuse("conflict", `There is no difference: every commit of ${change.source} is in ${target} already.`);
    return done({ kind: "retargeted", data });
  }),
  take: commandKind<{ kind: "take"; revision: RevisionFacts; taken: Taken[] }, New>(
    [],
    (change, { revision, taken }, { actor }) => {
      const wrong = notOpen(change) ?? mayTake(change, actor);
      if (wrong) return wrong;
      if (taken.length === 0) return refuse("invalid", "No suggestion is picked.");
      for (const { thread, suggestion } of taken) {
        const made = change.threads.find(({ id }) => id === thread)?.suggestions.find(({ id }) => id === suggestion);
        if (!made) return refuse("missing", "One of the suggestions is no longer there.");
        if (made.taken)
          return refuse("conflict", `One of the suggestions was taken in r${made.taken.revision} already.`);
      }
      return done({ kind: "revised", data: { revision, taken } });
    },
  ),
};

/** Who may take suggestions: the author, as long as they may push at all, and keepers. */
export function mayTake(change: ChangeSet, actor: Actor): No | null {
  if (atLeast(actor.role, "keeper") || (actor.id === change.author && atLeast(actor.role, "contributor"))) return null;
  return refuse("forbidden", "Only the author of the change set or a keeper can take suggestions.");
}

/** What was asked for one state of it is not asked for what another person puts in its place. `pusher` null: nobody pushed. */
function mergeAskedAfter(
  change: ChangeSet,
  pusher: string | null,
  at: number,
): Pick<ChangeSet, "mergeAsked" | "mergeFailed"> {
  const { mergeAsked, revisions } = change;
  if (!mergeAsked || mergeAsked.by === pusher) return { mergeAsked, mergeFailed: null };
  const number = revisions.length + 1;
  const what = pusher === null ? `It goes to another branch since r${number}` : `r${number} was pushed by someone else`;
  return fall(change, at, what);
}

/** Also told to whoever asked for the merge that fell with it. */
function toldOfRevision(change: ChangeSet, event: { by: string; at: number }): string[] {
  return [...new Set([...thoseInIt(change, event), ...askerOfFallen(change, event)])];
}

/** Notes which suggestions a revision took. A thread of which every suggestion was taken is settled by it. */
function withTaken(threads: Thread[], taken: readonly Taken[], by: NonNullable<MadeSuggestion["taken"]>): Thread[] {
  if (taken.length === 0) return threads;
  // By its thread, too: an id is the word of whoever made it.
  const isTaken = (thread: Thread, { id }: MadeSuggestion) =>
    taken.some((one) => one.thread === thread.id && one.suggestion === id);
  return threads.map((thread) => {
    if (!thread.suggestions.some((made) => isTaken(thread, made))) return thread;
    const suggestions = thread.suggestions.map((made) => (isTaken(thread, made) ? { ...made, taken: by } : made));
    const all = suggestions.every((made) => made.taken !== null);
    return { ...thread, suggestions, resolved: thread.resolved ?? (all ? by : null) };
  });
}
