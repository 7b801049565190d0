import { counted } from "../../plain/words";
import type { ReviewEvent } from "../../review/events";
import { kindOf } from "../../review/evolve";
import type { Telling } from "../../review/families/family";
import type { ChangeSet } from "../../review/state";
import type { Gate } from "../../rules/gate";
import type { Block } from "./blocks";

/** What a message has to know beyond the change set as it stands after the events it tells of. */
export interface MessageFacts extends Telling {
  repository: string;
  gate: Gate;
  to: string;
}

/** Events that are told of together when they come one after the other; the others are told of at once. */
export function isGathered(event: ReviewEvent): boolean {
  return kindOf(event).gathered ?? false;
}

/** Whom an event is told to: those who have to do with the change set, but for whoever did it; or those whom it asks. */
export function toldTo(change: ChangeSet, event: ReviewEvent, ofRole: (role: string) => readonly string[]): string[] {
  return kindOf(event).told?.(change, event, ofRole) ?? [];
}

/** The subject of a message: where it is from first, then what is new. */
export function subjectOf(events: readonly ReviewEvent[], facts: MessageFacts): string {
  const { change, repository } = facts;
  const [first] = events;
  const news = events.length === 1 ? kindOf(first).says(first, facts) : `${counted(events.length, "answer")}`;
  return `[${repository} ${change.number}] ${change.title}: ${news}`.replace(/\s+/g, " ").slice(0, 200);
}

/** What a message says. */
export function messageOf(events: readonly ReviewEvent[], facts: MessageFacts): Block[] {
  const { change, repository, gate, address, to } = facts;
  const blocks: Block[] = [];
  for (const event of events) {
    blocks.push({ kind: "says", words: `${capital(kindOf(event).says(event, facts))}.` });
    blocks.push(...(kindOf(event).details?.(event, facts) ?? []));
  }
  if (change.state === "open") {
    const unmet = gate.conditions.filter(({ met }) => !met).map(({ says }) => says);
    blocks.push({
      kind: "words",
      words: unmet.length === 0 ? "The gate is met: it can be merged." : `The gate: ${unmet.join(" ")}`,
    });
  }
  blocks.push({ kind: "link", words: `Read change set ${change.number} of ${repository}`, to: address });
  const why = to === change.author ? "You are the author of this change set." : "You take part in this change set.";
  blocks.push({ kind: "foot", words: `${why} No more mail about it:`, to: `${address}/mail` });
  return blocks;
}

function capital(words: string): string {
  // The name of a revision stays as it is.
  if (/^r\d/.test(words)) return words;
  return words.charAt(0).toUpperCase() + words.slice(1);
}
