"use client";
import type { LineClass } from "@/core/quiet/classes";
import type { FoldWords } from "@/core/reading/folds";
import { Key } from "../../../parts/key";
import { RowFrame } from "./row-frame";

const LOOKS: Partial<Record<LineClass, string>> = {
  moved: "row-moved text-slate",
  repeated: "row-repeated text-ochre",
  echo: "row-moved text-slate",
};

/** Quiet lines in one row: what, how much, from where; and the ways to see them. */
export function FoldRow(props: {
  id: string;
  place: number;
  /** The row itself, by which it is opened. */
  index: number;
  top: number;
  kind: LineClass;
  words: FoldWords;
  cursor: boolean;
  onOpen: (index: number) => void;
  onVerify: (index: number) => void;
  /** Goes to the other end of a move. */
  jump: (() => void) | null;
}) {
  const { id, place, top, cursor, index, words } = props;
  return (
    <RowFrame {...{ id, place, top, cursor }} look={`row-fold row-quiet ${LOOKS[props.kind] ?? "text-soft"}`}>
      <span role="gridcell" className="flex min-w-0 items-center gap-2">
        <strong className="font-semibold">{words.kind}</strong>
        <span className="truncate" title={words.says}>
          {words.says}
        </span>
        <button type="button" className="quiet-button flex-none" onClick={() => props.onOpen(index)}>
          open {props.cursor && <Key>O</Key>}
        </button>
        <button type="button" className="quiet-button flex-none" onClick={() => props.onVerify(index)}>
          verify {props.cursor && <Key>Z</Key>}
        </button>
        {props.jump && (
          <button type="button" className="quiet-button flex-none" onClick={props.jump}>
            the other end
          </button>
        )}
      </span>
    </RowFrame>
  );
}
