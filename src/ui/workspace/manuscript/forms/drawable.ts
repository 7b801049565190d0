import type { Hunk } from "@/core/diff/hunk";

/** Both states of a text, and the way from a part of it to the line that it stands on, 1-based. */
export interface Drawable {
  path: string;
  old: readonly string[];
  next: readonly string[];
  hunks: readonly Hunk[];
  onGo: (side: "old" | "new", line: number) => void;
}
