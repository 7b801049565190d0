import { done, type Outcome, refuse } from "../outcome";
import { evaluateGate, type Gate } from "../rules/gate";
import type { MergeKind, Rule } from "../rules/rule";
import { MERGE_WORDS } from "../rules/rule-words";
import { type Actor, notReady, type Refused, wrongText } from "./checks";
import type { Command, Facts } from "./command";
import type { NewEvent } from "./events";
import { atLeast } from "./roles";
import { type ChangeSet, newest } from "./state";

/** Whether a change set becomes part of its target, now or when the gate opens. */

export function decideMerge(
  change: ChangeSet,
  command: Extract<Command, { kind: "merge" }>,
  { actor, rule, gate: facts }: Facts,
): Outcome<NewEvent> {
  const may = mayMerge(change, actor);
  if (!may.ok) return may;
  const { how = "merge", passing } = command;
  const wrong =
    wrongKind(change, rule, how) ??
    wrongText("The message of the commit", command.message, how === "merge" || how === "squash");
  if (wrong) return wrong;
  const current = newest(change).number;
  if (command.revision !== current) {
    return refuse(
      "conflict",
      `You asked to merge r${command.revision}, and r${current} has come since. Look at what is new first.`,
    );
  }
  const gate = evaluateGate(change, rule, facts);
  const { kind: _, how: __, passing: ___, ...rest } = command;
  const data = { ...rest, kind: how };
  if (gate.open) return done({ kind: "merged", data });
  if (passing === undefined) return refuse("conflict", `The gate is not met. ${missing(gate)}`);
  const refused = mayPass(change, rule, actor);
  if (!refused.ok) return refused;
  if (passing.trim() === "") return refuse("invalid", "Say why the gate is passed: the reason stays on the record.");
  return done({ kind: "merged", data: { ...data, passing: passing.trim() } });
}

function wrongKind(change: ChangeSet, { merging }: Rule, how: MergeKind): Refused | null {
  if (merging.includes(how)) return null;
  return refuse(
    "conflict",
    `${change.target} is not merged into by ${MERGE_WORDS[how]}, but by ${merging.map((kind) => MERGE_WORDS[kind]).join(" or ")}.`,
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

export function decideMergeWhenOpen(
  change: ChangeSet,
  { how, message }: Extract<Command, { kind: "merge-when-open" }>,
  { actor, rule, gate }: Facts,
): Outcome<NewEvent> {
  const may = mayMerge(change, actor);
  if (!may.ok) return may;
  const wrong =
    wrongKind(change, rule, how) ?? (message === null ? null : wrongText("The message of the commit", message, true));
  if (wrong) return wrong;
  if (evaluateGate(change, rule, gate).open) return refuse("conflict", "The gate is open: it can be merged now.");
  return done({ kind: "merge-asked", data: { kind: how, message } });
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
