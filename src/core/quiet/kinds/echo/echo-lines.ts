import type { ClassedFile, Side } from "../../classes";
import type { Lines } from "../../stretch/range";
import { groupsOf } from "../groups";
import { KnownLines, type Place } from "../known-lines";
import { type Echo, headLinesOf, sameHeads } from "./echo-stretch";

/** So few lines in a row are read where they stand. */
const LEAST_LINES = 3;

/**
 * Lines of stretches that are no echoes as a whole: two builds of one source, rewritten, differ by a line here and there. A line of one file is
 * an echo of a line of another that is changed on the same side and is to be read, where the three lines before both and behind both are
 * the same byte for byte, and the heads of what encloses them. So what differs is to be read with three lines on either side. Of each
 * line of the other file one is an echo at most, in the same order: what stands there twice, or elsewhere, is to be read.
 * `order` are the files that take part, those that are best read first; only those of one `kin` are compared.
 */
export function classEchoLines(
  files: readonly ClassedFile[],
  order: readonly number[],
  kinOf: (file: number) => string,
  echoes: Echo[],
): void {
  for (const kin of groupsOf(order, kinOf, kinOf)) {
    for (const side of ["old", "new"] as const) {
      const known = new KnownLines(files, kin, side);
      for (const at of kin) classLines(files, at, side, known, echoes);
    }
  }
}

function classLines(files: readonly ClassedFile[], at: number, side: Side, known: KnownLines, echoes: Echo[]): void {
  const file = files[at];
  /** How far each other file has been gone through. */
  const reached = new Map<number, number>();
  let run: { from: Place; start: number; end: number } | null = null;
  const close = () => {
    if (run && run.end - run.start >= LEAST_LINES) fold(file, side, run, echoes);
    run = null;
  };
  for (const { start, end } of file.hunks.map((hunk) => linesOf(hunk, side))) {
    for (let line = start; line < end; line++) {
      const other = known.like(at, line);
      const isEcho =
        other !== null &&
        other.file !== at &&
        other.line > (reached.get(other.file) ?? -1) &&
        sameHeads(
          files[other.file].lines(side),
          headLinesOf(files[other.file], side, other.line),
          file.lines(side),
          headLinesOf(file, side, line),
        );
      if (!isEcho) {
        close();
        continue;
      }
      reached.set(other.file, other.line);
      if (run && run.from.file === other.file && run.end === line && run.from.line + line - run.start === other.line)
        run.end++;
      else {
        close();
        run = { from: other, start: line, end: line + 1 };
      }
    }
  }
  close();
}

function linesOf(hunk: ClassedFile["hunks"][number], side: Side): Lines {
  return side === "old" ? { start: hunk.oldStart, end: hunk.oldEnd } : { start: hunk.newStart, end: hunk.newEnd };
}

function fold(
  file: ClassedFile,
  side: Side,
  { from, start, end }: { from: Place; start: number; end: number },
  echoes: Echo[],
): void {
  const ref = echoes.length;
  const here = { start: from.line, end: from.line + end - start };
  const none = { start: 0, end: 0 };
  const [old, next] = side === "old" ? [here, none] : [none, here];
  echoes.push({ file: from.file, old, next, times: 1, names: [] });
  for (let line = start; line < end; line++) file.set(side, line, "echo", ref);
}
