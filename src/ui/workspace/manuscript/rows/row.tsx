"use client";
import { memo } from "react";
import { counted, inFigures } from "@/core/plain/words";
import type { LineClass } from "@/core/quiet/classes";
import { ADDED, REMOVED } from "@/core/reading/rows";
import { segmentLine } from "@/core/reading/segments";
import type { CommitView } from "@/core/views/api";
import { RowFrame } from "./row-frame";
import { Segments } from "./segments";

/** More of a line than this is shown on demand, see `LongLine`: one line may be megabytes. */
export const SHOWN = 2_000;
const NONE: number[] = [];
/** What stands in place of plus and minus where a line is quiet. */
const QUIET_SIGNS: Record<LineClass, string> = {
  read: "",
  moved: "⇄",
  repeated: "≈",
  layout: "·",
  blank: "·",
  endings: "¶",
  imports: "⇅",
  generated: "⚙",
  echo: "=",
  style: "≡",
  nested: "↳",
};

/** One line of one side, as it is to be shown. */
export interface LineView {
  /** The row it belongs to. */
  row: number;
  kind: number;
  text: string;
  runs: number[] | undefined;
  spans: number[] | undefined;
  /** The class of a changed line that needs no reading. */
  quiet: LineClass | undefined;
}

export interface RowProps extends LineView {
  id: string;
  place: number;
  top: number;
  /** 1-based; 0 where the line is not on that side. */
  oldNumber: number;
  newNumber: number;
  /** Long lines go on below instead of to the right; then a row has to be measured. */
  measure: ((row: HTMLElement | null) => void) | null;
  cursor: boolean;
  anchored: boolean;
  selected: boolean;
  /** Who wrote it and when; "" where that is not said, null where nobody is told of. */
  wrote: CommitView | "" | null;
  acts: LineActs;
}

/** What can be done with lines: hold of one is taken at its number, and drawn over others. They stay the same as rows come and go. */
export interface LineActs {
  onGrasp: (row: number, side: "old" | "new") => void;
  onStretch: (row: number) => void;
  onRelease: () => void;
  onChoose: (row: number) => void;
  onWrap: () => void;
  /** Shows a line whole that is too long to be. */
  onWhole: (row: number, side: "old" | "new") => void;
  /** Told of the end of a line that may go on out of sight. */
  watchEnd: (end: HTMLElement | null) => (() => void) | undefined;
}

/** One line of the manuscript in one column. */
export const Row = memo(function Row(props: RowProps) {
  const { id, place, top, cursor, measure, oldNumber, newNumber, row, acts } = props;
  return (
    <RowFrame
      {...{ id, place, top, cursor, measure }}
      onClick={() => acts.onChoose(row)}
      look={`${lookOf(props)} ${props.anchored ? "row-anchored" : ""} ${props.selected ? "row-selected" : ""}`}
    >
      {props.wrote !== null && <Who commit={props.wrote} />}
      <LineNumber number={oldNumber} side="old" row={row} acts={acts} />
      <LineNumber number={newNumber} side="new" row={row} acts={acts} />
      <Code
        {...props}
        side={props.kind === REMOVED ? "old" : "new"}
        watchEnd={measure ? undefined : acts.watchEnd}
        onWhole={acts.onWhole}
      />
      {!measure && <Beyond onWrap={acts.onWrap} />}
    </RowFrame>
  );
});

export interface SplitRowProps {
  id: string;
  place: number;
  top: number;
  /** Null for nothing on that side. */
  old: HalfView | null;
  next: HalfView | null;
  measure: (row: HTMLElement | null) => void;
  cursor: boolean;
  anchored: boolean;
  acts: LineActs;
}

interface HalfView extends LineView {
  number: number;
  selected: boolean;
}

/** One place of the manuscript in two columns: before on the left, after on the right. */
export function SplitRow({ old, next, acts, anchored, ...frame }: SplitRowProps) {
  return (
    <RowFrame {...frame} look={anchored ? "row-anchored" : ""}>
      {old ? <Half {...old} side="old" acts={acts} /> : <span className="half half-empty" />}
      {next ? <Half {...next} side="new" acts={acts} /> : <span className="half half-empty" />}
    </RowFrame>
  );
}

const Half = memo(function Half({
  acts,
  number,
  selected,
  ...line
}: HalfView & { side: "old" | "new"; acts: LineActs }) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid around the rows moves its cursor by keys
    // biome-ignore lint/a11y/noStaticElementInteractions: see above
    <span className={`half ${lookOf(line)} ${selected ? "row-selected" : ""}`} onClick={() => acts.onChoose(line.row)}>
      <LineNumber number={number} side={line.side} row={line.row} acts={acts} />
      <Code {...line} onWhole={acts.onWhole} />
    </span>
  );
});

