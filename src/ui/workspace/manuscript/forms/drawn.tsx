"use client";
import { type ComponentType, useMemo } from "react";
import type { FileView } from "@/core/diff/view";
import { type Form, LONGEST_DRAWN } from "@/core/reading/forms/form";
import { Data } from "./data";
import type { Drawable } from "./drawable";
import { Notebook } from "./notebook";
import { Prose } from "./prose";
import { Table } from "./table";
import { Untold } from "./untold";

const FORMS: Record<Form, ComponentType<Drawable>> = { prose: Prose, table: Table, data: Data, notebook: Notebook };

/** A file in another form than its lines. What it does not show is seen line by line, and only who has had the lines has read the file. */
export default function Drawn({
  form,
  path,
  view: { comparison },
  text,
  onGo,
}: Pick<Drawable, "path" | "onGo"> & {
  form: Form;
  view: FileView;
  text: { next: string[]; old: (line: number) => string };
}) {
  const old = useMemo(
    () => Array.from({ length: comparison.oldLines }, (_, line) => text.old(line)),
    [comparison, text],
  );
  const length = (lines: readonly string[]) => lines.reduce((sum, line) => sum + line.length + 1, 0);
  if (length(old) + length(text.next) > LONGEST_DRAWN[form])
    return <Untold words="It is too long for that: it can only be read line by line." />;
  const Shown = FORMS[form];
  return <Shown {...{ path, old, next: text.next, hunks: comparison.hunks, onGo }} />;
}
