import type { Hunk } from "../diff/hunk";
import type { ClassRun, LineClass, Side } from "../quiet/classes";
import { nearHunks } from "../quiet/kinds/near-hunks";
import type { FileClasses } from "../views/api";

/** Lines of one side of one file, 0-based, end exclusive. */
export interface Stretch {
  path: string;
  side: Side;
  start: number;
  end: number;
}

/** Both sides of a fold, whole: what it folds, and what is said to be the same. */
export interface BothSides {
  old: Stretch[];
  next: Stretch[];
}

/**
 * What has to be seen to check a fold by eye: both ends of a move; what an echo is an echo of, and the echo; all imports that changed places; for any other kind the whole hunk that
 * the fold lies in, on both sides; of layout, style and what is nested with those so near to it that they may be proven together.
 */
export function bothSides(
  run: ClassRun,
  classes: FileClasses,
  hunks: readonly Hunk[],
  path: string,
  oldPath: string,
): BothSides {
  if (run.class === "moved") {
    const { from, to } = classes.moves[run.ref];
    return {
      old: [{ path: from.path, side: "old", start: from.start - 1, end: from.end }],
      next: [{ path: to.path, side: "new", start: to.start - 1, end: to.end }],
    };
  }
  if (run.class === "echo") {
    const { old, next } = classes.echoes[run.ref];
    const here = stretchOf(run, hunks, path, oldPath);
    return {
      old: [{ path: old.path, side: "old", start: old.start - 1, end: old.end }, ...here.old],
      next: [{ path: next.path, side: "new", start: next.start - 1, end: next.end }, ...here.next],
    };
  }
  if (run.class === "imports") {
    const of = (side: Side, name: string) =>
      classes.runs
        .filter((other) => other.class === "imports" && other.side === side)
        .map(({ start, end }): Stretch => ({ path: name, side, start, end }));
    return { old: of("old", oldPath), next: of("new", path) };
  }
  return stretchOf(run, hunks, path, oldPath);
}

/** Kinds that are proven over several hunks. */
const NEAR: ReadonlySet<LineClass> = new Set(["layout", "style", "nested"]);

/** The whole hunk that a fold lies in, or all that may have been proven at once. */
function stretchOf(run: ClassRun, hunks: readonly Hunk[], path: string, oldPath: string): BothSides {
  const holds = ({ oldStart, oldEnd, newStart, newEnd }: Hunk) =>
    run.side === "old" ? oldStart <= run.start && run.start < oldEnd : newStart <= run.start && run.start < newEnd;
  const isLaidOut = NEAR.has(run.class);
  const some = isLaidOut ? nearHunks(hunks).find((near) => near.some(holds)) : hunks.filter(holds);
  const [first, last] = [some?.at(0), some?.at(-1)];
  return {
    old: [{ path: oldPath, side: "old", start: first?.oldStart ?? 0, end: last?.oldEnd ?? 0 }],
    next: [{ path, side: "new", start: first?.newStart ?? 0, end: last?.newEnd ?? 0 }],
  };
}
