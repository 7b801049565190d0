"use client";
import { useCallback } from "react";
import type { Hunk } from "@/core/diff/hunk";
import { enclosingBlock } from "@/core/diff/scopes";
import { FOLD, GAP, newLineNear } from "@/core/reading/rows";
import { type Tell, useTell } from "../state/context";
import { nameOfRow } from "./rows/rows-on-page";
import type { useRows } from "./use-rows";

/** How many lines one click opens. */
const STEP = 20;
/** So many blocks within each other are looked at. */
const DEEPEST = 40;

/** Opening what is hidden or folded: by a click at its place, or by a key from the cursor. */
export function useOpening(
  { rows, open, unfold }: Pick<ReturnType<typeof useRows>, "rows" | "open" | "unfold">,
  cursor: number,
  lines: readonly string[] | undefined,
  hunks: readonly Hunk[] | undefined,
) {
  const tell: Tell = useTell();
  const openGap = useCallback(
    (index: number, how: "above" | "below" | "all") => {
      if (!rows) return;
      const from = rows.next[index];
      const to = from + rows.hidden[index];
      if (how === "all") open(from, to);
      else if (how === "above") open(from, from + STEP);
      else open(to - STEP, to);
    },
    [rows, open],
  );
  const openFold = useCallback(
    (index: number) => {
      if (rows) unfold(nameOfRow(rows, index));
    },
    [rows, unfold],
  );
  /** The row of hidden or folded lines that is nearest to the cursor; -1 for none. */
  const nearest = () => {
    if (!rows) return -1;
    for (let away = 0; away < rows.count; away++) {
      for (const row of [cursor + away, cursor - away])
        if (row >= 0 && row < rows.count && rows.kind[row] >= GAP) return row;
    }
    return -1;
  };
  const openNearest = () => {
    const row = nearest();
    if (row < 0) return;
    if (rows?.kind[row] === FOLD) openFold(row);
    else openGap(row, "all");
  };
  /** Opens the block around the cursor; the one around that when it is open already. */
  const openBlock = () => {
    if (!rows || !lines || !hunks || cursor < 0) return;
    const row = rows.kind[cursor] === FOLD || rows.next[cursor] < 0 ? -1 : rows.next[cursor];
    const line = row >= 0 ? row : newLineNear(hunks, rows.old[cursor]);
    for (let within = 0; within < DEEPEST; within++) {
      const block = enclosingBlock(lines, line, within);
      if (!block) break;
      for (let at = 0; at < rows.count; at++) {
        if (rows.kind[at] !== GAP || rows.next[at] >= block[1] || rows.next[at] + rows.hidden[at] <= block[0]) continue;
        return open(block[0], block[1]);
      }
    }
    tell("All that encloses this line is open.");
  };
  return { openGap, openFold, nearest, openNearest, openBlock };
}
