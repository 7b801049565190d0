import { anchorName, LONGEST_ANCHOR } from "../anchor/anchor";
import { done, type Outcome, refuse } from "../outcome";
import { wrongSuggestions } from "../suggest/suggestion";
import { type Actor, MOST_REMARKS, notOpen, notReady, type Refused, wrongText } from "./checks";
import type { NewEvent, SentRemark, SentTask, Verdict } from "./events";
import { atLeast } from "./roles";
import { type ChangeSet, newest } from "./state";

/** All that is sent as one. */
export interface ReviewCommand {
  kind: "send-review";
  revision: number;
  verdict: Verdict;
  remark: string;
  remarks: SentRemark[];
  tasks?: SentTask[];
}

/** `own`: the author may approve, since the rule counts that. */
export function decideReview(change: ChangeSet, command: ReviewCommand, actor: Actor, own: boolean): Outcome<NewEvent> {
  const { revision, verdict, remark, remarks, tasks = [] } = command;
  const wrong =
    notOpen(change) ??
    wrongVerdict(change, command, actor, own) ??
    wrongText("The closing word", remark) ??
    wrongRemarks(change, remarks) ??
    wrongTasks(change, tasks);
  if (wrong) return wrong;
  return done({
    kind: "reviewed",
    data: { revision, verdict, remark, remarks, ...(tasks.length > 0 ? { tasks } : {}) },
  });
}

function wrongVerdict(
  change: ChangeSet,
  { revision, verdict, remark, remarks, tasks = [] }: ReviewCommand,
  actor: Actor,
  own: boolean,
): Refused | null {
  if (verdict !== "none" && actor.machine)
    return refuse("forbidden", "A machine account can remark; a verdict is for people to give.");
  if (verdict !== "none" && actor.id === change.author && !(own && verdict === "approve")) {
    return refuse(
      "forbidden",
      "This is your own change set: you can remark on it, and the verdict is for others to give.",
    );
  }
  if (verdict !== "none" && !atLeast(actor.role, "contributor")) {
    return refuse(
      "forbidden",
      "As a reader of this repository you can send remarks; a verdict needs a contributor or a keeper.",
    );
  }
  const draft = verdict === "none" ? null : notReady(change);
  if (draft) return draft;
  const current = newest(change).number;
  if (!change.revisions.some((known) => known.number === revision))
    return refuse("invalid", `There is no revision r${revision}.`);
  if (verdict === "approve" && revision !== current) {
    return refuse(
      "conflict",
      `You read r${revision}, and r${current} has come since. Read what is new before you approve.`,
    );
  }
  const empty = remark.trim() === "" && remarks.length === 0 && tasks.length === 0;
  if (verdict === "none" && empty)
    return refuse("invalid", "There is nothing to send yet: write a remark, or give a verdict.");
  if (verdict === "request-changes" && empty) {
    return refuse(
      "invalid",
      "Say what should change: a request for changes needs at least one remark or a closing word.",
    );
  }
  return null;
}

function wrongRemarks(change: ChangeSet, remarks: readonly SentRemark[]): Refused | null {
  if (remarks.length > MOST_REMARKS)
    return refuse("invalid", `One review can carry ${MOST_REMARKS} remarks; this one has ${remarks.length}.`);
  const threads = new Set(change.threads.map((thread) => thread.id));
  for (const { thread, anchor, body, suggestions = [] } of remarks) {
    if (threads.has(thread)) return refuse("conflict", "One of these remarks was sent already.");
    threads.add(thread);
    const where = anchorName(anchor);
    const bad = wrongText(`The remark on ${where}`, body, suggestions.length === 0);
    if (bad) return bad;
    if (!change.revisions.some(({ number }) => number === anchor.revision))
      return refuse("invalid", `A remark stands on r${anchor.revision}, which does not exist.`);
    if (anchor.kind === "lines") {
      const { start, end, part } = anchor;
      if (
        start < 1 ||
        end < start ||
        end - start >= LONGEST_ANCHOR ||
        (part && (start !== end || part.to <= part.from))
      )
        return refuse("invalid", `A remark on ${anchor.path} stands on lines that do not exist.`);
    }
    if (suggestions.length > 0 && !(anchor.kind === "lines" && anchor.side === "new"))
      return refuse("invalid", "A suggestion stands on lines of the new text.");
    const reason = wrongSuggestions(suggestions, where);
    if (reason) return refuse("invalid", reason);
  }
  return null;
}

function wrongTasks(change: ChangeSet, tasks: readonly SentTask[]): Refused | null {
  if (tasks.length > MOST_REMARKS) return refuse("invalid", `One review can carry ${MOST_REMARKS} tasks.`);
  const known = new Set(change.tasks.map(({ id }) => id));
  for (const { task, body } of tasks) {
    if (known.has(task)) return refuse("conflict", "One of these tasks was sent already.");
    known.add(task);
    const bad = wrongText("A task", body, true);
    if (bad) return bad;
  }
  return null;
}
