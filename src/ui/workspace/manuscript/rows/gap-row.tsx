"use client";
import { counted } from "@/core/plain/words";
import { Key } from "../../../parts/key";
import { RowFrame } from "./row-frame";

/** Hidden unchanged lines, and the ways to open them. */
export function GapRow(props: {
  id: string;
  place: number;
  /** The row itself, by which it is opened. */
  index: number;
  top: number;
  hidden: number;
  first: boolean;
  last: boolean;
  cursor: boolean;
  onOpen: (index: number, how: "above" | "below" | "all") => void;
}) {
  const { id, place, top, cursor, hidden, index, onOpen } = props;
  const many = hidden > 20;
  return (
    <RowFrame {...{ id, place, top, cursor }} look={"row-gap"}>
      <span role="gridcell" className="flex items-center gap-4">
        <span>{counted(hidden, "unchanged line")}</span>
        {many && !props.first && (
          <button type="button" className="quiet-button" onClick={() => onOpen(index, "above")}>
            ↓ 20 more from above
          </button>
        )}
        {many && !props.last && (
          <button type="button" className="quiet-button" onClick={() => onOpen(index, "below")}>
            ↑ 20 more from below
          </button>
        )}
        <button type="button" className="quiet-button" onClick={() => onOpen(index, "all")}>
          {many ? "open all" : "open"} {props.cursor && <Key>O</Key>}
        </button>
      </span>
    </RowFrame>
  );
}
