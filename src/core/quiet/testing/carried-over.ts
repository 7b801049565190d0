import { compareFiles } from "../../diff/compare";
import type { LineClass } from "../classes";
import type { FileReading } from "../whole-reading";

/** The old text with those hunks carried out of which every line is of some classes: what would run if a reader took them for nothing. */
export function carriedOver(
  file: FileReading,
  { old, next }: { old: string; next: string },
  classes: ReadonlySet<LineClass>,
): string {
  const encoder = new TextEncoder();
  const { hunks } = compareFiles(encoder.encode(old), encoder.encode(next));
  const before = old.split("\n");
  const after = next.split("\n");
  const classOf = (side: "old" | "new", line: number) =>
    file.runs.find((run) => run.side === side && run.start <= line && line < run.end)!.class;
  for (const hunk of hunks.toReversed()) {
    let quiet = true;
    for (let i = hunk.oldStart; i < hunk.oldEnd; i++) quiet &&= classes.has(classOf("old", i));
    for (let j = hunk.newStart; j < hunk.newEnd; j++) quiet &&= classes.has(classOf("new", j));
    if (quiet) before.splice(hunk.oldStart, hunk.oldEnd - hunk.oldStart, ...after.slice(hunk.newStart, hunk.newEnd));
  }
  return before.join("\n");
}
