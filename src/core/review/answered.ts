import { type AnchorHistory, type AnchorPosition, positionAt } from "../anchor/anchor-history";
import { type ChangeSet, newest, type Thread } from "./state";

/** What became of the lines of a thread, or of a remark that is not sent, by a revision; null where nothing did, or nothing can be told. */
export function positionOf(
  { id }: Pick<Thread, "id">,
  histories: Record<string, AnchorHistory>,
  revision: number,
): AnchorPosition | null {
  return positionAt(histories[id]?.positions ?? [], revision);
}

/**
 * Whether a thread is to be put to its writer as *answered?*: it is open, its lines were edited or removed since it was written, and the
 * writer has not said anything in it since that revision.
 */
export function isPut(
  change: Pick<ChangeSet, "revisions">,
  thread: Thread,
  histories: Record<string, AnchorHistory>,
): AnchorPosition | null {
  // Of what stood there before the change set an edit on the target is no answer.
  if (thread.resolved !== null || histories[thread.id]?.side === "old") return null;
  const position = positionOf(thread, histories, newest(change).number);
  if (!position || (position.status !== "edited" && position.status !== "gone")) return null;
  const writer = thread.comments[0].by;
  const word = thread.comments.findLast(({ by }) => by === writer);
  const changedAt = change.revisions[position.since - 1]?.at ?? 0;
  return word && word.at < changedAt ? position : null;
}
