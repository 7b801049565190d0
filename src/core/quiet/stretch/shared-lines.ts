import type { Hunk } from "../../diff/hunk";
import { firstThat } from "../../plain/first-that";

/** Where a line stands among those that both states share: the same number for the same unchanged line, a negative one for each hunk. */
export interface SharedLines {
  old: (line: number) => number;
  next: (line: number) => number;
}

/** Numbers the lines of two states alike where they are the same. */
export function sharedLines(hunks: readonly Hunk[]): SharedLines {
  const finder = (start: "oldStart" | "newStart", end: "oldEnd" | "newEnd") => (line: number) => {
    const behind = firstThat(hunks.length, (at) => hunks[at][start] > line);
    const hunk = hunks[behind - 1];
    if (!hunk) return line;
    if (line < hunk[end]) return -behind;
    return line - hunk[end] + hunk.newEnd;
  };
  return { old: finder("oldStart", "oldEnd"), next: finder("newStart", "newEnd") };
}
