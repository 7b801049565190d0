import { anchorName } from "../anchor/anchor";
import type { EventData, ReviewEvent } from "../review/events";
import { type ChangeSet, peopleOf, type Thread } from "../review/state";
import type { Gate } from "../rules/gate";
import { counted } from "../words";
import type { Block } from "./blocks";

/** What a letter has to know beyond the change set as it stands after the events it tells of. */
export interface LetterFacts {
  change: ChangeSet;
  repository: string;
  gate: Gate;
  /** Where the change set is read: no slash at its end. */
  address: string;
  name: (id: string) => string;
  /** Who is written to. */
  to: string;
}

/** Events that are told of together when they come one after the other; the others are told of at once. */
export function isGathered({ kind }: ReviewEvent): boolean {
  return kind === "replied" || kind === "resolved";
}

/** Whom an event is told to: those who have to do with the change set, but for whoever did it; or those whom it asks. */
export function toldTo(change: ChangeSet, event: ReviewEvent, ofRole: (role: string) => readonly string[]): string[] {
  switch (event.kind) {
    case "asked-again":
      return event.data.people.filter((id) => id !== event.by);
    case "readied":
      return readyFor(change, ofRole).filter((id) => id !== event.by && id !== change.author);
    case "asked": {
      // They are told when it is ready.
      if (change.state === "draft") return [];
      const asked = event.data.invited.flatMap((one) => ("person" in one ? [one.person] : ofRole(one.role)));
      return [...new Set(asked)].filter((id) => id !== event.by && id !== change.author);
    }
    case "resolved":
      if (!event.data.body) return [];
      break;
    case "reviewed":
    case "replied":
    case "revised":
    case "merged":
    case "withdrawn":
    case "opened-again":
    case "lifted":
    case "retargeted":
      break;
    case "merge-unasked":
      // Taken back by someone it needs no letter; who asked learns why it could not be done.
      return change.mergeFailed ? [...new Set([change.mergeFailed.asker, change.author])] : [];
    default:
      return [];
  }
  const people = peopleOf(change);
  if (fallsWith(change, event)) people.add(change.mergeFailed.asker);
  return [...people].filter((id) => id !== event.by);
}

/** Whether the merge that somebody asked for fell with this event. */
function fallsWith(
  change: ChangeSet,
  { at, kind }: ReviewEvent,
): change is ChangeSet & { mergeFailed: NonNullable<ChangeSet["mergeFailed"]> } {
  return change.mergeFailed?.at === at && (kind === "revised" || kind === "retargeted");
}

/** Those who were asked while it was a draft. */
function readyFor(change: ChangeSet, ofRole: (role: string) => readonly string[]): string[] {
  return [...new Set(change.asked.flatMap((one) => ("person" in one ? [one.person] : ofRole(one.role))))];
}

/** The subject of a letter: where it is from first, then what is new. */
export function subjectOf(events: readonly ReviewEvent[], { change, repository, name }: LetterFacts): string {
  const [first] = events;
  const news = events.length === 1 ? newsOf(first, change, name) : `${counted(events.length, "answer")}`;
  return `[${repository} ${change.number}] ${change.title}: ${news}`.replace(/\s+/g, " ").slice(0, 200);
}

/** What a letter says. */
export function letterOf(events: readonly ReviewEvent[], facts: LetterFacts): Block[] {
  const { change, repository, gate, address, name, to } = facts;
  const blocks: Block[] = [];
  for (const event of events) {
    blocks.push({ kind: "says", words: `${capital(newsOf(event, change, name))}.` });
    blocks.push(...detailsOf(event, facts));
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

function newsOf(event: ReviewEvent, change: ChangeSet, name: (id: string) => string): string {
  const by = name(event.by);
  switch (event.kind) {
    case "reviewed": {
      const { verdict, revision, remarks } = event.data;
      if (verdict === "approve") return `${by} approves r${revision}`;
      if (verdict === "request-changes") return `${by} asks for changes in r${revision}`;
      return remarks.length > 0 ? `${counted(remarks.length, "remark")} by ${by}` : `a word of ${by}`;
    }
    case "replied":
      return `${by} answers`;
    case "resolved":
      return `${by} resolves a thread`;
    case "revised": {
      const number = 1 + change.revisions.findIndex(({ head }) => head === event.data.revision.head);
      return event.data.taken
        ? `r${number}, in which ${by} takes ${counted(event.data.taken.length, "suggestion")}`
        : `r${number} by ${by}`;
    }
    case "retargeted":
      return event.data.after === undefined
        ? `${by} offers it to ${event.data.target}`
        : `it goes to ${event.data.target} now that change set ${event.data.after} is merged`;
    case "merge-unasked":
      return "it is not merged by itself";
    case "asked":
    case "readied":
      return `${by} asks for your review`;
    case "asked-again":
      return `${by} asks you to look again, at r${event.data.revision}`;
    case "opened-again":
      return `opened again by ${by}`;
    case "lifted":
      return event.data.person === event.by
        ? `${by} takes the request for changes back`
        : `${by} lifts the request for changes of ${name(event.data.person)}`;
    case "merged":
      return `merged by ${by}`;
    case "withdrawn":
      return `withdrawn by ${by}`;
    default:
      return `news of ${by}`;
  }
}

function detailsOf(event: ReviewEvent, facts: LetterFacts): Block[] {
  const { change, address } = facts;
  switch (event.kind) {
    case "reviewed":
      return reviewBlocks(event.data, facts);
    case "replied":
    case "resolved": {
      const { thread: id, comment, body } = event.data;
      const thread = change.threads.find((candidate) => candidate.id === id);
      if (!thread) return [];
      const asked = thread.comments[0];
      const own = asked.id === comment || asked.erased !== null;
      return [
        ...head(thread),
        ...(own ? [] : [{ kind: "quote" as const, lines: asked.body.split("\n") }]),
        { kind: "words", words: body ?? "" },
        { kind: "link", words: "To the thread", to: `${address}?thread=${id}` },
      ];
    }
    case "asked":
    case "readied":
      return [{ kind: "words", words: change.description }];
    case "lifted":
      return [{ kind: "words", words: event.data.reason }];
    case "merge-unasked":
      return [{ kind: "words", words: event.data.why }];
    case "revised":
    case "retargeted":
      return fallsWith(change, event)
        ? [{ kind: "words", words: `It is not merged by itself any more. ${change.mergeFailed.why}` }]
        : [];
    default:
      return [];
  }
}

function reviewBlocks({ remark, remarks, tasks = [] }: EventData["reviewed"], { change, address, name }: LetterFacts) {
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
  for (const { body, person } of tasks) {
    blocks.push({ kind: "head", words: person ? `A task for ${name(person)}` : "A task" });
    blocks.push({ kind: "words", words: body });
  }
  return blocks;
}

function head({ anchor }: Thread): Block[] {
  const quote: Block[] = anchor.kind === "lines" ? [{ kind: "quote", lines: anchor.text }] : [];
  return [{ kind: "head", words: anchorName(anchor) }, ...quote];
}

function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}
