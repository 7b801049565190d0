"use client";
import { visible } from "@/core/cautions/visible";
import { counted, inFigures } from "@/core/plain/words";
import type { FileClasses } from "@/core/views/api";

/** Said above a file whose changes stand for others: who reads it reads those, too, so they are named. */
export function ReadAlong({
  echoed: { places, many },
  onGo,
}: {
  echoed: FileClasses["echoed"];
  onGo: (path: string, side: "old" | "new", line: number) => void;
}) {
  if (many === 0) return null;
  return (
    <p className="flex-none border-b border-rule bg-slate-wash px-4 py-1.5 text-[13.5px]">
      Read here for {counted(many, "more place")}, changed in the same way:{" "}
      {places.map(({ path, side, start }, i) => (
        <span key={`${path} ${side} ${start}`}>
          {i > 0 && ", "}
          <button type="button" className="quiet-button" onClick={() => onGo(path, side, start)}>
            {visible(path)} {start}
          </button>
        </span>
      ))}
      {many > places.length && ` and ${inFigures(many - places.length)} more`}.
    </p>
  );
}
