"use client";
import { type RefObject, useMemo } from "react";
import { changeMarks } from "@/core/reading/change-marks";
import type { Layout } from "@/core/reading/columns";
import type { Rows } from "@/core/reading/rows";

/** As many marks as there is anything to tell apart, in pixels of a tall window. */
const PIECES = 400;

/** A strip beside the page that shows where in all of it something changed, and leads there. Keys go from difference to difference. */
export function ChangeMarks({
  rows,
  layout,
  scroller,
}: {
  rows: Rows;
  layout: Layout;
  scroller: RefObject<HTMLElement | null>;
}) {
  const marks = useMemo(() => changeMarks(rows, layout, PIECES), [rows, layout]);
  const goTo = (share: number) => {
    const page = scroller.current;
    if (page) page.scrollTo({ top: share * page.scrollHeight - page.clientHeight / 2 });
  };
  return (
    <div
      aria-hidden
      data-testid="marks"
      title="Where something changed in all of this page"
      className="relative w-2.5 flex-none cursor-pointer border-l border-rule bg-page"
      onPointerDown={(event) => {
        const { top, height } = event.currentTarget.getBoundingClientRect();
        goTo((event.clientY - top) / height);
        // The row of the cursor keeps the focus.
        event.preventDefault();
      }}
    >
      {marks.map(({ from, to, quiet }) => (
        <span
          key={from}
          className={`absolute inset-x-0.5 min-h-0.5 rounded-[1px] ${quiet ? "bg-rule" : "bg-brass"}`}
          style={{ top: `${from * 100}%`, height: `${(to - from) * 100}%` }}
        />
      ))}
    </div>
  );
}
