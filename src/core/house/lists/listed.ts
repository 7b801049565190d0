import type { Role } from "../../review/roles";
import { type ChangeSet, goesOn, sinceWhen, standings, waitsForAuthor } from "../../review/state";
import { checksOf } from "../../rules/checks";

/** Who has to move next in a change set, as far as its log alone tells; nobody where it is settled. */
export type Turn = "author" | "reviewers" | "nobody";

/**
 * Whose turn it is: the author's while it is a draft, while a request for changes stands, a thread waits for their answer or it could not be
 * merged by itself; otherwise that of the reviewers. What the rules of a branch ask on top of that is told where it is shown.
 */
export function turnOf(change: ChangeSet): Turn {
  if (!goesOn(change)) return "nobody";
  const isAsked = standings(change).some(
    ({ verdict, revision }) => verdict === "request-changes" && revision >= sinceWhen(change),
  );
  const waits = change.threads.some((thread) => waitsForAuthor(thread, change.author));
  return change.state === "draft" || isAsked || waits || change.mergeFailed ? "author" : "reviewers";
}

/**
 * For whom it is to move, by what was said and asked: the same as on a desk (`deskPlace`), but for what rules, branches and moved lines add to it.
 * Roles stand for those of them who have not been in it yet.
 */
export function moversOf(change: ChangeSet): { people: Set<string>; roles: Set<Role> } {
  const people = new Set<string>();
  const roles = new Set<Role>();
  if (!goesOn(change)) return { people, roles };
  if (turnOf(change) === "author") people.add(change.author);
  if (change.state === "draft") return { people, roles };
  for (const { resolved, comments } of change.threads)
    if (resolved === null && comments[comments.length - 1].by !== comments[0].by) people.add(comments[0].by);
  const lastRead = new Map<string, number>();
  for (const { by, revision } of change.reviews) lastRead.set(by, Math.max(revision, lastRead.get(by) ?? 0));
  // A verdict counts for the revision that it was given of, whatever was read since.
  const verdicts = new Map(standings(change).map(({ person, revision }) => [person, revision]));
  for (const [person, revision] of lastRead)
    if ((verdicts.get(person) ?? revision) < sinceWhen(change)) people.add(person);
  for (const { person } of change.again) people.add(person);
  for (const one of change.asked) {
    if ("role" in one) roles.add(one.role);
    else if (!lastRead.has(one.person)) people.add(one.person);
  }
  if (change.mergeFailed) people.add(change.mergeFailed.asker);
  for (const { person, done } of change.tasks) if (person !== null && done === null) people.add(person);
  if (turnOf(change) !== "author") people.delete(change.author);
  return { people, roles };
}

/** What the checks of the newest revision say, taken together: the worst of it. */
export function checksSay(change: Pick<ChangeSet, "checks" | "revisions">): "passed" | "failed" | "running" | "none" {
  const states = new Set(checksOf(change).map(({ state }) => state));
  if (states.has("failed")) return "failed";
  if (states.has("running") || states.has("waiting")) return "running";
  return states.has("passed") ? "passed" : "none";
}

/** What of a change set can be searched for by its words: not what was erased. */
export function wordsOf(change: ChangeSet): { title: string; description: string; talk: string } {
  const comments = change.threads.flatMap((thread) => thread.comments).filter(({ erased }) => erased === null);
  const said = [...comments.map(({ body }) => body), ...change.reviews.map(({ remark }) => remark)];
  const tasks = change.tasks.map(({ body }) => body);
  return {
    title: change.title,
    description: change.description,
    talk: [...said, ...tasks].filter((text) => text !== "").join("\n"),
  };
}
