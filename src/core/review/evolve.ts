import type { Invited, ReviewEvent, Taken } from "./events";
import { type ChangeSet, type Comment, type MadeSuggestion, newest, type Task, type Thread } from "./state";

/** What a change set becomes by one more event. Pure; the state given is left as it was. Null before the first event. */
export function evolve(change: ChangeSet | null, event: ReviewEvent): ChangeSet {
  const { by, at } = event;
  if (event.kind === "opened") {
    const { revision, draft, pusher = by, author = by, ...rest } = event.data;
    return {
      ...rest,
      id: event.stream,
      author,
      openedAt: at,
      changedAt: at,
      state: draft ? "draft" : "open",
      sentBy: null,
      settled: null,
      revisions: [{ ...revision, number: 1, by, pusher, at, how: null, same: false, resultSame: false }],
      threads: [],
      reviews: [],
      tasks: [],
      asked: [],
      again: [],
      lifts: [],
      checks: [],
      links: [],
      mergeAsked: null,
      mergeFailed: null,
    };
  }
  if (!change) throw new Error(`The log of ${event.stream} begins with “${event.kind}” instead of “opened”.`);
  const next = { ...change, changedAt: at };
  switch (event.kind) {
    case "readied":
      return { ...next, state: "open" };
    case "drafted":
      return { ...next, state: "draft" };
    case "described":
      return { ...next, ...event.data };
    case "revised": {
      const number = change.revisions.length + 1;
      const { revision, taken, same = false, resultSame = false, pusher = by } = event.data;
      const how = event.data.how ?? (taken ? ("suggestions" as const) : null);
      const revisions = [...change.revisions, { ...revision, number, by, pusher, at, how, same, resultSame }];
      return {
        ...next,
        ...asking(change, pusher, at),
        revisions,
        threads: withTaken(change.threads, taken ?? [], { revision: number, by, at }),
      };
    }
    case "retargeted": {
      const { target, revision, same, after = null } = event.data;
      const { pusher } = newest(change);
      const number = change.revisions.length + 1;
      const how = "retargeted" as const;
      return {
        ...next,
        ...asking(change, null, at),
        target,
        sentBy: after,
        revisions: [...change.revisions, { ...revision, number, by, pusher, at, how, same, resultSame: false }],
      };
    }
    case "reviewed": {
      const { revision, verdict, remark, remarks, tasks = [] } = event.data;
      const threads = remarks.map(
        ({ thread, comment, anchor, body, weight = "settle", suggestions = [] }): Thread => ({
          id: thread,
          anchor,
          weight,
          comments: [newComment(comment, event, body)],
          suggestions: suggestions.map((suggestion) => ({ ...suggestion, taken: null })),
          resolved: null,
        }),
      );
      const review = { id: event.id, by, at, revision, verdict, remark, threads: threads.map((thread) => thread.id) };
      const given = tasks.map(({ task, body, person }): Task => ({ id: task, by, at, body, person, done: null }));
      return {
        ...next,
        threads: [...change.threads, ...threads],
        reviews: [...change.reviews, review],
        tasks: [...change.tasks, ...given],
        again: change.again.filter(({ person }) => person !== by),
      };
    }
    case "replied": {
      const { thread, comment, body } = event.data;
      return withThread(next, thread, (found) => ({
        ...found,
        comments: [...found.comments, newComment(comment, event, body)],
      }));
    }
    case "resolved": {
      const { thread, comment, body } = event.data;
      return withThread(next, thread, (found) => ({
        ...found,
        comments: comment && body ? [...found.comments, newComment(comment, event, body)] : found.comments,
        resolved: { by, at, revision: newest(change).number },
      }));
    }
    case "reopened":
      return withThread(next, event.data.thread, (found) => ({ ...found, resolved: null }));
    case "edited": {
      const { thread, comment, body, suggestions } = event.data;
      return withThread(next, thread, (found) => ({
        ...withComment(found, comment, (old) =>
          old.body === body ? old : { ...old, body, edits: [...old.edits, { body: old.body, until: at }] },
        ),
        ...(suggestions ? { suggestions: suggestions.map((made) => ({ ...made, taken: null })) } : {}),
      }));
    }
    case "erased": {
      const { thread, comment } = event.data;
      return withThread(next, thread, (found) => ({
        ...withComment(found, comment, (old) => ({ ...old, body: "", edits: [], erased: { by, at }, reactions: {} })),
        suggestions:
          found.comments[0].id === comment ? found.suggestions.filter(({ taken }) => taken) : found.suggestions,
      }));
    }
    case "reacted": {
      const { thread, comment, reaction, on } = event.data;
      return withThread(next, thread, (found) =>
        withComment(found, comment, (old) => {
          const others = (old.reactions[reaction] ?? []).filter((person) => person !== by);
          return { ...old, reactions: { ...old.reactions, [reaction]: on ? [...others, by] : others } };
        }),
      );
    }
    case "weighed":
      return withThread(next, event.data.thread, (found) => ({ ...found, weight: event.data.weight }));
    case "task-done":
      return withTask(next, event.data.task, { by, at });
    case "task-opened":
      return withTask(next, event.data.task, null);
    case "asked": {
      const invited = event.data.invited.map((one) => ({ ...one, by, at }));
      const others = change.asked.filter((old) => !invited.some((one) => sameInvited(old, one)));
      return { ...next, asked: [...others, ...invited] };
    }
    case "unasked":
      return { ...next, asked: change.asked.filter((old) => !sameInvited(old, event.data.invited)) };
    case "asked-again": {
      const { people, revision } = event.data;
      const others = change.again.filter(({ person }) => !people.includes(person));
      return { ...next, again: [...others, ...people.map((person) => ({ person, by, at, revision }))] };
    }
    case "lifted":
      return { ...next, lifts: [...change.lifts, { ...event.data, by, at, reviews: change.reviews.length }] };
    case "stepped-back":
      return {
        ...next,
        asked: change.asked.filter((old) => !sameInvited(old, { person: by })),
        again: change.again.filter(({ person }) => person !== by),
      };
    case "checked": {
      const others = change.checks.filter(
        (old) => old.by !== by || old.commit !== event.data.commit || old.name !== event.data.name,
      );
      // What a machine reports is no turn in the conversation: lists go by what people did.
      return { ...change, checks: [...others, { ...event.data, by, at }] };
    }
    case "linked":
      return {
        ...next,
        links: [...change.links.filter(({ item }) => item !== event.data.item), { ...event.data, by, at }],
      };
    case "unlinked":
      return { ...next, links: change.links.filter(({ item }) => item !== event.data.item) };
    case "merge-asked":
      return { ...next, mergeAsked: { ...event.data, by, at }, mergeFailed: null };
    case "merge-unasked":
      return {
        ...next,
        mergeAsked: null,
        mergeFailed: event.data.why === "" ? null : { why: event.data.why, at, asker: change.mergeAsked?.by ?? by },
      };
    case "withdrawn":
      return { ...next, state: "withdrawn", mergeAsked: null, settled: { by, at, commit: null, passing: null } };
    case "opened-again":
      return { ...next, state: "open", settled: null };
    case "merged":
      return {
        ...next,
        state: "merged",
        mergeAsked: null,
        settled: { by, at, commit: event.data.commit, passing: event.data.passing ?? null },
      };
    default:
      throw new Error(`The log has an entry of a kind that is not known here: “${(event as ReviewEvent).kind}”.`);
  }
}

