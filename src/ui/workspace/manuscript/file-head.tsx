"use client";
import { visible } from "@/core/cautions/visible";
import type { Comparison } from "@/core/diff/compare";
import { fileStatus, SYMLINK } from "@/core/diff/tree";
import { inFigures } from "@/core/plain/words";
import { isChanged } from "@/core/reading/files";
import type { ReadingFile } from "@/core/views/api";
import { Key } from "../../parts/key";

/** The name of the file, what is to know about it as a whole, and what one can do with it. */
export function FileHead(props: {
  file: ReadingFile;
  comparison: Comparison | undefined;
  wrap: boolean;
  /** Null where lines wrap in any case. */
  onWrap: (() => void) | null;
  columns: 1 | 2;
  /** Null where there is but one side. */
  onColumns: (() => void) | null;
  raw: boolean;
  onRaw: () => void;
  whole: boolean;
  onWhole: () => void;
  /** The other form in which it can be shown, by its name; whether it is; and the way to and fro, null for what has lines alone. */
  form: string | null;
  drawn: boolean;
  onDrawn: (() => void) | null;
  /** Begins a remark on the file as a whole; null where none can be made. */
  onRemark: (() => void) | null;
  onReadNext: () => void;
  onUnread: () => void;
}) {
  const { file, comparison } = props;
  const slash = file.path.lastIndexOf("/") + 1;
  return (
    <header className="flex min-h-10 flex-none flex-wrap items-center gap-x-3 border-b border-rule bg-paper px-4 max-[700px]:py-1">
      {/* Where there is no room beside it, what one can do stands below: of a name that is cut nobody knows which file they read. */}
      <div className="flex min-w-0 max-w-full flex-[1_1_auto] flex-wrap items-center gap-x-3 py-1">
        <h2 className="max-h-[4lh] min-w-0 overflow-y-auto break-all font-mono text-[13px] max-[700px]:w-full">
          <span className="text-soft">{visible(file.path.slice(0, slash))}</span>
          <span className="font-bold">{visible(file.path.slice(slash))}</span>
        </h2>
        {facts(file, comparison).map((fact) => (
          <span key={fact} className="min-w-0 break-all rounded border border-rule px-2 text-[12.5px] text-soft">
            {fact}
          </span>
        ))}
        {!isChanged(file) && (
          <span className="flex-none rounded border border-rule px-2 text-[12.5px] text-soft">not changed here</span>
        )}
        {file.counts && isChanged(file) && (
          <span className="flex-none font-mono text-[12px]">
            <span className="text-teal">+{inFigures(file.counts[0])}</span>{" "}
            <span className="text-clay">−{inFigures(file.counts[1])}</span>
          </span>
        )}
      </div>
      <div className="ml-auto flex flex-wrap items-center gap-x-3 gap-y-1">
        {props.onWrap && (
          <button type="button" className="quiet-button flex-none" aria-pressed={props.wrap} onClick={props.onWrap}>
            {props.wrap ? "long lines in one" : "wrap lines"} <Key>L</Key>
          </button>
        )}
        {comparison && !comparison.binary && props.onColumns && (
          <button type="button" className="quiet-button flex-none max-[700px]:hidden" onClick={props.onColumns}>
            {props.columns === 2 ? "one column" : "two columns"} <Key>K</Key>
          </button>
        )}
        {Object.keys(file.quiet).length > 0 && (
          <button type="button" className="quiet-button flex-none" aria-pressed={props.raw} onClick={props.onRaw}>
            {props.raw ? "fold the quiet" : "raw"} <Key>V</Key>
          </button>
        )}
        {comparison && !comparison.binary && file.newId && (
          <button type="button" className="quiet-button flex-none" aria-pressed={props.whole} onClick={props.onWhole}>
            {props.whole ? "only changes" : "whole file"} <Key>⇧O</Key>
          </button>
        )}
        {props.onDrawn && (
          <button type="button" className="quiet-button flex-none" aria-pressed={props.drawn} onClick={props.onDrawn}>
            {props.drawn ? "line by line" : props.form} <Key>-</Key>
          </button>
        )}
        {props.onRemark && (
          <button type="button" className="quiet-button flex-none max-[1250px]:hidden" onClick={props.onRemark}>
            remark <Key>⇧W</Key>
          </button>
        )}
        {!isChanged(file) ? null : file.read === "read" ? (
          <button type="button" className="quiet-button flex-none" onClick={props.onUnread}>
            ✓ read, mark unread <Key>U</Key>
          </button>
        ) : (
          <button type="button" className="button flex-none" onClick={props.onReadNext}>
            read and next <Key>M</Key>
          </button>
        )}
      </div>
    </header>
  );
}

function facts(file: ReadingFile, comparison: Comparison | undefined): string[] {
  const list: string[] = [];
  const status = fileStatus(file);
  if (file.oldPath !== null) list.push(`${file.copy ? "copied" : "renamed"} from ${visible(file.oldPath)}`);
  if (file.generated) list.push(file.generated);
  if (status === "added") list.push("new file");
  if (status === "deleted") list.push("deleted");
  if (file.oldMode !== file.newMode && file.oldMode !== 0 && file.newMode !== 0)
    list.push(`mode ${file.oldMode.toString(8)} → ${file.newMode.toString(8)}`);
  if (file.newMode === SYMLINK || file.oldMode === SYMLINK) list.push("symbolic link");
  if (comparison?.oldEncoding && comparison.newEncoding && comparison.oldEncoding !== comparison.newEncoding) {
    list.push(`${comparison.oldEncoding} → ${comparison.newEncoding}`);
  }
  if (comparison && file.oldId && file.newId && comparison.oldMissingNewline !== comparison.newMissingNewline) {
    list.push(comparison.newMissingNewline ? "final newline removed" : "final newline added");
  }
  if (file.read === "changed") list.push("changed since you read it");
  return list;
}
