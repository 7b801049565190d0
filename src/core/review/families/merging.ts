import * as v from "valibot";
import { done, type Outcome, refuse } from "../../plain/outcome";
import { evaluateGate, type Gate } from "../../rules/gate";
import { MERGE_KINDS, type MergeKind, type Rule, writesMessage } from "../../rules/rule";
import { MERGE_WORDS } from "../../rules/rule-words";
import { type Actor, authorOrKeeper, type No, notReady, wrongText } from "../guards";
import { atLeast } from "../roles";
import { ordinal, text } from "../shapes";
import { type ChangeSet, newest } from "../state";
import { commandKind, eventKind, type NewOf, thoseInIt } from "./family";

/** Whether a change set becomes part of its target, now or when the gate opens. */

const how = v.picklist(MERGE_KINDS);

export const mergeEvents = {
  "merge-asked": eventKind(v.object({ kind: how, message: v.nullable(v.string()) }), {
    live: true,
    evolve: (change, { by, at, data }) => ({ ...change, mergeAsked: { ...data, by, at }, mergeFailed: null }),
    says: ({ by }, { name }) => `${name(by)} asks that it be merged when the gate opens`,
  }),
  /** No longer to be merged by itself; `why` is empty where somebody took it back. */
  "merge-unasked": eventKind(v.object({ why: v.string() }), {
    live: true,
    evolve: (change, { by, at, data: { why } }) => ({
      ...change,
      mergeAsked: null,
      mergeFailed: why === "" ? null : { why, at, asker: change.mergeAsked?.by ?? by },
    }),
    // Taken back by someone it needs no message; who asked learns why it could not be done.
    told: ({ mergeFailed, author }) => (mergeFailed ? [...new Set([mergeFailed.asker, author])] : []),
    says: () => "it is not merged by itself",
    details: ({ data }) => [{ kind: "words", words: data.why }],
  }),
  merged: eventKind(
    v.object({
      revision: v.number(),
      commit: v.string(),
      target: v.string(),
      message: v.string(),
      /** Missing in entries of before there were several. */
      kind: v.optional(how),
      /** Why the gate was passed although it was not met. */
      passing: v.optional(v.string()),
    }),
    {
      live: true,
      evolve: (change, { by, at, data: { commit, passing = null } }) => ({
        ...change,
        state: "merged",
        mergeAsked: null,
        settled: { by, at, commit, passing },
      }),
      told: thoseInIt,
      says: ({ by }, { name }) => `merged by ${name(by)}`,
    },
  ),
};

type New = NewOf<typeof mergeEvents>;

const mergeRequest = v.object({
  kind: v.literal("merge"),
  revision: ordinal,
  message: text,
  how: v.optional(how),
  passing: v.optional(text),
});
const mergeWhenOpen = v.object({
  kind: v.literal("merge-when-open"),
  /** The one that was looked at: the newest, or it is refused. */
  revision: ordinal,
  how,
  message: v.nullable(text),
});
const mergeNot = v.object({ kind: v.literal("merge-not"), why: v.optional(text, "") });

export const mergeRequests = [mergeRequest, mergeWhenOpen, mergeNot] as const;

export interface Merge {
  kind: "merge";
  revision: number;
  commit: string;
  target: string;
  message: string;
  /** A merge commit unless said otherwise. */
  how?: MergeKind;
  /** Why the gate is passed although it is not met. */
  passing?: string;
}

export const mergeCommands = {
  merge: commandKind<Merge, New, "rule" | "gate">(["rule", "gate"], (change, command, { actor, rule, gate: facts }) => {
    const may = mayMerge(change, actor);
    if (!may.ok) return may;
    const { how = "merge", passing } = command;
    const wrong =
      wrongKind(change, rule, how) ??
      wrongText("The message of the commit", command.message, writesMessage(how)) ??
      notNewest(change, command.revision);
    if (wrong) return wrong;
    const gate = evaluateGate(change, rule, facts);
    const { kind: _, how: __, passing: ___, ...rest } = command;
    const data = { ...rest, kind: how };
    if (gate.open) return done({ kind: "merged", data });
    if (passing === undefined) return refuse("conflict", `The gate is not met. ${missing(gate)}`);
    const refused = mayPass(change, rule, actor);
    if (!refused.ok) return refused;
    if (passing.trim() === "") return refuse("invalid", "Say why the gate is passed: the reason stays on the record.");
    return done({ kind: "merged", data: { ...data, passing: passing.trim() } });
  }),
  "merge-when-open": commandKind<v.InferOutput<typeof mergeWhenOpen>, New, "rule" | "gate">(
    ["rule", "gate"],
    (change, { revision, how, message }, { actor, rule, gate }) => {
      const may = mayMerge(change, actor);
      if (!may.ok) return may;
      const wrong =
        wrongKind(change, rule, how) ??
        (message === null ? null : wrongText("The message of the commit", message, true)) ??
        notNewest(change, revision);
      if (wrong) return wrong;
      if (evaluateGate(change, rule, gate).open) return refuse("conflict", "The gate is open: it can be merged now.");
      return done({ kind: "merge-asked", data: { kind: how, message } });
    },
  ),
  "merge-not": commandKind<v.InferOutput<typeof mergeNot>, New>([], (change, { why }, { actor }) => {
    if (!change.mergeAsked) return refuse("conflict", "Nobody asked that it be merged by itself.");
    return authorOrKeeper(change, actor, "take that back") ?? done({ kind: "merge-unasked", data: { why } });
  }),
};

function wrongKind(change: ChangeSet, { merging }: Rule, how: MergeKind): No | null {
  if (merging.includes(how)) return null;
  return refuse(
    "conflict",
    `${change.target} is not merged into by ${MERGE_WORDS[how]}, but by ${merging.map((kind) => MERGE_WORDS[kind]).join(" or ")}.`,
  );
}

/** What nobody looked at is not merged: whoever asks says which revision they mean. */
export function notNewest(change: ChangeSet, revision: number): No | null {
  const current = newest(change).number;
  if (revision === current) return null;
  if (revision > current) return refuse("invalid", `There is no r${revision}: the newest is r${current}.`);
  return refuse(
    "conflict",
    `You asked to merge r${revision}, and r${current} has come since. Look at what is new first.`,
  );
}

/** Whether this person may merge although the gate is not met. */
export function mayPass(change: ChangeSet, rule: Rule, actor: Actor): Outcome<null> {
  if (change.state === "draft")
    return refuse("conflict", "A draft cannot be merged past the gate: it has to be ready.");
  if (!rule.passing) return refuse("conflict", `The rule of ${change.target} lets nobody pass the gate.`);
  if (!atLeast(actor.role, "keeper")) return refuse("forbidden", "Only a keeper can pass the gate, with a reason.");
  return done(null);
}

/** Whether this person may merge at all, the gate aside. */
export function mayMerge(change: ChangeSet, actor: Actor): Outcome<null> {
  const closed = notReady(change);
  if (closed) return closed;
  if (actor.machine) return refuse("forbidden", "A machine account does not merge: that is for people to do.");
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
