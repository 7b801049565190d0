"use client";
import { useMemo } from "react";
import { anchorName } from "@/core/anchor/anchor";
import { counted, inFigures } from "@/core/plain/words";
import { besidesReading, changedLines, linesToRead, needsReading } from "@/core/reading/files";
import type { Points } from "@/core/reading/points";
import { goesOn } from "@/core/review/state";
import { wrongSuggestions } from "@/core/suggest/suggestion";
import type { ReadingFile } from "@/core/views/api";
import { useBehindPicture } from "../asking/use-behind-picture";
import { Key } from "../parts/key";
import { hasWords, useChangeSet } from "./state/context";

/** Lines and files in numbers: of the lines that are to be read and those that are, of the files that need reading and are finished. */
function sumsOf(files: readonly ReadingFile[]) {
  const done = files.filter((file) => file.read === "read");
  return {
    all: files.length,
    total: linesToRead(files),
    read: linesToRead(done),
    changed: files.reduce((lines, { counts }) => lines + changedLines(counts), 0),
    open: files.filter(needsReading).length,
    finished: done.filter(needsReading).length,
    besides: besidesReading(files),
    uncounted: files.filter(({ counts }) => counts === null).length,
  };
}

/** How much is left to read, what is unsent, and the way to finish. */
export function Footing({
  files,
  points,
  complete,
  notice,
  onSend,
  onTake,
  onKeys,
}: {
  files: ReadingFile[] | undefined;
  /** Between which the files are. */
  points: Points;
  complete: boolean;
  notice: { words: string; undo?: () => void } | null;
  onSend: () => void;
  onTake: () => void;
  onKeys: () => void;
}) {
  const { view } = useChangeSet();
  const listed = useBehindPicture(files, points);
  const { all, total, read, changed, open, finished, besides, uncounted } = useMemo(
    () => sumsOf(listed ?? []),
    [listed],
  );
  const share = total > 0 ? (100 * read) / total : 0;
  const waiting = view.unsent.filter(hasWords);
  const closing = waiting.some(({ kind }) => kind === "closing");
  const unsent = waiting.length - (closing ? 1 : 0);
  const wrong = waiting.flatMap((note) =>
    note.kind === "remark" ? (wrongSuggestions(note.suggestions, anchorName(note.anchor)) ?? []) : [],
  );
  return (
    <footer className="flex h-12 flex-none items-center gap-4 border-t border-rule bg-page px-4 max-[700px]:h-auto max-[700px]:flex-wrap max-[700px]:gap-x-3 max-[700px]:gap-y-1 max-[700px]:py-1.5">
      <div
        role="progressbar"
        aria-label="Lines read"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(share)}
        className="h-2 w-44 flex-none overflow-hidden rounded-full bg-rule max-[1000px]:w-20 max-[700px]:hidden"
      >
        <div className="h-full bg-brass" style={{ width: `${share}%` }} />
      </div>
      <p className="flex-none max-[700px]:flex-auto" data-testid="progress">
        {files === undefined
          ? "Comparing …"
          : !complete
            ? `Comparing: ${inFigures(all - uncounted)} of ${counted(all, "file")} so far`
            : total === 0
              ? `Nothing here is to be read${besides}`
              : `${inFigures(read)} of ${counted(total, "line")} read, ${inFigures(finished)} of ${counted(open, "file")}`}
        {complete && changed > total && (
          <span className="text-soft">
            ; {inFigures(changed)} changed in all, {inFigures(changed - total)} quiet
          </span>
        )}
      </p>
      {/* Where there is little room, words have a line of their own. */}
      <p
        role="status"
        className={`min-w-0 flex-1 truncate text-brass max-[700px]:whitespace-normal ${notice ? "max-[700px]:basis-full" : ""}`}
      >
        {notice?.words}{" "}
        {notice?.undo && (
          <button type="button" className="quiet-button" onClick={notice.undo}>
            undo
          </button>
        )}
      </p>
      <button type="button" className="quiet-button flex-none" onClick={onKeys}>
        keys <Key>?</Key>
      </button>
      {goesOn(view) && (
        <>
          {view.picked.length > 0 && (
            <button type="button" className="button flex-none border-brass" onClick={onTake}>
              Take {counted(view.picked.length, "suggestion")} … <Key>P</Key>
            </button>
          )}
          {waiting.length > 0 && (
            <span className="flex-none font-semibold text-brass">
              {unsent > 0 && `${unsent} unsent`}
              {closing && (unsent > 0 ? " and a closing word" : "a closing word, unsent")}
            </span>
          )}
          {wrong.length > 0 && (
            <span className="flex-none text-clay" title={wrong.join(" ")}>
              ⚠ {counted(wrong.length, "remark")} cannot be sent yet
            </span>
          )}
          {view.me.remark.may && (
            <button type="button" className="button-main flex-none" onClick={onSend}>
              Send review… <span className="font-mono text-[11px] opacity-80">S</span>
            </button>
          )}
        </>
      )}
    </footer>
  );
}
