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
    unsent.some((note) => note.kind === "remark" && isIn(placeIn(note, histories, revision), file))
  );
}

/** Where a thread, or a remark that is not sent, stands in a revision; where it was written, when another state than that of a revision is shown. */
export function placeIn(
  said: Pick<Thread, "id" | "anchor">,
  histories: Record<string, AnchorHistory>,
  revision: number | null,
): Anchor {
  return revision === null ? said.anchor : anchorNow(said.anchor, positionOf(said, histories, revision));
}

/** Whether a remark belongs to a file, be it under the name it had before. */
export function isIn(anchor: Anchor, { path, oldPath }: Pick<ReadingFile, "path" | "oldPath">): boolean {
  const at = pathOf(anchor);
  return at !== null && (at === path || at === oldPath);
}
