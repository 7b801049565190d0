import type { GenericSchema, InferOutput } from "valibot";
import type { Block } from "../../doors/mail/blocks";
import type { Outcome } from "../../plain/outcome";
import type { GateFacts, GatePerson } from "../../rules/facts";
import type { Rule } from "../../rules/rule";
import type { Actor } from "../guards";
import { type ChangeSet, peopleOf } from "../state";

/**
 * What a family of commands is made of. One file each holds what belongs to a subject: the entries that it writes into the log, with their
 * shapes, what they make of a change set and how they are told; what can be asked, and how that is decided. `table.ts` joins them.
 */

/** One entry of the log, as its own family sees it. `at` is milliseconds since 1970. */
export interface Happened<Data> {
  id: string;
  stream: string;
  by: string;
  at: number;
  data: Data;
}

/** What telling of an event needs to know: the change set as it stands after it, where that is read, and what people are called. */
export interface Telling {
  change: ChangeSet;
  /** Without a slash at its end. */
  address: string;
  name: (id: string) => string;
  /** Who is told, where that is one person. */
  to?: string;
}

/** One kind of entry. */
export interface EventKind<Data> {
  /** What the change set becomes by it; the state given is left as it was. `changedAt` is that of the event already. */
  evolve(change: ChangeSet, event: Happened<Data>): ChangeSet;
  /** It is no turn in the conversation: lists, which go by what people did, do not move by it. */
  silent?: true;
  /** Ids of those it is told to; nobody where it is missing. */
  told?(change: ChangeSet, event: Happened<Data>, ofRole: (role: string) => readonly string[]): string[];
  /** It is told together with others like it that come soon after. */
  gathered?: true;
  /** It is told on open pages, too. */
  live?: true;
  /** The sentence that mail, news and lists use, without a full stop. */
  says(event: Happened<Data>, telling: Telling): string;
  /** What a message says of it beyond that. */
  details?(event: Happened<Data>, telling: Telling): Block[];
}

export function eventKind<S extends GenericSchema>(data: S, does: EventKind<InferOutput<S>>) {
  return { data, ...does };
}

/** The entries that a family writes, before they are written. */
export type NewOf<Events> = {
  [K in keyof Events & string]: Events[K] extends { data: infer S extends GenericSchema }
    ? { kind: K; data: InferOutput<S> }
    : never;
}[keyof Events & string];

/** What deciding can need to know beyond the change set itself. */
export interface Facts {
  actor: Actor;
  /** The rule of the branch it is offered to. */
  rule: Rule;
  /** Those who can see the repository. */
  people: readonly GatePerson[];
  /** Of git, too: only what is about the gate needs it. */
  gate: GateFacts;
}

export type Need = Exclude<keyof Facts, "actor">;

/** One kind of command: what deciding it needs to know, and what happens when it is carried out, or why not. Pure. */
export interface CommandKind<Command, N extends Need, New> {
  needs: readonly N[];
  decide(change: ChangeSet, command: Command, facts: Pick<Facts, "actor" | N>): Outcome<New>;
}

export function commandKind<Command, New, N extends Need = never>(
  needs: readonly N[],
  decide: CommandKind<Command, N, New>["decide"],
): CommandKind<Command, N, New> {
  return { needs, decide };
}

/** Those who have to do with a change set, but for whoever did it. */
export function thoseInIt(change: ChangeSet, { by }: { by: string }): string[] {
  return [...peopleOf(change)].filter((person) => person !== by);
}
