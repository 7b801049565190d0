import { firstThat } from "../plain/first-that";
import type { Comparison } from "./compare";

/**
 * A comparison with the text it is about, each line once: `text` is the whole of the new file (empty for a deleted one), `removed` the
 * old lines of all hunks in order. Lines are joined with `\n`.
 */
export interface FileView {
  comparison: Comparison;
  text: string;
  removed: string;
  /** Why there is no text, in a sentence; null when there is. */
  untold: string | null;
}

/** The text of a view, taken apart again. `old` is 0-based and gives every old line, changed or not. */
export function readView(view: FileView): { next: string[]; old: (line: number) => string } {
  const { comparison } = view;
  const next = comparison.newLines > 0 ? view.text.split("\n") : [];
  const removedCount = comparison.removed;
  const removed = removedCount > 0 ? view.removed.split("\n") : [];
  // Each hunk, and where its lines begin in `removed`.
  let before = 0;
  const starts = comparison.hunks.map((hunk) => {
    const entry = { hunk, at: before };
    before += hunk.oldEnd - hunk.oldStart;
    return entry;
  });
  const old = (line: number): string => {
    const behind = firstThat(starts.length, (place) => starts[place].hunk.oldStart > line);
    if (behind === 0) return next[line];
    const { hunk, at } = starts[behind - 1];
    if (line < hunk.oldEnd) return removed[at + line - hunk.oldStart];
    return next[line - hunk.oldEnd + hunk.newEnd];
  };
  return { next, old };
}
