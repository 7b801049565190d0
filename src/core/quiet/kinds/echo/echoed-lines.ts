import type { ClassRun } from "../../classes";
import type { Echo } from "./echo-stretch";

/** How many lines elsewhere are echoes of lines of each file, by its place: read there, they are read. */
export function echoedLines(runs: readonly (readonly ClassRun[])[], echoes: readonly Echo[]): Map<number, number> {
  const lines = new Map<number, number>();
  for (const run of runs.flat()) {
    if (run.class !== "echo") continue;
    const { file } = echoes[run.ref];
    lines.set(file, (lines.get(file) ?? 0) + run.end - run.start);
  }
  return lines;
}
