"use client";
import { isImagePath } from "@/core/diff/tree";
import type { FileView } from "@/core/diff/view";
import { inFigures } from "@/core/plain/words";
import type { ReadingFile } from "@/core/views/api";
import { reasonFrom } from "../../../asking/ask";
import { Images } from "./images";

/** What is shown of a file whose lines cannot be: images, sizes, where a pointer leads, or that it is still being compared. */
export function InsteadOfText(props: {
  file: ReadingFile;
  view: FileView | undefined;
  error: Error | null;
  empty: boolean;
  /** Asks for the text whatever the file holds. */
  onAsText: () => void;
  repository: string;
}) {
  const { file, view, error } = props;
  if (error) return <Note words={reasonFrom(error)} />;
  if (!view) return <Note words="Comparing …" />;
  const { comparison, untold } = view;
  if (comparison.binary && isImagePath(file.path))
    return <Images repository={props.repository} file={file} comparison={comparison} />;
  if (untold) {
    return (
      <div className="px-6 py-8 font-sans text-soft">
        <p>
          {untold} {comparison.nearlyText && "A NUL stands in it, and but for that it looks like text. "}
          {sizes(comparison.oldSize, comparison.newSize)}
        </p>
        {comparison.binary && comparison.oldSize + comparison.newSize < LARGEST && (
          <button type="button" className="button mt-3" onClick={props.onAsText}>
            Open it as text
          </button>
        )}
      </div>
    );
  }
  return props.empty ? <Note words="This file is empty." /> : null;
}

function Note({ words }: { words: string }) {
  return <p className="px-6 py-8 font-sans text-soft">{words}</p>;
}

/** What is opened as text, in bytes: more of a picture or an archive says nothing. */
const LARGEST = 2_000_000;

function sizes(old: number, next: number): string {
  const size = (bytes: number) =>
    bytes < 10_000 ? `${inFigures(bytes)} bytes` : `${inFigures(Math.round(bytes / 1000))} kB`;
  if (old === 0) return `It has ${size(next)}.`;
  if (next === 0) return `It had ${size(old)}.`;
  return `It went from ${size(old)} to ${size(next)}.`;
}
