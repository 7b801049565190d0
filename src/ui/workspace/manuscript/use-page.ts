"use client";
import { defaultRangeExtractor, useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useInsertionEffect, useLayoutEffect, useRef } from "react";
import type { Hunk } from "@/core/diff/hunk";
import { measuresOf } from "@/core/house/look";
import { keyOfPlace } from "@/core/reading/columns";
import { GAP, newLineNear, nextDifference, type Rows, rowOfLine } from "@/core/reading/rows";
import { useLook } from "../../frame/use-look";
import type { Target } from "../navigation/use-navigation";
import { useCursor } from "./use-cursor";
import { useCursorFocus } from "./use-cursor-focus";
import type { useRows } from "./use-rows";

/** The height of what stands for hidden lines, in pixels. */
const GAP_HEIGHT = 28;

/** How large the page was of the file that was open last: the next one has the same, and its rows need not wait until it was measured. */
let lastRect = { width: 0, height: 0 };

/** The rows as they are laid on the page: which of them are drawn, where each is, and the one that keys act on. */
export function usePage(
  { rows, rowAt, layout, columns, wraps, open }: ReturnType<typeof useRows>,
  hunks: readonly Hunk[] | undefined,
  target: Target | null,
  /** Told when the last line comes into sight; null while no line is. */
  onEnd: (() => void) | null,
) {
  const scroller = useRef<HTMLDivElement>(null);
  const { line: lineHeight } = measuresOf(useLook()[0]);
  const cursorPlace = useRef(-1);
  const virtual = useVirtualizer({
    count: layout?.count ?? 0,
    getScrollElement: () => scroller.current,
    estimateSize: useCallback(
      (place: number) => {
        const row = layout ? Math.max(layout.left[place], layout.right[place]) : 0;
        return (rows?.kind[row] ?? 0) >= GAP ? GAP_HEIGHT : lineHeight;
      },
      [rows, layout, lineHeight],
    ),
    // How high a line was measured holds also where others are opened beside it.
    getItemKey: useCallback(
      (place: number) => (rows && layout ? keyOfPlace(rows, layout, place) : place),
      [rows, layout],
    ),
    initialRect: lastRect,
    overscan: 10,
    // What a line lies in is told over the first of them: keys do not lead behind that.
    scrollPaddingStart: 28,
    // The row of the cursor has the focus, so it stays, wherever one scrolls.
    rangeExtractor: (range) => withPlace(defaultRangeExtractor(range), cursorPlace.current),
  });
  /** Where the row of the cursor began when it was last drawn, in pixels from the top; null while there is none. */
  const stood = useRef<number | null>(null);
  const startOf = (place: number): number | null => virtual.measurementsCache[place]?.start ?? null;
  /** What all heights depend on: where it changes, none that was measured holds. */
  const shape = `${columns} ${wraps} ${lineHeight}`;
  const measured = useRef(shape);
  // How far one had scrolled is asked before rows are measured that come in: what the virtualizer does about those goes by the last scrolling that it heard of, and takes a later one back.
  const scrolled = useRef(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rows are what changes
  useInsertionEffect(() => {
    scrolled.current = scroller.current?.scrollTop ?? 0;
  }, [layout, shape]);
  // Sizes depend on what each row is, so what stands in a new layout is measured anew: also the rows that stood there already, of which nothing else would tell.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rows are what changes
  useLayoutEffect(() => {
    const frame = scroller.current;
    if (measured.current !== shape) virtual.measure();
    measured.current = shape;
    // What is measured is held against what was thought of it: that is worked out anew first, and again for what follows.
    virtual.getTotalSize();
    for (const row of frame?.querySelectorAll<HTMLElement>(".row-wrap") ?? [])
      virtual.resizeItem(Number(row.dataset.index), row.offsetHeight);
    virtual.getTotalSize();
    // The line that one reads stays where it is, whatever is opened above it.
    const [before, now] = [stood.current, startOf(cursorPlace.current)];
    if (!frame || before === null || now === null) return;
    const wasSeen = before >= scrolled.current && before < scrolled.current + frame.clientHeight;
    const place = scrolled.current + now - before;
    // Through the virtualizer, which leaves it alone then until it has heard of it.
    if (wasSeen && Math.round(frame.scrollTop) !== Math.round(place)) virtual.scrollToOffset(place);
  }, [layout, virtual, shape]);
  useLayoutEffect(() => {
    stood.current = startOf(cursorPlace.current);
  });

  useLayoutEffect(() => {
    if (virtual.scrollRect) lastRect = virtual.scrollRect;
  });

  const atEnd =
    onEnd !== null && layout !== null && layout.count > 0 && (virtual.range?.endIndex ?? -1) >= layout.count - 1;
  const end = useRef(onEnd);
  end.current = onEnd;
  useEffect(() => {
    if (atEnd) end.current?.();
  }, [atEnd]);

  /** Where a line is, 1-based, in pixels from the top; null when it is not shown. */
  const rowTop = useCallback(
    (side: "old" | "new", line: number): number | null => {
      const row = rowAt(side, line - 1);
      if (row === undefined || !layout) return null;
      const place = layout.placeOf[row];
      return virtual.measurementsCache[place]?.start ?? place * lineHeight;
    },
    [rowAt, layout, virtual, lineHeight],
  );
  const scrollTo = useCallback(
    (row: number, centre: boolean) => {
      if (layout && row >= 0) virtual.scrollToIndex(layout.placeOf[row], { align: centre ? "center" : "auto" });
    },
    [layout, virtual],
  );
  // The first look at a file stands at its first difference, unless a line of it was asked for.
  const begin = (rows: Rows) => (target ? -1 : Math.max(0, nextDifference(rows, -1, 1)));
  const hold = useCursor(rows, layout, begin, scrollTo);
  const { show, cursor, moves } = hold;
  cursorPlace.current = layout && cursor >= 0 ? (layout.placeOf[cursor] ?? -1) : -1;
  useCursorFocus(scroller, layout, cursor, moves, virtual.getVirtualItems().length > 0);

  // A line that somebody points at is shown as soon as it is laid out, and once only.
  const jumped = useRef(-1);
  useEffect(() => {
    if (!target || !rows || !hunks || jumped.current === target.jump) return;
    const row = rowOfLine(rows, target.side, target.line - 1);
    if (row >= 0) {
      jumped.current = target.jump;
      // A thread that was gone to has the focus itself.
      show(row, true, target.thread === null);
    } else {
      const line = target.side === "new" ? target.line - 1 : newLineNear(hunks, target.line - 1);
      open(line - 3, line + 4);
    }
  }, [target, rows, hunks, show, open]);

  return { scroller, virtual, rowTop, hold };
}

/** Places to be drawn, and one more among them. */
function withPlace(places: number[], one: number): number[] {
  if (one < 0 || places.includes(one)) return places;
  return [...places, one].sort((a, b) => a - b);
}
