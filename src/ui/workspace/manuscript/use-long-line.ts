import { useState } from "react";
import { type Hunk, hunkAt } from "@/core/diff/hunk";
import { GAP, type Rows } from "@/core/reading/rows";
import { differenceFrom } from "@/core/reading/segments";
import type { ColoursView } from "@/core/views/api";
import type { Tell } from "../state/context";
import type { LongLineView } from "./long-line";
import { SHOWN } from "./rows/row";

/** The lines of a file that is there. */
interface LinesOf {
  rows: Rows;
  text: { next: string[]; old: (line: number) => string };
  colours: ColoursView;
  /** What changed within lines whose words were compared. */
  marks: { old: Map<number, number[]>; next: Map<number, number[]> };
  hunks: readonly Hunk[];
}

/** Showing a line whole that is too long to be shown so among others; `of` is null while its file is not there. */
export function useLongLine(of: LinesOf | null, tell: Tell) {
  const [shown, setShown] = useState<LongLineView | null>(null);
  const show = (row: number, side: "old" | "new") => {
    const line = of && row >= 0 && of.rows.kind[row] < GAP ? (side === "old" ? of.rows.old : of.rows.next)[row] : -1;
    const text = of && line >= 0 ? wordsOf(of, side, line) : "";
    if (!of || text.length <= SHOWN) return tell("This line is shown whole.");
    const spans = (side === "old" ? of.marks.old : of.marks.next).get(line) ?? differenceIn(of, text, side, line);
    setShown({ side, number: line + 1, text, runs: of.colours[side][line] ?? [], spans });
  };
  return { shown, show, close: () => setShown(null) };
}

function wordsOf({ text }: LinesOf, side: "old" | "new", line: number): string {
  return (side === "old" ? text.old(line) : text.next[line]) ?? "";
}

/** Of a line whose words were not compared: it is held against the one that stands in its place on the other side. */
function differenceIn(of: LinesOf, text: string, side: "old" | "new", line: number): number[] {
  const { oldStart, oldEnd, newStart, newEnd } = hunkAt(of.hunks, side, line);
  const [from, to, end] = side === "old" ? [oldStart, newStart, newEnd] : [newStart, oldStart, oldEnd];
  const other = to + line - from;
  return other < end ? differenceFrom(text, wordsOf(of, side === "old" ? "new" : "old", other)) : [];
}
