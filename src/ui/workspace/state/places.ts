import { type Anchor, pathOf } from "@/core/anchor/anchor";
import { type AnchorHistory, anchorNow } from "@/core/anchor/anchor-history";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { positionOf } from "@/core/review/answered";
import type { Thread } from "@/core/review/state";
import type { ReadingFile } from "@/core/views/api";

/** Whether anything stands in the margin of a file, as it is in a revision. */
export function hasRemarks(
  { threads, unsent, histories }: ChangeView,
  file: Pick<ReadingFile, "path" | "oldPath">,
  revision: number | null,
): boolean {
  return (
    threads.some((thread) => isIn(placeIn(thread, histories, revision), file)) ||
    unsent.some((note) => note.kind === "remark" && isIn(note.anchor, file))
  );
}

/** Where a thread stands in a revision; where it was written, when another state than that of a revision is shown. */
export function placeIn(thread: Thread, histories: Record<string, AnchorHistory>, revision: number | null): Anchor {
  return revision === null ? thread.anchor : anchorNow(thread.anchor, positionOf(thread, histories, revision));
}

/** Whether a remark belongs to a file, be it under the name it had before. */
export function isIn(anchor: Anchor, { path, oldPath }: Pick<ReadingFile, "path" | "oldPath">): boolean {
  const at = pathOf(anchor);
  return at !== null && (at === path || at === oldPath);
}
