import type { ReviewEvent } from "./events";
import { type ChangeSet, newest } from "./state";

/** What a change set becomes by one more event. Pure; the state given is left as it was. Null before the first event. */
export function evolve(change: ChangeSet | null, event: ReviewEvent): ChangeSet {
  const { by, at } = event;
  if (event.kind === "opened") {
    const { revision, ...rest } = event.data;
    return {
      ...rest,
      id: event.stream,
      author: by,
      openedAt: at,
      changedAt: at,
      state: "open",
      settled: null,
      revisions: [{ ...revision, number: 1, by, at }],
      threads: [],
      reviews: [],
    };
  }
  if (!change) throw new Error(`The log of ${event.stream} begins with “${event.kind}” instead of “opened”.`);
  const next = { ...change, changedAt: at };
  switch (event.kind) {
    case "described":
      return { ...next, ...event.data };
    case "revised":
      return {
        ...next,
        revisions: [...change.revisions, { ...event.data.revision, number: change.revisions.length + 1, by, at }],
      };
    case "reviewed": {
      const { revision, verdict, remark, remarks } = event.data;
      const threads = remarks.map(({ thread, comment, anchor, body }) => ({
        id: thread,
        anchor,
        comments: [{ id: comment, by, at, body }],
        resolved: null,
      }));
      const review = { id: event.id, by, at, revision, verdict, remark, threads: threads.map((thread) => thread.id) };
      return { ...next, threads: [...change.threads, ...threads], reviews: [...change.reviews, review] };
    }
    case "replied": {
      const { thread, comment, body } = event.data;
      return withThread(next, thread, (found) => ({
        ...found,
        comments: [...found.comments, { id: comment, by, at, body }],
      }));
    }
    case "resolved":
      return withThread(next, event.data.thread, (found) => ({
        ...found,
        resolved: { by, at, revision: newest(change).number },
      }));
    case "reopened":
      return withThread(next, event.data.thread, (found) => ({ ...found, resolved: null }));
    case "withdrawn":
      return { ...next, state: "withdrawn", settled: { by, at, commit: null } };
    case "merged":
      return { ...next, state: "merged", settled: { by, at, commit: event.data.commit } };
  }
}

/** The whole of a change set from all its events in order; null when there are none. */
export function replay(events: Iterable<ReviewEvent>): ChangeSet | null {
  let change: ChangeSet | null = null;
  for (const event of events) change = evolve(change, event);
  return change;
}

function withThread(
  change: ChangeSet,
  id: string,
  edit: (thread: ChangeSet["threads"][number]) => ChangeSet["threads"][number],
): ChangeSet {
  return { ...change, threads: change.threads.map((thread) => (thread.id === id ? edit(thread) : thread)) };
}
