import type { EventData, EventName, ReviewEvent } from "./events";
import { placeOf } from "./families/thread-places";
import { type ChangeSet, goesOn } from "./state";

/**
 * Why an entry of a log does not count, although somebody wrote it: it cannot have happened to a change set as it stands there. Where one log is written,
 * what is decided always can; where several are joined that did not know of each other, this says the same of them everywhere.
 */
export function whyNot(change: ChangeSet | null, event: ReviewEvent): string | null {
  if (change === null) return event.kind === "opened" ? null : "it comes before the change set was opened";
  const rule = RULES[event.kind] as ((change: ChangeSet, by: string, data: unknown) => string | null) | undefined;
  return rule?.(change, event.by, event.data) ?? null;
}

type RuleTable = { [K in EventName]?: (change: ChangeSet, by: string, data: EventData[K]) => string | null };

const RULES: RuleTable = {
  opened: () => "it opens the change set a second time",
  reviewed: ({ state }) => (state === "merged" ? "it reviews what was merged already" : null),
  revised: (change) => (goesOn(change) ? null : "it is a revision of what was settled already"),
  merged: ({ settled }) => (settled ? "it merges what was settled already" : null),
  withdrawn: ({ settled }) => (settled ? "it withdraws what was settled already" : null),
  "opened-again": ({ state }) => (state === "withdrawn" ? null : "it opens again what was not withdrawn"),
  lifted: ({ author }, by, { person }) =>
    by === author && by !== person ? "nobody lifts what was asked of their own work" : null,
  edited: (change, by, { thread, comment }) => {
    const found = change.threads[placeOf(change.threads, thread)]?.comments.find(({ id }) => id === comment);
    return found && found.by !== by ? "it changes what somebody else said" : null;
  },
};
