"use client";
import type { ReactNode } from "react";

export interface RowFrameProps {
  id: string;
  /** Where it stands among all rows, 0-based. */
  place: number;
  /** Pixels from the top of the manuscript. */
  top: number;
  cursor: boolean;
  look: string;
  /** Given where a row can be higher than a line. */
  measure?: ((row: HTMLElement | null) => void) | null;
  onClick?: () => void;
  children: ReactNode;
}

/** What every row of the manuscript is to the grid around it: its place, its name, and whether the cursor is on it. */
export function RowFrame({ id, place, top, cursor, look, measure, onClick, children }: RowFrameProps) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid around the rows moves its cursor by keys
    <div
      id={id}
      ref={measure}
      data-index={place}
      role="row"
      tabIndex={cursor ? 0 : -1}
      aria-rowindex={place + 1}
      aria-selected={cursor}
      className={`row ${look} ${measure ? "row-wrap" : ""} ${cursor ? "row-cursor" : ""}`}
      style={{ transform: `translateY(${top}px)` }}
      onClick={onClick}
    >
      {children}
    </div>
  );
}
