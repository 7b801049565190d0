import type { Hunk } from "../../diff/hunk";
import { enclosingScopes } from "../../diff/scopes";
import type { ClassedFile, ClassRun, Side } from "../classes";

/** A changed stretch that stands for all that are the same: it is to be read, the others are its echoes. */
export interface Echo {
  /** The file that it stands in, by its place among the files of the reading. */
  file: number;
  /** Its lines on both sides, 0-based, end exclusive: what changed, with unchanged lines in between where those are few. */
  old: Lines;
  next: Lines;
  /** How many echoes it has. */
  times: number;
}

interface Lines {
  start: number;
  end: number;
}

/** So many unchanged lines on both sides are what surrounds a stretch; hunks that stand nearer to each other are one stretch. */
const AROUND = 3;
/** So many lines of its surroundings have to say something: a few brackets are the same everywhere. */
const LEAST_SAYING = 3;
const SAYING = /[\p{L}\p{N}_]{2}/u;

interface Stretch {
  file: number;
  old: Lines;
  next: Lines;
  /** The heads of what encloses it, once somebody asked. */
  heads?: Record<Side, string>;
}

/**
 * Classes changed stretches that are the same as one that is to be read: in a file of the same name and language, the same lines before and
 * after, byte for byte, in the same surroundings (three unchanged lines on either side, or to the end of the file) and under the same heads
 * of all that encloses them. The first of them in reading order stands for all,
 * sources before what is made of them or tries them. Lines that are quiet where it stands are not proven here.
 * `skipped` says of a file that it takes no part: it is generated, say, so that nothing in it is read.
 */
export function classEchoes(files: readonly ClassedFile[], skipped: (file: number) => boolean): Echo[] {
  const echoes: Echo[] = [];
  const known = new Map<string, { stretch: Stretch; ref: number }[]>();
  for (const at of bestFirst(files)) {
    const file = files[at];
    // What is added is read where it comes in: that it comes in there is what it does.
    if (skipped(at) || file.old.length === 0 || file.copy) continue;
    for (const stretch of stretchesOf(at, file)) {
      if (!isSaying(file, stretch)) continue;
      const key = `${stemOf(file.path)}\0${fingerprint(file, stretch)}`;
      const alike = known.get(key) ?? [];
      known.set(key, alike);
      const head = alike.find((one) => isSame(files, one.stretch, stretch));
      if (!head) {
        alike.push({ stretch, ref: -1 });
        continue;
      }
      if (head.ref < 0) {
        head.ref = echoes.length;
        const { file: first, old, next } = head.stretch;
        echoes.push({ file: first, old, next, times: 0 });
      }
      if (fold(files, head.stretch, stretch, head.ref)) echoes[head.ref].times++;
    }
  }
  return echoes;
}

/** Folders of what is made of sources, or tries, shows or copies them: a change is read where it does most. */
const LESSER =
  /(?:^|\/)(?:__tests__|build|dist|docs?|examples?|fixtures?|generated|lib|mocks?|out|samples?|snapshots?|spec|testdata|tests?|third_party|vendor)\//i;

/** The files by their places, sources first; within each in reading order. */
function bestFirst(files: readonly ClassedFile[]): number[] {
  const all = files.map((_, at) => at);
  const lesser = (at: number) => LESSER.test(files[at].path);
  return [...all.filter((at) => !lesser(at)), ...all.filter(lesser)];
}

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

/** Folds what is to be read in the echo and in what it is an echo of; tells whether there was anything. */
function fold(files: readonly ClassedFile[], head: Stretch, echo: Stretch, ref: number): boolean {
  let some = false;
  for (const side of ["old", "new"] as const) {
    const [from, to] = side === "old" ? [head.old, echo.old] : [head.next, echo.next];
    for (let n = 0; n < to.end - to.start; n++) {
      if (!files[head.file].isOpen(side, from.start + n) || !files[echo.file].isOpen(side, to.start + n)) continue;
      files[echo.file].set(side, to.start + n, "echo", ref);
      some = true;
    }
  }
  return some;
}

