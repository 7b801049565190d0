import { visible } from "../cautions/visible";

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
  /** The part of a single line, in characters, 0-based, end exclusive; all of it where there is none. */
  part?: { from: number; to: number };
}

/** A file as a whole. `blob` is the state it was read in. */
export interface FileAnchor {
  kind: "file";
  revision: number;
  path: string;
  blob: string;
  side: Side;
}

/** One commit of a revision. */
export interface CommitAnchor {
  kind: "commit";
  revision: number;
  commit: string;
}

/** The change set as a whole. */
export interface ChangeAnchor {
  kind: "change";
  revision: number;
}

/** What a thread is about. */
export type Anchor = LineAnchor | FileAnchor | CommitAnchor | ChangeAnchor;

/** How many lines one anchor may span. */
export const LONGEST_ANCHOR = 500;

/** The path of the file that a thread is about; null where it is about none. */
export function pathOf(anchor: Anchor): string | null {
  return anchor.kind === "lines" || anchor.kind === "file" ? anchor.path : null;
}

/** The line at which a thread begins, 1-based; 0 for those about no line. */
export function startOf(anchor: Anchor): number {
  return anchor.kind === "lines" ? anchor.start : 0;
}

/** "line 12", "lines 12 to 14", "the whole file"; says so when they are lines of the old text. */
export function anchorPlace(anchor: Anchor): string {
  switch (anchor.kind) {
    case "change":
      return "the change set as a whole";
    case "commit":
      return `commit ${anchor.commit.slice(0, 8)}`;
    case "file":
      return anchor.side === "old" ? "the file as it was" : "the file as a whole";
    case "lines": {
      const lines = anchor.start === anchor.end ? `line ${anchor.start}` : `lines ${anchor.start} to ${anchor.end}`;
      const part = anchor.part ? `part of ${lines}` : lines;
      return anchor.side === "old" ? `${part}, as it was` : part;
    }
  }
}

/** Where the thread stands, with the file, in words for people: for lists and mail. */
export function anchorName(anchor: Anchor): string {
  const path = pathOf(anchor);
  return path === null ? anchorPlace(anchor) : `${visible(path)}, ${anchorPlace(anchor)}`;
}
