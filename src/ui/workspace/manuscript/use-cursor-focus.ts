"use client";
import { type RefObject, useLayoutEffect, useRef } from "react";
import type { Layout } from "@/core/reading/columns";
import { isCovered, isTypedInto } from "../../focus/taken";
import { nameOfPlace } from "./rows/rows-on-page";

/**
 * The row that the cursor is on has the focus: it goes there with each move of the cursor that somebody makes, and stays when
 * rows come and go around it. It is left where it is while something is typed, and over a sheet.
 */
export function useCursorFocus(
  scroller: RefObject<HTMLElement | null>,
  layout: Layout | null,
  cursor: number,
  moves: number,
  /** Whether rows are drawn: a page of which nothing was measured yet has none. */
  drawn: boolean,
): void {
  const seen = useRef(-1);
  useLayoutEffect(() => {
    if (!layout || !drawn || cursor < 0 || cursor >= layout.placeOf.length) return;
    const first = seen.current < 0;
    const moved = !first && seen.current !== moves;
    seen.current = moves;
    const active = document.activeElement;
    if (isTypedInto(active) || isCovered()) return;
    const inRows = active?.getAttribute("role") === "row" && scroller.current?.contains(active) === true;
    const nowhere = active === null || active === document.body;
    if (moved || inRows || (first && (nowhere || moves > 0)))
      document.getElementById(nameOfPlace(layout, cursor))?.focus({ preventScroll: true });
  }, [layout, cursor, scroller, moves, drawn]);
}
