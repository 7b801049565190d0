"use client";
import { memo } from "react";
import type { LineClass } from "@/core/diff/classes";
import { ADDED, REMOVED } from "@/core/reading/rows";
import { segmentLine } from "@/core/reading/segments";

/** More of a line than this is shown on demand: one line may be megabytes. */
const SHOWN = 2_000;
const NONE: number[] = [];
/** What stands in place of plus and minus where a line is quiet. */
const QUIET_SIGNS: Record<LineClass, string> = {
  read: "",
  moved: "⇄",
  repeated: "≈",
  whitespace: "·",
  blank: "·",
  endings: "¶",
  imports: "⇅",
  generated: "⚙",
};

export interface RowProps {
  id: string;
  index: number;
  top: number;
  kind: number;
  /** 1-based; 0 where the line is not on that side. */
  oldNumber: number;
  newNumber: number;
  text: string;
  runs: number[] | undefined;
  spans: number[] | undefined;
  /** The class of a changed line that needs no reading. */
  quiet: LineClass | undefined;
  /** Long lines go on below instead of to the right; then a row has to be measured. */
  measure: ((row: HTMLElement | null) => void) | null;
  cursor: boolean;
  anchored: boolean;
  onRemark: (index: number, side: "old" | "new") => void;
  onChoose: (index: number) => void;
}

/** One line of the manuscript. */
export const Row = memo(function Row(props: RowProps) {
  const { kind, oldNumber, newNumber, index } = props;
  const change = kind === ADDED ? "row-added" : kind === REMOVED ? "row-removed" : "";
  const look = props.quiet ? `${change} row-quiet row-${props.quiet}` : change;
  const sign = props.quiet ? QUIET_SIGNS[props.quiet] : kind === ADDED ? "+" : kind === REMOVED ? "−" : "";
  const text = props.text.length > SHOWN ? props.text.slice(0, SHOWN) : props.text;
  const returns = text.endsWith("\r");
  const said = `${kind === ADDED ? "added" : kind === REMOVED ? "removed" : ""}${props.quiet ? `, ${props.quiet}` : ""}`;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid around the rows moves its cursor by keys
    <div
      id={props.id}
      ref={props.measure}
      data-index={index}
      role="row"
      tabIndex={-1}
      aria-rowindex={index + 1}
      aria-selected={props.cursor}
      className={`row ${look} ${props.measure ? "row-wrap" : ""} ${props.cursor ? "row-cursor" : ""} ${props.anchored ? "row-anchored" : ""}`}
      style={{ transform: `translateY(${props.top}px)` }}
      onClick={() => props.onChoose(index)}
    >
      <LineNumber number={oldNumber} side="old" {...props} />
      <LineNumber number={newNumber} side="new" {...props} />
      <span className="sign" role="gridcell" aria-label={said}>
        {sign}
      </span>
      <span className="code" role="gridcell">
        {segmentLine(returns ? text.slice(0, -1) : text, props.runs ?? NONE, props.spans ?? NONE).map((segment, i) => (
          <span
            // biome-ignore lint/suspicious/noArrayIndexKey: segments have no other name
            key={i}
            className={`${segment.colour > 0 ? `c${segment.colour}` : ""} ${segment.marked ? "marked" : ""}`}
          >
            {segment.text}
          </span>
        ))}
        {returns && (kind === ADDED || kind === REMOVED) && <span className="text-faint"> ␍</span>}
        {props.text.length > SHOWN && (
          <span className="rounded bg-well px-2 text-soft">
            {" "}
            … {(props.text.length - SHOWN).toLocaleString("en")} more characters on this line
          </span>
        )}
      </span>
    </div>
  );
});

function LineNumber({
  number,
  side,
  index,
  onRemark,
}: { number: number; side: "old" | "new" } & Pick<RowProps, "index" | "onRemark">) {
  if (number === 0) return <span className="no" role="gridcell" />;
  const label = `Remark on ${side === "old" ? "old " : ""}line ${number}`;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: W does the same for the line under the cursor
    <span className="no" role="gridcell" tabIndex={-1} title={`${label} (W)`} onClick={() => onRemark(index, side)}>
      {number}
    </span>
  );
}
