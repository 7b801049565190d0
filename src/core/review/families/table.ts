import * as v from "valibot";
import { id } from "../shapes";
import { askingCommands, askingEvents, askingRequests } from "./asking";
import type { CommandKind, Facts, Need } from "./family";
import { labelCommands, labelEvents, labelRequests } from "./labels";
import { lifecycleCommands, lifecycleEvents, lifecycleRequests } from "./lifecycle";
import { mergeCommands, mergeEvents, mergeRequests } from "./merging";
import { reportCommands, reportEvents, reportRequests } from "./reports";
import { reviewCommands, reviewEvents, reviewRequests } from "./reviews";
import { revisionCommands, revisionEvents, revisionRequests } from "./revisions";
import { taskCommands, taskEvents, taskRequests } from "./tasks";
import { threadCommands, threadEvents, threadRequests } from "./threads";
import { workLinkCommands, workLinkEvents, workLinkRequests } from "./work-links";

/** Every kind of entry in the log. Never changed once written; a new shape gets a new kind or a higher version. */
export const EVENTS = {
  ...lifecycleEvents,
  ...revisionEvents,
  ...reviewEvents,
  ...threadEvents,
  ...taskEvents,
  ...askingEvents,
  ...reportEvents,
  ...workLinkEvents,
  ...labelEvents,
  ...mergeEvents,
};

/** Every kind of command, and how it is decided. */
export const COMMANDS = {
  ...lifecycleCommands,
  ...revisionCommands,
  ...reviewCommands,
  ...threadCommands,
  ...taskCommands,
  ...askingCommands,
  ...reportCommands,
  ...workLinkCommands,
  ...labelCommands,
  ...mergeCommands,
};

/** What can be asked of a change set. With a key, the same asked twice is carried out once. */
export const commandRequest = v.intersect([
  v.object({ key: v.optional(id) }),
  v.variant("kind", [
    ...lifecycleRequests,
    ...revisionRequests,
    ...reviewRequests,
    ...threadRequests,
    ...taskRequests,
    ...askingRequests,
    ...workLinkRequests,
    ...labelRequests,
    ...reportRequests,
    ...mergeRequests,
  ]),
]);
export type CommandRequest = v.InferOutput<typeof commandRequest>;

/** The kinds of command, by name. */
export type CommandName = keyof typeof COMMANDS;

/** What a person asks for. Ids in it were made by the caller, so that deciding stays free of chance. */
export type Command = { [K in CommandName]: CommandOf<K> }[CommandName];

/** Commands of one kind, or of several. */
export type CommandOf<K extends CommandName> = {
  [One in K]: (typeof COMMANDS)[One] extends CommandKind<infer C, infer _N, infer _New> ? C & { kind: One } : never;
}[K];

/** What deciding a kind of command needs to know. */
export type FactsFor<K extends CommandName> = Pick<
  Facts,
  "actor" | ((typeof COMMANDS)[K] extends CommandKind<infer _C, infer N extends Need, infer _New> ? N : never)
>;
