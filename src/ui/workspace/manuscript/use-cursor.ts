"use client";
import { useCallback, useMemo, useRef, useState } from "react";
import type { Layout } from "@/core/reading/columns";
import { REMOVED, type Rows, sameRow } from "@/core/reading/rows";
import { type Selection, selectionOf } from "@/core/reading/selection";

interface Stand {
  /** The rows that the numbers are about. */
  rows: Rows | null;
  /** The row that keys act on; -1 for none. */
  cursor: number;
  /** Where the selection began; -1 for none. */
  mark: number;
  /** Counts the moves that somebody made, by key or pointer. */
  moves: number;
}

/**
 * The row that keys act on, and how far back from it lines are selected. It stays on its line when rows come and go around it. `begin` gives the row at
 * which it stands when there are rows first; -1 where something else says that.
 */
export function useCursor(
  rows: Rows | null,
  layout: Layout | null,
  begin: (rows: Rows) => number,
  scrollTo: (row: number, centre: boolean) => void,
) {
  const [stand, setStand] = useState<Stand>(() => firstStand(rows, begin));
  let at = stand;
  if (rows !== stand.rows) {
    const { rows: before, cursor, mark, moves } = stand;
    const moved = (row: number) => (before && rows ? sameRow(before, row, rows) : row);
    const isFirst = before === null && cursor < 0 && moves === 0;
    at = isFirst ? firstStand(rows, begin) : { ...stand, rows, cursor: moved(cursor), mark: moved(mark) };
    setStand(at);
  }
  const { cursor, mark, moves } = at;
  /** The side that was taken hold of, where it was said. */
  const side = useRef<Selection["side"] | undefined>(undefined);

  const put = useCallback(
    (cursor: number, mark: (now: Stand) => number, byHand = true) =>
      setStand((now) => ({ ...now, cursor, mark: mark(now), moves: now.moves + (byHand ? 1 : 0) })),
    [],
  );
  /** Sets the cursor on a row, without selecting. */
  const choose = useCallback(
    (row: number, byHand = true) => {
      side.current = undefined;
      put(row, () => -1, byHand);
    },
    [put],
  );
  const show = useCallback(
    (row: number, centre = false, byHand = true) => {
      choose(row, byHand);
      scrollTo(row, centre);
    },
    [choose, scrollTo],
  );
  /** Takes hold of a line, from where more are taken by {@link stretch}. */
  const grasp = useCallback(
    (row: number, on: Selection["side"]) => {
      side.current = on;
      put(row, () => row);
    },
    [put],
  );
  const stretch = useCallback((row: number) => put(row, ({ mark }) => mark), [put]);

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
    put(row, ({ cursor, mark }) => (mark < 0 ? cursor : mark));
    scrollTo(row, false);
  };
  const selection = useMemo(
    () => (rows && cursor >= 0 ? selectionOf(rows, mark, cursor, side.current) : null),
    [rows, mark, cursor],
  );
  return { cursor, moves, selecting: mark >= 0 && mark !== cursor, selection, choose, show, grasp, stretch, move };
}

/** Where it stands at the first look, which counts as a move: somebody opened the file. */
function firstStand(rows: Rows | null, begin: (rows: Rows) => number): Stand {
  const cursor = rows ? begin(rows) : -1;
  return { rows, cursor, mark: -1, moves: cursor < 0 ? 0 : 1 };
}
