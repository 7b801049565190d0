"use client";
import { useCallback } from "react";
import type { Selection } from "@/core/reading/selection";
import type { ReadingFile } from "@/core/views/api";
import { useChangeSet, useTell } from "../state/context";

/** Beginning remarks on lines of a file, or on the file as a whole. */
export function useRemarking(file: ReadingFile, revision: number) {
  const { startNote } = useChangeSet();
  const tell = useTell();
  const onLines = useCallback(
    (lines: Selection | null) => {
      const blob = lines?.side === "old" ? file.oldId : file.newId;
      if (!lines || !blob) return tell("Go to a line to remark on it; O opens what is folded or hidden.");
      const part = lines.start === lines.end ? chosenPart(lines) : undefined;
      startNote({ kind: "lines", revision, blob, path: pathOn(file, lines.side), ...lines, ...(part ? { part } : {}) });
    },
    [file, revision, startNote, tell],
  );
  const onFile = () => {
    const side = file.newId ? "new" : "old";
    const blob = file.newId ?? file.oldId;
    if (blob) startNote({ kind: "file", revision, blob, path: pathOn(file, side), side });
  };
  return { onLines, onFile };
}

/** What a file is called on one side: before, it may have had another name. */
function pathOn({ path, oldPath }: ReadingFile, side: "old" | "new"): string {
  return side === "old" ? (oldPath ?? path) : path;
}

/** The part of a line that is marked with the mouse, in characters; undefined when it is none, or all, or elsewhere. */
function chosenPart({ side }: Selection): { from: number; to: number } | undefined {
  const chosen = window.getSelection();
  if (!chosen || chosen.isCollapsed || chosen.rangeCount === 0) return undefined;
  const range = chosen.getRangeAt(0);
  const code = (node: Node) => (node instanceof Element ? node : node.parentElement)?.closest(".row-cursor .code");
  const line = code(range.startContainer);
  if (!line || line !== code(range.endContainer) || (line.getAttribute("data-side") === "old") !== (side === "old"))
    return undefined;
  const before = range.cloneRange();
  before.selectNodeContents(line);
  before.setEnd(range.startContainer, range.startOffset);
  const from = before.toString().length;
  const length = range.toString().length;
  return length < (line.textContent ?? "").length ? { from, to: from + length } : undefined;
}
