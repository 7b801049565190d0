import type { Hunk } from "../diff/hunk";
import { firstThat } from "../plain/first-that";
import type { Side } from "../quiet/classes";
import { newLineNear } from "../reading/rows";
import type { Outlined } from "./outline";

/** What a change made of a part of a file. */
export type PartMark = "same" | "changed" | "added" | "removed" | "moved";

export interface MarkedPart extends Outlined {
  mark: PartMark;
  /** The state in which it stands: the old one for what is gone. */
  side: Side;
}

/** Lines that stand elsewhere in the other state: 0-based, ends exclusive. */
interface Stretch {
  side: Side;
  start: number;
  end: number;
}

/**
 * The outline of a file with what a change made of each part: a part is the same where it has the same name within the same parts, the nth of
 * several as the nth. What is gone stands where it would be now.
 *
 * @example a function that another file had before is "moved"; a class in which one method differs is "changed", and so is that method
 */
export function markedOutline(
  old: readonly Outlined[],
  next: readonly Outlined[],
  hunks: readonly Hunk[],
  moved: readonly Stretch[] = [],
): MarkedPart[] {
  const before = byName(old);
  const after = byName(next);
  const isMoved = (side: Side, { line }: Outlined) =>
    moved.some((run) => run.side === side && run.start <= line && line < run.end);
  const touched = stretches(hunks);
  const result: { part: MarkedPart; at: number; gone: number }[] = [];
  for (const [key, part] of after) {
    const known = before.has(key);
    const mark: PartMark = isMoved("new", part)
      ? "moved"
      : !known
        ? "added"
        : touched(part.start, part.end)
          ? "changed"
          : "same";
    result.push({ part: { ...part, mark, side: "new" }, at: part.start, gone: 1 });
  }
  for (const [key, part] of before) {
    // What moved is told of where it stands now, if that is here.
    if (after.has(key)) continue;
    const mark = isMoved("old", part) ? "moved" : "removed";
    result.push({ part: { ...part, mark, side: "old" }, at: newLineNear(hunks, part.start), gone: 0 });
  }
  return result.sort((a, b) => a.at - b.at || a.gone - b.gone).map(({ part }) => part);
}

function byName(outline: readonly Outlined[]): Map<string, Outlined> {
  const result = new Map<string, Outlined>();
  const seen = new Map<string, number>();
  for (const part of outline) {
    const name = [...part.within, part.name].join("\0");
    const nth = seen.get(name) ?? 0;
    seen.set(name, nth + 1);
    result.set(`${name}\0${nth}`, part);
  }
  return result;
}

/** Tells of lines of the new text whether a hunk lies among them, by a search in the sorted hunks. */
function stretches(hunks: readonly Hunk[]): (start: number, end: number) => boolean {
  return (start, end) => {
    const hunk = hunks[firstThat(hunks.length, (at) => hunks[at].newEnd > start)];
    return hunk !== undefined && hunk.newStart < end;
  };
}
