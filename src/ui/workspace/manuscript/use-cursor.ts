"use client";
import { useCallback, useMemo, useRef, useState } from "react";
import type { Layout } from "@/core/reading/columns";
import { REMOVED, type Rows } from "@/core/reading/rows";
import { type Selection, selectionOf } from "@/core/reading/selection";

/** The row that keys act on, and how far back from it lines are selected. */
export function useCursor(rows: Rows | null, layout: Layout | null, scrollTo: (row: number, centre: boolean) => void) {
  const [cursor, setCursor] = useState(-1);
  /** Where the selection began; -1 for none. */
  const [mark, setMark] = useState(-1);
  /** The side that was taken hold of, where it was said. */
  const side = useRef<Selection["side"] | undefined>(undefined);

  const choose = useCallback((row: number) => {
    side.current = undefined;
    setMark(-1);
    setCursor(row);
  }, []);
  const show = useCallback(
    (row: number, centre = false) => {
      choose(row);
      scrollTo(row, centre);
    },
    [choose, scrollTo],
  );
  /** Takes hold of a line, from where more are taken by {@link stretch}. */
  const grasp = useCallback((row: number, on: Selection["side"]) => {
    side.current = on;
    setMark(row);
    setCursor(row);
  }, []);
  const stretch = useCallback((row: number) => setCursor(row), []);

  const move = (by: number, selecting = false) => {
    if (!layout || !rows || layout.count === 0) return;
    const place = Math.max(0, Math.min(layout.count - 1, (cursor < 0 ? 0 : layout.placeOf[cursor]) + by));
    // In two columns the cursor stays on its side where it can.
    const onLeft = cursor >= 0 && rows.kind[cursor] === REMOVED;
    const [first, second] = onLeft
      ? [layout.left[place], layout.right[place]]
      : [layout.right[place], layout.left[place]];
    const row = first >= 0 ? first : second;
    if (!selecting) return show(row);
    if (mark < 0) setMark(cursor);
    setCursor(row);
    scrollTo(row, false);
  };
  const selection = useMemo(
    () => (rows && cursor >= 0 ? selectionOf(rows, mark, cursor, side.current) : null),
    [rows, mark, cursor],
  );
  return { cursor, selecting: mark >= 0 && mark !== cursor, selection, choose, show, grasp, stretch, move };
}
