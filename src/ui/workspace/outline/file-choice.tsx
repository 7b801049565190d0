"use client";
import { memo, type ReactNode } from "react";
import { visible } from "@/core/cautions/visible";
import { isImagePath } from "@/core/diff/tree";
import { counted, inFigures } from "@/core/plain/words";
import { changedLines, needsReading } from "@/core/reading/files";
import type { ReadingFile } from "@/core/views/api";
import { Choice } from "./choice";
import { Cut } from "./cut";

/** A file of the outline: how far it is read, what happened to it, and how much of it there is to read. */
export const FileChoice = memo(function FileChoice({
  file,
  chosen,
  depth,
  onChoose,
}: {
  file: ReadingFile;
  chosen: boolean;
  /** How deep it lies in the tree, where its folders stand above it; null where it is listed by itself. */
  depth: number | null;
  /** Stays the same as long as the list does. */
  onChoose: (file: ReadingFile) => void;
}) {
  const slash = file.path.lastIndexOf("/") + 1;
  const folder = file.path.slice(0, slash);
  const state = stateOf(file);
  const happened = happenedTo(file);
  return (
    <Choice chosen={chosen} onClick={() => onChoose(file)} indent={depth ?? 0} title={sayFile(file)}>
      <ReadBar read={file.read} />
      <span className="sr-only">
        {happened ? `${happened.words}, ` : ""}
        {state}:
      </span>
      <span className={`min-w-0 flex-1 ${file.read === "read" ? "text-soft" : ""}`}>
        <InFolder folder={depth === null ? visible(folder) : ""}>
          <Cut name={visible(file.path.slice(slash))} />
        </InFolder>
      </span>
      {happened && (
        <span aria-hidden className="w-3 flex-none text-center font-mono text-[12px] text-soft">
          {happened.sign}
        </span>
      )}
      {file.cautions.length > 0 && (
        <span className="flex-none text-clay" title={file.cautions.map(({ says }) => visible(says)).join(" ")}>
          <span aria-hidden>⚠</span>
          <span className="sr-only">{counted(file.cautions.length, "caution")}</span>
        </span>
      )}
      {file.read === "changed" && <span className="flex-none text-[11.5px] text-brass">again</span>}
      <Amount file={file} />
    </Choice>
  );
});

/**
 * A name behind the beginning of its folder. Where there is no room for a few letters of that, there is none of it: half a letter would be taken for the first one of the
 * name. The two are wrapped then, the folder below the name and out of sight.
 */
function InFolder({ folder, children }: { folder: string; children: ReactNode }) {
  return (
    <span className="flex h-[1lh] flex-wrap-reverse content-end overflow-hidden">
      {folder !== "" && <span className="max-w-max flex-[1_1_4ch] truncate text-faint">{folder}</span>}
      <span className="flex max-w-full flex-none">{children}</span>
    </span>
  );
}

/** A file of the outline in words: its path, what happened to it, and what is left of it. */
export function sayFile(file: ReadingFile): string {
  const happened = happenedTo(file);
  return `${visible(file.path)}: ${happened ? `${happened.words}, ` : ""}${stateOf(file)}`;
}

/** A bar that is full where a file is read, and half full where it changed since. */
export function ReadBar({ read }: { read: ReadingFile["read"] }) {
  return (
    <span aria-hidden className="relative h-3.5 w-1 flex-none overflow-hidden rounded-sm bg-rule">
      <span
        className="absolute inset-x-0 bottom-0 bg-brass"
        style={{ height: read === "read" ? "100%" : read === "changed" ? "50%" : 0 }}
      />
    </span>
  );
}

function stateOf(file: ReadingFile): string {
  if (file.read === "read") return "read";
  if (file.read === "changed") return "changed since you read it";
  if (!needsReading(file)) return "quiet";
  return file.echoed ? `to read, for ${counted(file.echoed, "line")} elsewhere, too` : "to read";
}

/** What became of a file as a whole; null where it was only edited. */
export function happenedTo(file: ReadingFile): { sign: string; words: string } | null {
  const { oldId, newId, oldPath, copy, path } = file;
  if (oldPath !== null) {
    const name = (of: string) => of.slice(of.lastIndexOf("/") + 1);
    if (copy) return { sign: "⧉", words: `copied from ${visible(oldPath)}` };
    return { sign: "→", words: `${name(oldPath) === name(path) ? "moved" : "renamed"} from ${visible(oldPath)}` };
  }
  if (oldId === null) return { sign: "+", words: "added" };
  return newId === null ? { sign: "−", words: "removed" } : null;
}

/** How much of a file there is to read; for a quiet one why there is nothing. */
function Amount({ file }: { file: ReadingFile }) {
  if (file.toRead === null)
    return <span className="flex-none text-faint">{file.counts ? file.counts[0] + file.counts[1] : "…"}</span>;
  if (file.toRead > 0)
    return (
      <span className="flex-none text-[12.5px] font-semibold text-brass">
        {inFigures(file.toRead)}
        {file.echoed ? <span className="font-normal text-soft"> ={inFigures(file.echoed)}</span> : null}
      </span>
    );
  const look = needsReading(file) ? "font-semibold text-brass" : "text-soft";
  return <span className={`flex-none text-[11.5px] ${look}`}>{whyQuiet(file)}</span>;
}

function whyQuiet(file: ReadingFile): string {
  if (file.lock) return "lockfile";
  if (file.generated) return file.generated;
  const [most] = Object.entries(file.quiet).sort((a, b) => b[1] - a[1]);
  if (most) return most[0];
  if (file.oldPath !== null) return file.copy ? "copied" : "renamed";
  if (file.oldMode !== file.newMode && changedLines(file.counts) === 0 && !file.binary) return "mode";
  return isImagePath(file.path) ? "image" : file.binary ? "no text" : "empty";
}
