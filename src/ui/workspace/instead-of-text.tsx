"use client";
import type { ReadingFile } from "@/core/api";
import { isImagePath } from "@/core/diff/tree";
import type { FileView } from "@/core/diff/view";
import { reasonFrom } from "../ask";
import { Images } from "./images";

/** What is shown of a file whose lines cannot be: images, sizes, where a pointer leads, or that it is still being compared. */
export function InsteadOfText(props: {
  file: ReadingFile;
  view: FileView | undefined;
  error: Error | null;
  textless: boolean;
  empty: boolean;
  repository: string;
}) {
  const { file, view, error } = props;
  if (error) return <Note words={reasonFrom(error)} />;
  if (props.textless)
    return <Note words={`A pointer into another repository: from ${short(file.oldId)} to ${short(file.newId)}.`} />;
  if (!view) return <Note words="Comparing …" />;
  const { comparison, untold } = view;
  if (comparison.binary && isImagePath(file.path))
    return <Images repository={props.repository} file={file} comparison={comparison} />;
  if (untold) return <Note words={`${untold} ${sizes(comparison.oldSize, comparison.newSize)}`} />;
  return props.empty ? <Note words="This file is empty." /> : null;
}

function Note({ words }: { words: string }) {
  return <p className="px-6 py-8 font-sans text-soft">{words}</p>;
}

function short(id: string | null): string {
  return id ? id.slice(0, 10) : "nothing";
}

function sizes(old: number, next: number): string {
  const size = (bytes: number) =>
    bytes < 10_000 ? `${bytes.toLocaleString("en")} bytes` : `${Math.round(bytes / 1000).toLocaleString("en")} kB`;
  if (old === 0) return `It has ${size(next)}.`;
  if (next === 0) return `It had ${size(old)}.`;
  return `It went from ${size(old)} to ${size(next)}.`;
}
