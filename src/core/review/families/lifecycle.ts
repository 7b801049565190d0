import * as v from "valibot";
import { visibleWords } from "../../cautions/visible";
import { done, type Outcome, refuse } from "../../plain/outcome";
import { hidingName } from "../../rules/ref-name";
import { writesMessage } from "../../rules/rule";
import { type Actor, authorOrKeeper, notOpen, wrongText, wrongTitle } from "../guards";
import { atLeast } from "../roles";
import { type RevisionFacts, revisionFacts, text } from "../shapes";
import type { ChangeSet } from "../state";
import { askerOfFallen, fall, wordsOfFallen } from "./asked-merge";
import { commandKind, eventKind, type Happened, type NewOf, thoseInIt } from "./family";

/** A change set as a whole: opened, a draft or ready, described, withdrawn and offered again. */

const opened = v.object({
  repository: v.string(),
  number: v.number(),
  title: v.string(),
  description: v.string(),
  source: v.string(),
  target: v.string(),
  revision: revisionFacts,
  /** Who pushed what is offered; missing where that is not known: then it is who opened it. */
  pusher: v.optional(v.string()),
  /** Whose work it is, where a machine account opened it. */
  author: v.optional(v.string()),
  /** Asks nobody and cannot merge until it is said to be ready. */
  draft: v.optional(v.boolean()),
});

export const lifecycleEvents = {
  opened: eventKind(opened, {
    evolve: (_, { stream }) => {
      throw new Error(`The log of ${stream} opens it twice.`);
    },
    says: ({ by }, { name }) => `opened by ${name(by)}`,
  }),
  readied: eventKind(v.object({}), {
    live: true,
    evolve: (change, { at }) => ({ ...change, state: "open", readyAt: at }),
    told: (change, { by }, ofRole) =>
      [...new Set(change.asked.flatMap((one) => ("person" in one ? [one.person] : ofRole(one.role))))].filter(
        (id) => id !== by && id !== change.author,
      ),
    says: ({ by }, { name, to }) => `${name(by)} ${to ? "asks for your review" : "says that it is ready"}`,
    details: (_, { change }) => [{ kind: "words", words: change.description }],
  }),
  drafted: eventKind(v.object({}), {
    live: true,
    evolve: (change) => ({ ...change, state: "draft" }),
    says: ({ by }, { name }) => `made a draft by ${name(by)}`,
  }),
  described: eventKind(v.object({ title: v.string(), description: v.string() }), {
    live: true,
    evolve: (change, { by, at, data: { title, description } }) => {
      const { title: was, description: said, describedBy } = change;
      const before = { title: was, description: said, by: describedBy, until: at };
      const wordings = [...change.wordings, before];
      const words = { title: visibleWords(title), description, describedBy: by, wordings };
      return { ...change, ...askedMergeAfter(change, by, at), ...words };
    },
    told: askerOfFallen,
    says: ({ by }, { name }) => `described anew by ${name(by)}`,
    details: wordsOfFallen,
  }),
  withdrawn: eventKind(v.object({}), {
    live: true,
    evolve: (change, { by, at }) => ({
      ...change,
      state: "withdrawn",
      mergeAsked: null,
      settled: { by, at, commit: null, passing: null },
    }),
    told: thoseInIt,
    says: ({ by }, { name }) => `withdrawn by ${name(by)}`,
  }),
  /** Withdrawn before, and offered again. */
  "opened-again": eventKind(v.object({}), {
    live: true,
    evolve: (change) => ({ ...change, state: "open", settled: null }),
    told: thoseInIt,
    says: ({ by }, { name }) => `opened again by ${name(by)}`,
  }),
};

type New = NewOf<typeof lifecycleEvents>;

/** Who asked for a merge with the message that is made of title and description read those: not what somebody else writes there later. */
function askedMergeAfter(change: ChangeSet, by: string, at: number): Partial<ChangeSet> {
  const { mergeAsked } = change;
  if (!mergeAsked || mergeAsked.message !== null || mergeAsked.by === by || !writesMessage(mergeAsked.kind)) return {};
  return fall(change, at, "The title or the description, of which the message is made, was changed by someone else");
}

