import type { EventName, ReviewEvent } from "./events";
import type { Command, CommandName } from "./families/table";

/**
 * By which command each kind of entry comes about, where its data holds all that the command has to say. What is missing here can be brought by nobody:
 * revisions come by a push, merging moves a branch, and checks report where they ran.
 */
const BY: { [K in EventName]?: CommandName } = {
  reviewed: "send-review",
  lifted: "lift",
  replied: "reply",
  resolved: "resolve",
  reopened: "reopen",
  edited: "edit",
  erased: "erase",
  reacted: "react",
  weighed: "weigh",
  "task-done": "finish-task",
  "task-opened": "reopen-task",
  asked: "ask",
  unasked: "unask",
  "asked-again": "ask-again",
  "stepped-back": "step-back",
  described: "describe",
  readied: "ready",
  drafted: "draft",
  withdrawn: "withdraw",
  "opened-again": "open-again",
};

/**
 * The command that an entry is the outcome of, so that what was decided elsewhere is decided again here; null for kinds that cannot be brought. Whether it
 * has the same outcome here is for who asks to compare.
 *
 * @example
 * commandAgain({ kind: "replied", data: { thread, comment, body }, … }); // { kind: "reply", thread, comment, body }
 */
export function commandAgain({ kind, data }: Pick<ReviewEvent, "kind" | "data">): Command | null {
  const by = BY[kind];
  return by ? ({ ...data, kind: by } as Command) : null;
}
