/** Which of the two texts of a reading a line belongs to. */
export type Side = "old" | "new";

/** Lines that a thread is about, with enough of their text to know them again. Line numbers are 1-based, both ends included. */
export interface LineAnchor {
  kind: "lines";
  /** The revision whose reading was open. */
  revision: number;
  /** The state of the file that the lines were read in. */
  blob: string;
  side: Side;
  path: string;
  start: number;
  end: number;
  text: string[];
}

/** How many lines one anchor may span. */
export const LONGEST_ANCHOR = 500;

/** "line 12", "lines 12 to 14"; says so when they are lines of the old text. */
export function anchorPlace(anchor: LineAnchor): string {
  const lines = anchor.start === anchor.end ? `line ${anchor.start}` : `lines ${anchor.start} to ${anchor.end}`;
  return anchor.side === "old" ? `${lines}, as it was` : lines;
}
