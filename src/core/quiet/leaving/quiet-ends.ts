import { type Hunk, hunkAt } from "../../diff/hunk";
import { addTo } from "../../plain/grouped";
import type { ClassedFile, Side } from "../classes";
import { isCodeLine } from "../places";

/** One end of what went from one named block to another: its file by its place in the list, a line of it, 0-based, and the block; null at the top level. */
interface TransferEnd {
  file: number;
  line: number;
  within: string | null;
}

/** Where the first code of a move went from one named block, or one file, to another. */
export interface Transfer {
  from: TransferEnd;
  to: TransferEnd;
}

/** An end, or both where they lie in one file, of a transfer at which no code is left to read. */
export interface QuietEnd {
  end: "from" | "to" | "both";
  transfer: Transfer;
  /** The first line of what changed there, in the new state, 1-based; null where that has none. */
  line: number | null;
}

/**
 * The ends at which code left a block, or came into one, and no other code beside it is to read: that block does something else now, and nobody would be
 * led to it; a comment says nothing of it. By the places of the files. To be asked as long as their syntax is there, when every line of code has its class.
 */
export function quietEnds(files: readonly ClassedFile[], transfers: readonly Transfer[]): Map<number, QuietEnd[]> {
  const ends = new Map<number, QuietEnd[]>();
  /** Thousands of transfers may lie in one change. */
  const known = new Map<Hunk, boolean>();
  const isQuiet = (file: ClassedFile, hunk: Hunk) => {
    const quiet = known.get(hunk) ?? !isCodeOpen(file, hunk);
    known.set(hunk, quiet);
    return quiet;
  };
  for (const transfer of transfers) {
    const { from, to } = transfer;
    const sides = [
      { end: "from", file: from.file, hunk: hunkAt(files[from.file].hunks, "old", from.line) },
      { end: "to", file: to.file, hunk: hunkAt(files[to.file].hunks, "new", to.line) },
    ] as const;
    const quiet = sides.filter(({ file, hunk }) => isQuiet(files[file], hunk));
    for (const { end, file, hunk } of from.file === to.file ? quiet.slice(0, 1) : quiet) {
      const last = files[file].next.length;
      const line = last === 0 ? null : Math.min(hunk.newStart + 1, last);
      addTo(ends, file, { end: from.file === to.file ? "both" : end, transfer, line });
    }
  }
  return ends;
}

/** Whether code is left to read in a change. */
function isCodeOpen(file: ClassedFile, { oldStart, oldEnd, newStart, newEnd }: Hunk): boolean {
  const isOpen = (side: Side, line: number) => {
    if (!file.isOpen(side, line)) return false;
    const syntax = file.syntax(side);
    return syntax === null || isCodeLine(syntax, line);
  };
  for (let i = oldStart; i < oldEnd; i++) if (isOpen("old", i)) return true;
  for (let j = newStart; j < newEnd; j++) if (isOpen("new", j)) return true;
  return false;
}
