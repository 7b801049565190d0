"use client";
import type { VirtualItem } from "@tanstack/react-virtual";
import type { Layout } from "@/core/reading/columns";
import { foldWords } from "@/core/reading/folds";
import { ADDED, FOLD, GAP, REMOVED, type Rows, SAME } from "@/core/reading/rows";
import type { Selection } from "@/core/reading/selection";
import type { ColoursView, CommitView, FileClasses, ReadingFile } from "@/core/views/api";
import { FoldRow } from "./fold-row";
import { GapRow } from "./gap-row";
import { type LineActs, type LineView, Row, SplitRow } from "./row";

/** Everything there is to know about the lines of a file. */
export interface LinesOf {
  file: ReadingFile;
  rows: Rows;
  layout: Layout;
  text: { next: string[]; old: (line: number) => string };
  colours: ColoursView;
  marks: { old: Map<number, number[]>; next: Map<number, number[]> };
  classes: FileClasses;
}

interface LinesProps extends LinesOf {
  items: VirtualItem[];
  columns: 1 | 2;
  cursor: number;
  anchored: ReadonlySet<string>;
  /** Who wrote the new lines, by their 0-based numbers; null where that is not shown. */
  wrote: ReadonlyMap<number, CommitView> | null;
  /** Given where rows can be higher than a line. */
  measure: ((row: HTMLElement | null) => void) | null;
  /** The lines that are selected, when there are several. */
  selection: Selection | null;
  acts: LineActs;
  onOpenGap: (row: number, how: "above" | "below" | "all") => void;
  onOpenFold: (row: number) => void;
  onVerify: (row: number) => void;
  onJump: (path: string, side: "old" | "new", line: number) => void;
}

/** The rows that can be seen, and a few around them. */
export function Lines(props: LinesProps) {
  return props.items.map((item) => <Place key={item.key} item={item} {...props} />);
}

function Place({ item, ...props }: LinesProps & { item: VirtualItem }) {
  const { rows, layout, classes, cursor, file, anchored } = props;
  const place = item.index;
  const [left, right] = [layout.left[place], layout.right[place]];
  const row = left >= 0 ? left : right;
  const kind = rows.kind[row];
  const common = {
    id: `row-${row}`,
    place,
    top: item.start,
    cursor: cursor >= 0 && (cursor === left || cursor === right),
  };
  if (kind === FOLD) {
    const run = classes.runs[rows.run[row]];
    const words = foldWords(run, rows.hidden[row], classes, file.path, reasonOf(file));
    const end = words.otherEnd;
    const jump = end ? () => props.onJump(end.path, end.side, end.start) : null;
    return (
      <FoldRow
        {...common}
        {...{ words, jump }}
        index={row}
        kind={run.class}
        onOpen={props.onOpenFold}
        onVerify={props.onVerify}
      />
    );
  }
  if (kind === GAP) {
    const ends = { first: row === 0, last: row === rows.count - 1 };
    return <GapRow {...common} {...ends} index={row} hidden={rows.hidden[row]} onOpen={props.onOpenGap} />;
  }
  const isAnchored = anchored.has(nameOf(rows, left, "old")) || anchored.has(nameOf(rows, right, "new"));
  if (props.columns === 2 && props.measure) {
    const half = (at: number, side: "old" | "new") => {
      if (at < 0) return null;
      return { ...lineOf(props, at, side), number: numberOf(rows, at, side), selected: isSelected(props, at, side) };
    };
    return (
      <SplitRow
        {...common}
        acts={props.acts}
        old={half(left, "old")}
        next={half(right, "new")}
        measure={props.measure}
        anchored={isAnchored}
      />
    );
  }
  const side = kind === REMOVED ? "old" : "new";
  return (
    <Row
      {...common}
      acts={props.acts}
      {...lineOf(props, row, side)}
      oldNumber={kind === ADDED ? 0 : rows.old[row] + 1}
      newNumber={kind === REMOVED ? 0 : rows.next[row] + 1}
      measure={props.measure}
      wrote={props.wrote && writerOf(props.wrote, rows, row)}
      anchored={isAnchored}
      selected={isSelected(props, row, props.selection?.side ?? side)}
    />
  );
}

/** Who wrote the line of a row: "" where that stands above already, or is not known. */
function writerOf(wrote: ReadonlyMap<number, CommitView>, rows: Rows, row: number): CommitView | "" {
  const of = (at: number) =>
    at < 0 || rows.kind[at] >= GAP || rows.kind[at] === REMOVED ? null : wrote.get(rows.next[at]);
  const commit = of(row);
  return commit && commit !== of(row - 1) ? commit : "";
}

/** Why lines of a file are taken for generated; null when none are. */
export function reasonOf({ generated, lock }: ReadingFile): string | null {
  return generated ?? (lock ? "told in the summary above" : null);
}

/** 1-based; 0 where the line is not on that side. */
function numberOf(rows: Rows, row: number, side: "old" | "new"): number {
  return (side === "old" ? rows.old[row] : rows.next[row]) + 1;
}

function isSelected({ rows, selection }: LinesProps, row: number, side: "old" | "new"): boolean {
  if (!selection || selection.side !== side) return false;
  const number = numberOf(rows, row, side);
  return number >= selection.start && number <= selection.end;
}

/** The line that a row shows on one side. */
function lineOf({ rows, text, colours, marks, classes }: LinesOf, row: number, side: "old" | "new"): LineView {
  const kind = rows.kind[row];
  const [old, next] = [rows.old[row], rows.next[row]];
  // An unchanged line is the same on both sides; its text and colours are taken from the new one.
  const removed = kind === REMOVED;
  const quiet = rows.run[row] >= 0 ? classes.runs[rows.run[row]].class : undefined;
  // Of what stands in another block nothing differs but how far to the right.
  const isPlain = kind === SAME || quiet === "nested";
  return {
    row,
    kind,
    text: (removed ? text.old(old) : text.next[next]) ?? "",
    runs: removed ? colours.old[old] : colours.new[next],
    spans: isPlain ? undefined : side === "old" ? marks.old.get(old) : marks.next.get(next),
    quiet,
  };
}

/** A line's name by its side and 1-based number; no line has the name of row -1. */
function nameOf(rows: Rows, row: number, side: "old" | "new"): string {
  if (row < 0) return "";
  const line = side === "old" ? rows.old[row] : rows.next[row];
  return line < 0 ? "" : `${side}${line + 1}`;
}
