import { compareFiles } from "../../diff/compare";
import { range } from "../../plain/range";
import type { LineClass } from "../classes";
import { nearHunks } from "../kinds/near-hunks";
import type { FileReading } from "../whole-reading";

/** The old text with those hunks carried out of which every line is of some classes, as is every one of those so near that they may belong together: what would run if a reader took them for nothing. */
export function carriedOver(
  file: FileReading,
  { old, next }: { old: string; next: string },
  classes: ReadonlySet<LineClass>,
): string {
  const encoder = new TextEncoder();
  const { hunks: all } = compareFiles(encoder.encode(old), encoder.encode(next));
  const before = old.split("\n");
  const after = next.split("\n");
  const classOf = (side: "old" | "new", line: number) =>
    file.runs.find((run) => run.side === side && run.start <= line && line < run.end)!.class;
  for (const hunks of nearHunks(all).reverse()) {
    const isQuiet = hunks.every(
      ({ oldStart, oldEnd, newStart, newEnd }) =>
        range(oldStart, oldEnd).every((line) => classes.has(classOf("old", line))) &&
        range(newStart, newEnd).every((line) => classes.has(classOf("new", line))),
    );
    if (!isQuiet) continue;
    for (const { oldStart, oldEnd, newStart, newEnd } of hunks.toReversed())
      before.splice(oldStart, oldEnd - oldStart, ...after.slice(newStart, newEnd));
  }
  return before.join("\n");
}
