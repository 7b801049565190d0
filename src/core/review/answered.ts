import { type Course, type Stand, standAt } from "../anchor/course";
import { type ChangeSet, newest, type Thread } from "./state";

/** What became of a thread's lines by a revision; null where nothing did, or nothing can be told. */
export function standOf(thread: Thread, courses: Record<string, Course>, revision: number): Stand | null {
  return standAt(courses[thread.id]?.stands ?? [], revision);
}

/**
 * Whether a thread is to be put to its writer as *answered?*: it is open, its lines were edited or removed since it was written, and the
 * writer has not said anything in it since that revision.
 */
export function isPut(
  change: Pick<ChangeSet, "revisions">,
  thread: Thread,
  courses: Record<string, Course>,
): Stand | null {
  // Of what stood there before the change set an edit on the target is no answer.
  if (thread.resolved !== null || courses[thread.id]?.side === "old") return null;
  const stand = standOf(thread, courses, newest(change).number);
  if (!stand || (stand.fate !== "edited" && stand.fate !== "gone")) return null;
  const writer = thread.comments[0].by;
  const word = thread.comments.findLast(({ by }) => by === writer);
  const changedAt = change.revisions[stand.since - 1]?.at ?? 0;
  return word && word.at < changedAt ? stand : null;
}