function lookOf({ kind, quiet }: LineView): string {
  const change = kind === ADDED ? "row-added" : kind === REMOVED ? "row-removed" : "";
  return quiet ? `${change} row-quiet row-${quiet}` : change;
}

/** The sign and the text of a line. */
function Code({
  row,
  side,
  kind,
  quiet,
  text: whole,
  runs,
  spans,
  watchEnd,
  onWhole,
}: LineView & { side: "old" | "new"; watchEnd?: LineActs["watchEnd"]; onWhole: LineActs["onWhole"] }) {
  const changed = kind === ADDED || kind === REMOVED;
  const sign = quiet ? QUIET_SIGNS[quiet] : kind === ADDED ? "+" : kind === REMOVED ? "−" : "";
  const text = whole.length > SHOWN ? whole.slice(0, SHOWN) : whole;
  const returns = text.endsWith("\r");
  const what = kind === ADDED ? "added" : kind === REMOVED ? "removed" : "";
  const said = `${what}${quiet ? `, ${quiet}` : ""}${returns && changed ? ", ends with a carriage return" : ""}`;
  return (
    <>
      <span className="sign" role="gridcell" aria-label={said}>
        {sign}
      </span>
      <span className="code" role="gridcell" data-row={row} data-side={side}>
        <Segments segments={segmentLine(returns ? text.slice(0, -1) : text, runs ?? NONE, spans ?? NONE)} />
        {/* In letters, since few fonts have its sign; and not in what is copied. */}
        {returns && changed && (
          <span className="ml-1 rounded border border-rule px-0.5 text-[9px] leading-none text-soft before:content-['CR']" />
        )}
        {whole.length > SHOWN && (
          // biome-ignore lint/a11y/useKeyWithClickEvents: Shift and L do the same
          // biome-ignore lint/a11y/noStaticElementInteractions: see above
          <span
            className="cursor-pointer rounded bg-well px-2 text-brass hover:underline"
            title="See all of it, piece by piece (Shift L)"
            onClick={() => onWhole(row, side)}
          >
            {" "}
            … {inFigures(whole.length - SHOWN)} more characters on this line{further(spans ?? NONE)}
          </span>
        )}
        {watchEnd && <span ref={watchEnd} />}
      </span>
    </>
  );
}

/** How many differences lie in what is not shown of a line, in words. */
function further(spans: readonly number[]): string {
  const count = spans.filter((end, n) => n % 2 === 1 && end > SHOWN).length;
  return count > 0 ? `, ${counted(count, "difference")} among them` : "";
}

/** Says of a line that it goes on to the right of what is seen; there alone, see {@link useBeyond}. Who does not see it is read the whole line. */
function Beyond({ onWrap }: { onWrap: () => void }) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: L does the same
    // biome-ignore lint/a11y/noStaticElementInteractions: see above
    <span
      className="beyond"
      aria-hidden
      title="This line goes on to the right: wrap lines (L)"
      onClick={(event) => {
        event.stopPropagation();
        onWrap();
      }}
    >
      goes on ›
    </span>
  );
}

function LineNumber({ number, side, row, acts }: { number: number; side: "old" | "new"; row: number; acts: LineActs }) {
  if (number === 0) return <span className="no" role="gridcell" />;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: W does the same for the line under the cursor
    <span
      className="no"
      role="gridcell"
      tabIndex={-1}
      title={`Remark on ${side === "old" ? "old " : ""}line ${number}, or draw over several (W)`}
      onClick={(event) => event.stopPropagation()}
      onPointerDown={(event) => event.button === 0 && acts.onGrasp(row, side)}
      onPointerEnter={(event) => event.buttons === 1 && acts.onStretch(row)}
      onPointerUp={(event) => event.button === 0 && acts.onRelease()}
    >
      {number}
    </span>
  );
}

/** Who wrote a line and when, where the lines of a commit begin; its words when it is pointed at. */
function Who({ commit }: { commit: CommitView | "" }) {
  if (commit === "") return <span className="who" role="gridcell" />;
  return (
    <span className="who" role="gridcell" title={`${commit.subject}, ${commit.id.slice(0, 8)}`}>
      {new Date(commit.at).toISOString().slice(0, 10)} {commit.author}
    </span>
  );
}