/** Hunks as they are read: those with fewer unchanged lines between them than surround a stretch are one. */
function stretchesOf(file: number, { hunks }: ClassedFile): Stretch[] {
  const result: Stretch[] = [];
  let last: Hunk | null = null;
  for (const hunk of hunks) {
    const stretch = result.at(-1);
    if (stretch && last && hunk.newStart - last.newEnd < AROUND) {
      stretch.old.end = hunk.oldEnd;
      stretch.next.end = hunk.newEnd;
    } else {
      result.push({
        file,
        old: { start: hunk.oldStart, end: hunk.oldEnd },
        next: { start: hunk.newStart, end: hunk.newEnd },
      });
    }
    last = hunk;
  }
  return result;
}

/** A stretch with what surrounds it, on one side. */
function around({ start, end }: Lines, lines: readonly string[]): Lines {
  return { start: Math.max(0, start - AROUND), end: Math.min(lines.length, end + AROUND) };
}

/** Whether the surroundings tell one place from another. */
function isSaying(file: ClassedFile, { next }: Stretch): boolean {
  const { start, end } = around(next, file.next);
  let saying = 0;
  for (let line = start; line < end; line++) {
    if (line >= next.start && line < next.end) continue;
    if (SAYING.test(file.next[line])) saying++;
  }
  // A whole file that changed into another, or went, needs nothing around it.
  return saying >= LEAST_SAYING || (start === 0 && end === file.next.length);
}

/** Few stretches that differ have the same one; those that have it are compared line by line. */
function fingerprint(file: ClassedFile, { old, next }: Stretch): string {
  let hash = 2166136261;
  for (const [lines, { start, end }] of [
    [file.old, around(old, file.old)],
    [file.next, around(next, file.next)],
  ] as const) {
    for (let line = start; line < end; line++) {
      const text = lines[line];
      for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 16777619);
      hash = Math.imul(hash ^ 10, 16777619);
    }
  }
  return `${hash} ${old.end - old.start} ${next.end - next.start}`;
}

function isSame(files: readonly ClassedFile[], a: Stretch, b: Stretch): boolean {
  const [first, second] = [files[a.file], files[b.file]];
  if (first.language !== second.language || endingOf(first.path) !== endingOf(second.path)) return false;
  return (["old", "new"] as const).every((side) => {
    const [x, y] = side === "old" ? [a.old, b.old] : [a.next, b.next];
    return (
      sameLines(first.lines(side), x, second.lines(side), y) &&
      // The same change in another function is another change.
      headsOf(first, a)[side] === headsOf(second, b)[side]
    );
  });
}

function sameLines(one: readonly string[], a: Lines, other: readonly string[], b: Lines): boolean {
  const [x, y] = [around(a, one), around(b, other)];
  // As far from the beginning of what surrounds it, and from its end: where one ends with the file, so does the other.
  if (a.start - x.start !== b.start - y.start || x.end - a.end !== y.end - b.end) return false;
  if (x.end - x.start !== y.end - y.start) return false;
  for (let n = 0; n < x.end - x.start; n++) if (one[x.start + n] !== other[y.start + n]) return false;
  return true;
}

/** The heads of what encloses a stretch on either side, one a line, the outermost first. */
function headsOf(file: ClassedFile, stretch: Stretch): Record<Side, string> {
  const heads = (lines: readonly string[], at: number) =>
    lines.length === 0
      ? ""
      : enclosingScopes(lines, Math.min(at, lines.length - 1))
          .map(({ line }) => lines[line])
          .join("\n");
  stretch.heads ??= { old: heads(file.old, stretch.old.start), new: heads(file.next, stretch.next.start) };
  return stretch.heads;
}

/** What a file is called without folders and endings: two builds of one source share it. */
function stemOf(path: string): string {
  const name = path.slice(path.lastIndexOf("/") + 1);
  const dot = name.indexOf(".", 1);
  return dot < 0 ? name : name.slice(0, dot);
}

/** Script that is built for two kinds of modules has two endings and one meaning here; all else has to have the same. */
function endingOf(path: string): string {
  const name = path.slice(path.lastIndexOf("/") + 1);
  const dot = name.lastIndexOf(".");
  return dot <= 0 ? "" : name.slice(dot).replace(/^\.[cm]([jt]s)$/, ".$1");
}
