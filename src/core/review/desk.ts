import type { AnchorHistory } from "../anchor/anchor-history";
import { counted } from "../plain/words";
import type { GateFacts } from "../rules/facts";
import { evaluateGate, type Gate } from "../rules/gate";
import type { Rule } from "../rules/rule";
import { isPut } from "./answered";
import { mayMerge } from "./families/merging";
import type { Actor } from "./guards";
import { atLeast } from "./roles";
import { type ChangeSet, newest, revisionName, sinceWhen, standings, waitsForAuthor } from "./state";

/** How an open change set stands for one person: who has to move next, and why. */
export interface DeskPlace {
  /**
   * `me`: it waits for this person; `them`: this person waits for others; `could`: nobody asked them, and an approval or a merge of
   * theirs would bring it on; `none`: it does not concern them.
   */
  waits: "me" | "them" | "could" | "none";
  /** Never empty: what it waits for, in sentences. */
  reasons: string[];
}

/** What a place on a desk depends on beyond the change set and who looks. */
export interface DeskFacts {
  rule: Rule;
  gate: GateFacts;
  /** Turns a person's id into a name. */
  name: (id: string) => string;
  /** What became of the lines of its threads. */
  histories: Record<string, AnchorHistory>;
  /** Lines new to this person in the newest revision; null when that is not known. */
  fresh: number | null;
}

/** Where an open change set belongs on a person's desk. */
export function deskPlace(change: ChangeSet, actor: Actor, facts: DeskFacts): DeskPlace {
  return actor.id === change.author ? asAuthor(change, actor, facts) : asReviewer(change, actor, facts);
}

function asAuthor(change: ChangeSet, actor: Actor, { rule, gate: facts, name }: DeskFacts): DeskPlace {
  if (change.state === "draft")
    return { waits: "me", reasons: ["A draft: say that it is ready when it is to be reviewed."] };
  const reasons: string[] = [];
  for (const { person, verdict, revision } of standings(change)) {
    if (verdict === "request-changes" && revision >= sinceWhen(change))
      reasons.push(`${name(person)} asks for changes in ${revisionName(revision)}.`);
  }
  const unanswered = change.threads.filter((thread) => waitsForAuthor(thread, actor.id)).length;
  if (unanswered > 0)
    reasons.push(`${counted(unanswered, "thread")} ${unanswered === 1 ? "waits" : "wait"} for your answer.`);
  if (change.mergeFailed) reasons.push(`It is not merged by itself: ${change.mergeFailed.why}`);
  const gate = evaluateGate(change, rule, facts);
  if (gate.open && mayMerge(change, actor).ok) reasons.push("The gate is met: you can merge it.");
  if (reasons.length > 0) return { waits: "me", reasons };
  return { waits: "them", reasons: missingIn(gate) };
}

function asReviewer(
  change: ChangeSet,
  actor: Actor,
  { rule, gate: facts, name, histories, fresh }: DeskFacts,
): DeskPlace {
  if (change.state === "draft") return { waits: "none", reasons: ["A draft of its author."] };
  const current = newest(change).number;
  const mine = standings(change).find(({ person }) => person === actor.id);
  const lastRead = Math.max(0, ...change.reviews.filter(({ by }) => by === actor.id).map(({ revision }) => revision));
  const answered = openThreads(change).filter(
    ({ comments }) => comments[0].by === actor.id && comments[comments.length - 1].by !== actor.id,
  ).length;
  const reasons: string[] = [];
  const asking = change.asked.find((one) => ("person" in one ? one.person === actor.id : one.role === actor.role));
  const gate = evaluateGate(change, rule, facts);
  if (answered > 0)
    reasons.push(`${counted(answered, "thread")} of yours ${answered === 1 ? "was" : "were"} answered.`);
  const put = change.threads.filter(
    (thread) => thread.comments[0].by === actor.id && isPut(change, thread, histories) !== null,
  ).length;
  if (put > 0) reasons.push(`The lines of ${counted(put, "thread")} of yours were changed: answered?`);
  if (atLeast(actor.role, "contributor")) {
    const again = change.again.find(({ person }) => person === actor.id);
    const amount = fresh === null ? "" : `: ${counted(fresh, "line")} new to you`;
    // After a rebase alone nobody has to look again.
    if (again) reasons.push(`${name(again.by)} asks you to look again, at r${current}${amount}.`);
    else if (mine && mine.revision < sinceWhen(change))
      reasons.push(
        `r${current} came after you ${mine.verdict === "approve" ? "approved" : "asked for changes in"} r${mine.revision}.`,
      );
    else if (lastRead === 0 && asking) reasons.push(`${name(asking.by)} asks you to review it.`);
    else if (!mine && lastRead > 0 && lastRead < sinceWhen(change))
      reasons.push(`r${current} came after you read r${lastRead}.`);
  }
  if (change.mergeFailed?.asker === actor.id)
    reasons.push(`You asked that it be merged by itself, and it is not: ${change.mergeFailed.why}`);
  const stewarding = gate.conditions.filter(
    ({ key, met, canMeet }) => key === "steward" && !met && canMeet.includes(actor.id),
  );
  if (stewarding.length > 0) reasons.push(`It needs you as a steward: ${stewarding.map(({ says }) => says).join(" ")}`);
  const tasks = change.tasks.filter(({ person, done }) => person === actor.id && done === null).length;
  if (tasks > 0) reasons.push(`${counted(tasks, "task")} here ${tasks === 1 ? "is" : "are"} yours to do.`);
  if (reasons.length > 0) return { waits: "me", reasons };
  if (gate.open && mayMerge(change, actor).ok)
    return { waits: "could", reasons: ["The gate is met: you could merge it."] };
  const missing = missingIn(gate);
  const approvals = gate.conditions.find(({ key, met }) => key === "approvals" && !met);
  if (lastRead === 0)
    return approvals?.canMeet.includes(actor.id)
      ? { waits: "could", reasons: [`You could approve it. ${approvals.says}`] }
      : { waits: "none", reasons: missing };
  const theirs = mine?.verdict === "request-changes" ? [`${name(change.author)} has your request for changes.`] : [];
  return { waits: "them", reasons: theirs.length > 0 ? theirs : missing };
}

/** What still has to be before it can be merged; or that it can be, by others. */
function missingIn({ conditions }: Gate): string[] {
  const missing = conditions.filter(({ met }) => !met).map(({ says }) => says);
  return missing.length > 0 ? missing : ["The gate is met: it can be merged."];
}

function openThreads(change: ChangeSet) {
  return change.threads.filter((thread) => thread.resolved === null);
}
