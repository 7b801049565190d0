import { hasHiddenSigns } from "../plain/names";
import { done, type Outcome, refuse } from "../plain/outcome";
import { inFigures } from "../plain/words";
import { atLeast, type Role } from "./roles";
import { type ChangeSet, goesOn, inThread, type Thread } from "./state";

/** What several decisions have in common to check. */

export const LONGEST_TITLE = 200;
export const LONGEST_TEXT = 100_000;
export const MOST_REMARKS = 500;

export type No = ReturnType<typeof refuse>;

/** Who asks. */
export interface Actor {
  id: string;
  role: Role | null;
  /** A program's account: it may remark and report, and its word never counts as a verdict. */
  machine?: boolean;
}

/** What can still be done in a draft is asked of this; what asks something of others, of {@link notReady}. */
export function notOpen(change: ChangeSet): No | null {
  if (goesOn(change)) return null;
  return refuse(
    "conflict",
    change.state === "merged" ? "This change set is merged already." : "This change set was withdrawn.",
  );
}

/** A draft asks nobody and cannot merge. */
export function notReady(change: ChangeSet): No | null {
  if (change.state !== "draft") return notOpen(change);
  return refuse("conflict", "This change set is a draft: its author has to say that it is ready first.");
}

export function wrongTitle(title: string): No | null {
  if (title.trim() === "") return refuse("invalid", "A change set needs a title.");
  if (hasHiddenSigns(title.trim()))
    return refuse("invalid", "A title is one line, and holds no signs that cannot be seen.");
  if (title.length > LONGEST_TITLE)
    return refuse("invalid", `A title has at most ${LONGEST_TITLE} characters; this one has ${title.length}.`);
  return null;
}

export function wrongText(what: string, text: string, needed = false): No | null {
  if (needed && text.trim() === "") return refuse("invalid", `${what} is empty.`);
  if (text.length > LONGEST_TEXT) {
    return refuse(
      "invalid",
      `${what} has ${inFigures(text.length)} characters; at most ${inFigures(LONGEST_TEXT)} are kept.`,
    );
  }
  return null;
}

/** Whether someone may do what only the author of the change set and keepers may. */
export function authorOrKeeper(change: ChangeSet, actor: Actor, what: string): No | null {
  if (actor.id === change.author || atLeast(actor.role, "keeper")) return null;
  return refuse("forbidden", `Only the author or a keeper can ${what}.`);
}

/** Whether someone has a say in a thread: its people, the author, and keepers. */
export function hasSay(change: ChangeSet, thread: Thread, actor: Actor, what: string): Outcome<null> {
  if (inThread(change.author, thread, actor.id) || atLeast(actor.role, "keeper")) return done(null);
  return refuse("forbidden", `Only the people in a thread, the author and keepers can ${what} it.`);
}
