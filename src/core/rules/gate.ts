import { type ChangeSet, newest, sinceWhen, standings, unsettled } from "../review/state";
import { counted } from "../words";

/** What a target branch asks of a change set before it merges. */
export interface Rule {
  /** How many people other than the author must approve the newest revision, or one that it is a mere rebase of. */
  approvals: number;
  /** Threads that must be settled have to be, and tasks done. */
  settled: boolean;
}

export interface Condition {
  key: "draft" | "approvals" | "requests" | "threads" | "tasks";
  met: boolean;
  /** The condition and how it stands, in one sentence. */
  says: string;
  /** Ids of the people whose answer the condition is about: who approved, or who asks for changes. */
  people: string[];
  /** Who can meet it, in words; null when it is met. */
  who: string | null;
  /** Ids of the people who can meet it now. */
  canMeet: string[];
}

/** The rules, evaluated for a change set as it is now. */
export interface Gate {
  open: boolean;
  conditions: Condition[];
}

/**
 * Pure: the same change set and rule give the same gate, in the same words, wherever it is asked. `reviewers` are the ids of those
 * whose role lets them give a verdict; who is not among them does not change whether a condition is met.
 */
export function evaluateGate(change: ChangeSet, rule: Rule, reviewers: readonly string[] = []): Gate {
  const current = newest(change).number;
  const given = standings(change).filter(({ person }) => person !== change.author);
  const approving = given.filter(({ verdict }) => verdict === "approve");
  const fresh = approving.filter(({ revision }) => revision >= sinceWhen(change));
  const outdated = approving.length - fresh.length;
  const asking = given.filter(({ verdict }) => verdict === "request-changes");
  const short = Math.max(0, rule.approvals - fresh.length);

  const approved = new Set(fresh.map(({ person }) => person));
  const canApprove = reviewers.filter((person) => person !== change.author && !approved.has(person));
  const conditions: Condition[] = [];
  if (change.state === "draft") {
    conditions.push({
      key: "draft",
      met: false,
      says: "It is a draft.",
      people: [],
      who: "Its author says when it is ready.",
      canMeet: [change.author],
    });
  }
  if (rule.approvals > 0) {
    const gone =
      outdated > 0
        ? ` ${counted(outdated, "approval")} of an earlier revision no longer ${outdated === 1 ? "counts" : "count"}.`
        : "";
    conditions.push({
      key: "approvals",
      met: short === 0,
      says:
        short === 0
          ? `${counted(fresh.length, "approval")} of r${current}; ${change.target} asks for ${rule.approvals}.`
          : `${fresh.length} of ${counted(rule.approvals, "approval")} of r${current}.${gone}`,
      people: fresh.map(({ person }) => person),
      who: short === 0 ? null : whoCanApprove(reviewers.length > 0 && canApprove.length < short),
      canMeet: short === 0 ? [] : canApprove,
    });
  }
  conditions.push({
    key: "requests",
    met: asking.length === 0,
    says:
      asking.length === 0
        ? "Nobody’s request for changes stands."
        : `${counted(asking.length, "request")} for changes ${asking.length === 1 ? "stands" : "stand"}.`,
    people: asking.map(({ person }) => person),
    who: asking.length === 0 ? null : "Whoever asked can approve once it is answered.",
    canMeet: asking.map(({ person }) => person),
  });
  if (rule.settled) conditions.push(...settling(change));
  return { open: conditions.every(({ met }) => met), conditions };
}

/** Threads are always spoken of; tasks where there are any. */
function settling(change: ChangeSet): Condition[] {
  const threads = unsettled(change);
  const conditions: Condition[] = [
    {
      key: "threads",
      met: threads.length === 0,
      says:
        threads.length === 0
          ? "No thread is left to settle."
          : `${counted(threads.length, "thread")} ${threads.length === 1 ? "has" : "have"} to be settled.`,
      people: [...new Set(threads.map(({ comments }) => comments[0].by))],
      who: threads.length === 0 ? null : "The people in a thread, the author and keepers can resolve it.",
      canMeet: [],
    },
  ];
  if (change.tasks.length === 0) return conditions;
  const open = change.tasks.filter(({ done }) => done === null);
  const people = [...new Set(open.flatMap(({ person }) => person ?? []))];
  conditions.push({
    key: "tasks",
    met: open.length === 0,
    says:
      open.length === 0
        ? `${change.tasks.length === 1 ? "The task is" : `All ${change.tasks.length} tasks are`} done.`
        : `${counted(open.length, "task")} of ${change.tasks.length} still to do.`,
    people,
    who: open.length === 0 ? null : "Whoever does it, or the author, can tick it off.",
    canMeet: people,
  });
  return conditions;
}

function whoCanApprove(tooFew: boolean): string {
  if (!tooFew) return "Any contributor or keeper but the author can approve.";
  return "Too few people may approve here: a keeper has to make someone a contributor.";
}
