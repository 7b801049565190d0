"use client";
import type { ReadingFile } from "@/core/api";
import { counted } from "@/core/words";
import { Key } from "../key";
import { useWorkspace } from "./context";

/** How much is left to read, what is unsent, and the way to finish. */
export function Footing({
  files,
  notice,
  onSend,
  onKeys,
}: {
  files: ReadingFile[] | undefined;
  notice: { words: string; undo?: () => void } | null;
  onSend: () => void;
  onKeys: () => void;
}) {
  const { view } = useWorkspace();
  const total = sum(files ?? []);
  const read = sum((files ?? []).filter((file) => file.read === "read"));
  const uncounted = (files ?? []).filter(({ counts }) => counts === null).length;
  const readFiles = (files ?? []).filter((file) => file.read === "read").length;
  const share = total > 0 ? (100 * read) / total : files && files.length > 0 ? (100 * readFiles) / files.length : 0;
  const unsent = view.unsent.filter(({ body }) => body.trim() !== "").length;
  return (
    <footer className="flex h-12 flex-none items-center gap-4 border-t border-rule bg-page px-4">
      <div
        role="progressbar"
        aria-label="Lines read"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(share)}
        className="h-2 w-44 flex-none overflow-hidden rounded-full bg-rule max-[1000px]:w-20"
      >
        <div className="h-full bg-brass" style={{ width: `${share}%` }} />
      </div>
      <p className="flex-none" data-testid="progress">
        {files === undefined
          ? "Comparing …"
          : uncounted > 0
            ? `${readFiles.toLocaleString("en")} of ${counted(files.length, "file")} read; counting lines, ${counted(uncounted, "file")} to go`
            : `${read.toLocaleString("en")} of ${counted(total, "line")} read, ${readFiles.toLocaleString("en")} of ${counted(files.length, "file")}`}
      </p>
      <p role="status" className="min-w-0 flex-1 truncate text-brass">
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
      {view.state === "open" && (
        <>
          {unsent > 0 && <span className="flex-none font-semibold text-brass">{unsent} unsent</span>}
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

function sum(files: ReadingFile[]): number {
  return files.reduce((lines, { counts }) => lines + (counts ? counts[0] + counts[1] : 0), 0);
}
