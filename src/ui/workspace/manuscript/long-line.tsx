"use client";
import { useState } from "react";
import { counted, inFigures } from "@/core/plain/words";
import { partOf, segmentLine } from "@/core/reading/segments";
import { Key } from "../../parts/key";
import { Sheet } from "../sheets/sheet";
import { Segments } from "./rows/segments";

/** So much of a line is shown at a time, in UTF-16 units: it may be megabytes. */
const PIECE = 10_000;
/** So much stands before a difference that one goes to. */
const BEFORE = 200;

/** A line that is too long to be shown whole among others. */
export interface LongLineView {
  side: "old" | "new";
  /** 1-based. */
  number: number;
  text: string;
  runs: number[];
  /** What changed within it: start, end, start, end, …, in UTF-16 units. */
  spans: number[];
}

/** A very long line, wrapped, piece by piece; from the first difference in it where that is known. */
export function LongLine({ line, onClose }: { line: LongLineView; onClose: () => void }) {
  const { side, number, text, runs, spans } = line;
  const starts = spans.filter((_, n) => n % 2 === 0);
  const last = Math.max(0, text.length - PIECE);
  const before = (place: number) => Math.min(last, Math.max(0, place - BEFORE));
  const [from, setFrom] = useState(starts.length > 0 ? before(starts[0]) : 0);
  const to = Math.min(text.length, from + PIECE);
  const next = starts.find((start) => start >= to);
  const what = side === "old" ? "as it was" : "as it is now";
  const said = starts.length > 0 ? `${counted(starts.length, "difference")} in it.` : "";
  return (
    <Sheet
      title={`Line ${inFigures(number)}, ${what}`}
      about={`Characters ${inFigures(from + 1)} to ${inFigures(to)} of ${inFigures(text.length)}. ${said}`}
      open
      onClose={onClose}
      wide
    >
      <section
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is scrolled by keys
        tabIndex={0}
        aria-label={`Line ${number}`}
        className={`code-as-chosen min-h-0 flex-1 overflow-auto px-6 py-3 ${side === "old" ? "row-removed" : "row-added"}`}
      >
        <span className="code-line block">
          <Segments segments={partOf(segmentLine(text, runs, spans), from, to)} />
        </span>
      </section>
      <div className="flex flex-none flex-wrap items-center gap-x-4 gap-y-2 border-t border-rule px-6 py-3">
        <button
          type="button"
          className="button"
          disabled={from === 0}
          onClick={() => setFrom(Math.max(0, from - PIECE))}
        >
          earlier
        </button>
        <button
          type="button"
          className="button"
          disabled={to === text.length}
          onClick={() => setFrom(Math.min(last, to))}
        >
          later
        </button>
        {next !== undefined && (
          <button type="button" className="button" onClick={() => setFrom(before(next))}>
            next difference
          </button>
        )}
        <button type="button" className="quiet-button ml-auto" onClick={onClose}>
          close <Key>Esc</Key>
        </button>
      </div>
    </Sheet>
  );
}