/** The whole of a change set from all its events in order; null when there are none. */
export function replay(events: Iterable<ReviewEvent>): ChangeSet | null {
  let change: ChangeSet | null = null;
  for (const event of events) change = evolve(change, event);
  return change;
}

/** Whether both mean the same person, or the same role. */
export function sameInvited(a: Invited, b: Invited): boolean {
  return "person" in a ? "person" in b && a.person === b.person : "role" in b && a.role === b.role;
}

/** What was asked for one state of it is not asked for what another person puts in its place. `pusher` null: nobody pushed. */
function asking(
  { mergeAsked, revisions }: ChangeSet,
  pusher: string | null,
  at: number,
): Pick<ChangeSet, "mergeAsked" | "mergeFailed"> {
  if (!mergeAsked || mergeAsked.by === pusher) return { mergeAsked, mergeFailed: null };
  const number = revisions.length + 1;
  const why =
    pusher === null
      ? `It goes to another branch since r${number}. Ask again if it is still meant to be merged by itself.`
      : `r${number} was pushed by someone else. Look at it, and ask again if it is still meant to be merged by itself.`;
  return { mergeAsked: null, mergeFailed: { why, at, asker: mergeAsked.by } };
}

function newComment(id: string, { by, at }: ReviewEvent, body: string): Comment {
  return { id, by, at, body, edits: [], erased: null, reactions: {} };
}

function withThread(change: ChangeSet, id: string, edit: (thread: Thread) => Thread): ChangeSet {
  return { ...change, threads: change.threads.map((thread) => (thread.id === id ? edit(thread) : thread)) };
}

function withComment(thread: Thread, id: string, edit: (comment: Comment) => Comment): Thread {
  return { ...thread, comments: thread.comments.map((comment) => (comment.id === id ? edit(comment) : comment)) };
}

function withTask(change: ChangeSet, id: string, done: Task["done"]): ChangeSet {
  return { ...change, tasks: change.tasks.map((task) => (task.id === id ? { ...task, done } : task)) };
}

/** Notes which suggestions a revision took. A thread of which every suggestion was taken is settled by it. */
function withTaken(threads: Thread[], taken: readonly Taken[], by: NonNullable<MadeSuggestion["taken"]>): Thread[] {
  if (taken.length === 0) return threads;
  const ids = new Set(taken.map(({ suggestion }) => suggestion));
  return threads.map((thread) => {
    if (!thread.suggestions.some(({ id }) => ids.has(id))) return thread;
    const suggestions = thread.suggestions.map((made) => (ids.has(made.id) ? { ...made, taken: by } : made));
    const all = suggestions.every((made) => made.taken !== null);
    return { ...thread, suggestions, resolved: thread.resolved ?? (all ? by : null) };
  });
}