/** A change set as it begins. Whoever decides takes no title with signs that do not show; in what comes from elsewhere they are written out. */
export function begun({ id, stream, by, at, data }: Happened<v.InferOutput<typeof opened>>): ChangeSet {
  const { revision, draft, pusher = by, author = by, ...rest } = data;
  return {
    ...rest,
    title: visibleWords(rest.title),
    id: stream,
    last: id,
    entries: 1,
    leftOut: [],
    author,
    openedAt: at,
    readyAt: at,
    changedAt: at,
    state: draft ? "draft" : "open",
    sentBy: null,
    describedBy: by,
    settled: null,
    revisions: [{ ...revision, number: 1, by, pusher, at, how: null, same: false, resultSame: false }],
    threads: [],
    reviews: [],
    tasks: [],
    asked: [],
    again: [],
    lifts: [],
    checks: [],
    links: [],
    labels: [],
    wordings: [],
    mergeAsked: null,
    mergeFailed: null,
  };
}

const describe = v.object({
  ...{ kind: v.literal("describe"), title: text, description: text },
  /** What they said when the writing began: so that nobody’s words are written over unseen. */
  was: v.optional(v.object({ title: text, description: text })),
});

export const lifecycleRequests = [
  describe,
  v.object({ kind: v.picklist(["ready", "draft", "withdraw", "open-again"]) }),
] as const;

export const lifecycleCommands = {
  describe: commandKind<v.InferOutput<typeof describe>, New>(
    [],
    (change, { title, description, was }, { actor }) =>
      authorOrKeeper(change, actor, "change the title and the description") ??
      (was && (was.title !== change.title || was.description !== change.description)
        ? refuse("conflict", "Someone has changed it while you were writing: look at both.")
        : null) ??
      wrongTitle(title) ??
      wrongText("The description", description) ??
      done({ kind: "described", data: { title: title.trim(), description } }),
  ),
  ready: commandKind<{ kind: "ready" }, New>([], (change, _, { actor }) => {
    const wrong = notOpen(change) ?? authorOrKeeper(change, actor, "say that it is ready");
    if (wrong) return wrong;
    return change.state === "open" ? refuse("conflict", "It is ready already.") : done({ kind: "readied", data: {} });
  }),
  draft: commandKind<{ kind: "draft" }, New>([], (change, _, { actor }) => {
    const wrong = notOpen(change) ?? authorOrKeeper(change, actor, "make it a draft");
    if (wrong) return wrong;
    return change.state === "draft"
      ? refuse("conflict", "It is a draft already.")
      : done({ kind: "drafted", data: {} });
  }),
  withdraw: commandKind<{ kind: "withdraw" }, New>(
    [],
    (change, _, { actor }) =>
      authorOrKeeper(change, actor, "withdraw a change set") ??
      notOpen(change) ??
      done({ kind: "withdrawn", data: {} }),
  ),
  "open-again": commandKind<{ kind: "open-again" }, New>([], (change, _, { actor }) => {
    const wrong = authorOrKeeper(change, actor, "open a change set again");
    if (wrong) return wrong;
    if (change.state !== "withdrawn")
      return refuse("conflict", `Only what was withdrawn can be opened again; this is ${change.state}.`);
    return done({ kind: "opened-again", data: {} });
  }),
};

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

/** Whether a change set can be opened. Pure. */
export function decideOpening(opening: Opening): Outcome<Extract<New, { kind: "opened" }>> {
  const { actor, alreadyOpen, answers = null, ...data } = opening;
  if (!atLeast(actor.role, "contributor"))
    return refuse("forbidden", "Only contributors and keepers of this repository can open a change set.");
  if (actor.machine && answers === null)
    return refuse(
      "forbidden",
      "A machine account is nobody’s colleague: a person has to have pushed what it offers, or to be named as its owner.",
    );
  const hiding = hidingName(data.source, data.target);
  if (hiding !== null)
    return refuse("invalid", `A branch with signs that cannot be seen is not offered, nor offered to: ${hiding}.`);
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
