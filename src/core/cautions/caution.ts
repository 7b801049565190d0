import type { Hunk } from "../diff/hunk";
import type { LinePair } from "../diff/line-pairs";

/** Something about a file or line that the eye does not see. */
export interface Caution {
  kind: CautionKind;
  /** A sentence. */
  says: string;
  /** The first line of the new state that it is about, 1-based; null when it is about the file. */
  line: number | null;
}

export type CautionKind = (typeof CAUTION_KINDS)[number];

/** The same in docs/reading.schema.json. */
export const CAUTION_KINDS = [
  "hidden",
  "direction",
  "control",
  "space",
  "confusable",
  "mixed-scripts",
  "pushed-aside",
  "nul",
  "executable",
  "link",
  "lockfile",
  "name",
  "settings",
  "long-lines",
  "moved-code",
  "reads-otherwise",
  "switched",
] as const;

/** Two states of a text and how they differ. */
export interface Texts {
  path: string;
  old: readonly string[];
  next: readonly string[];
  hunks: readonly Hunk[];
  pairs: readonly LinePair[];
}
