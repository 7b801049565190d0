import { counted } from "../plain/words";
import { type ChangeSet, sinceWhen, standings, unsettled } from "../review/state";
import { type Condition, plain } from "./condition";
import type { Rule } from "./rule";

/** What people have said: requests for changes, threads and tasks. */
export function talkConditions(change: ChangeSet, rule: Rule): Condition[] {
  const conditions: Condition[] = [];
  if (rule.requests) conditions.push(requestsCondition(change));
  if (rule.threads) conditions.push(threadsCondition(change));
  if (rule.tasks && change.tasks.length > 0) conditions.push(tasksCondition(change));
  return conditions;
}

function requestsCondition(change: ChangeSet): Condition {
  const asking = standings(change).filter(
    ({ verdict, person }) => verdict === "request-changes" && person !== change.author,
  );
  const stale = asking.filter(({ revision }) => revision < sinceWhen(change)).length;
  const people = asking.map(({ person }) => person);
  const met = asking.length === 0;
  const old =
    stale === 0
      ? ""
      : stale === asking.length
        ? ", made of an earlier revision"
        : `, ${stale} of them made of an earlier revision`;
  return {
    id: "requests",
    key: "requests",
    met,
    people,
    says: met
      ? "Nobody’s request for changes stands."
      : `${counted(asking.length, "request")} for changes ${asking.length === 1 ? "stands" : "stand"}${old}.`,
    who: met ? null : "Whoever asked can approve, or take it back; a keeper can lift it with a reason.",
    canMeet: people,
  };
}

function threadsCondition(change: ChangeSet): Condition {
  const threads = unsettled(change);
  const met = threads.length === 0;
  return {
    ...plain(
      "threads",
      met,
      met
        ? "No thread is left to settle."
        : `${counted(threads.length, "thread")} ${threads.length === 1 ? "has" : "have"} to be settled.`,
      "The people in a thread, the author and keepers can resolve it.",
    ),
    people: [...new Set(threads.map(({ comments }) => comments[0].by))],
  };
}

function tasksCondition(change: ChangeSet): Condition {
  const open = change.tasks.filter(({ done }) => done === null);
  const people = [...new Set(open.flatMap(({ person }) => person ?? []))];
  const met = open.length === 0;
  return {
    ...plain(
      "tasks",
      met,
      met
        ? `${change.tasks.length === 1 ? "The task is" : `All ${change.tasks.length} tasks are`} done.`
        : `${counted(open.length, "task")} of ${change.tasks.length} still to do.`,
      "Whoever does it, or the author, can tick it off.",
    ),
    people,
    canMeet: people,
  };
}
