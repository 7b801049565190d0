import { type ClassCounts, ClassedFile, type ClassRun, countClasses, readingLoad } from "./classes";
import type { Comparison } from "./compare";
import { generatedBy } from "./generated";
import { classMoves, type Move } from "./moves";
import { readingOrder } from "./order";
import { classBlank, classImports, classWhitespace } from "./quiet";
import { classReplacements, type Replacement } from "./replacements";
import { type FileChange, fileStatus } from "./tree";

/** What the reading needs of one file: what happened to it, how its two states differ, and their lines. */
export interface ReadFile {
  change: PairedChange;
  /** Null for what has no text: a pointer into another repository. */
  comparison: Comparison | null;
  old: readonly string[];
  next: readonly string[];
  /** What the git attribute `lens-generated` says of it. */
  attribute: boolean | null;
}

/** A change of a file that may have had another path, or have been copied from one. */
export interface PairedChange extends FileChange {
  /** Where it was, when it was renamed or copied; else null. */
  oldPath: string | null;
  rawOldPath?: string;
  copy: boolean;
  /** 0 to 1; null when it was neither renamed nor copied. */
  similarity: number | null;
}

/** One file of a reading, in reading order. */
export interface FileReading {
  path: string;
  oldPath: string | null;
  copy: boolean;
  similarity: number | null;
  status: "added" | "deleted" | "changed" | "mode" | "renamed" | "copied";
  oldId: string | null;
  newId: string | null;
  oldMode: number;
  newMode: number;
  binary: boolean;
  /** Why it is taken for generated; null when it is not. */
  generated: string | null;
  added: number;
  removed: number;
  /** Changed lines left to read. */
  toRead: number;
  counts: ClassCounts;
  runs: ClassRun[];
}

/** A whole change as it is to be read. `moves` and `replacements` are what `ref` in the runs of those classes numbers. */
export interface Reading {
  files: FileReading[];
  /** `file` is a place in `files`. */
  moves: Move[];
  replacements: Replacement[];
  counts: ClassCounts;
  /** Changed lines in all, and those left to read. */
  changed: number;
  toRead: number;
}

/** Puts every changed line into exactly one class, and the files into the order in which they are best read. */
export function makeReading(files: readonly ReadFile[]): Reading {
  const texts = files.map(({ change, old, next }) => ({
    path: change.path,
    lines: change.newId === null ? old : next,
  }));
  const ordered = readingOrder(texts).map((i) => files[i]);
  const reasons = ordered.map((file) =>
    file.comparison && !file.comparison.binary ? generatedBy(file.change.path, file.next, file.attribute) : null,
  );
  const classed = ordered.map(
    ({ change, comparison, old, next }) => new ClassedFile(change.path, old, next, comparison?.hunks ?? []),
  );
  for (const [i, file] of classed.entries()) {
    if (reasons[i] !== null) classWhole(file);
    else {
      classWhitespace(file);
      classImports(file);
    }
  }
  const moves = classMoves(classed);
  const replacements = classReplacements(
    classed,
    ordered.map(({ comparison }) => comparison?.pairs ?? []),
  );
  for (const file of classed) classBlank(file);
  const read = ordered.map(({ change, comparison }, i): FileReading => {
    const runs = classed[i].runs();
    const counts = countClasses(runs);
    const { path, oldPath, copy, similarity, oldId, newId, oldMode, newMode } = change;
    return {
      ...{ path, oldPath, copy, similarity, oldId, newId, oldMode, newMode, counts, runs },
      status: oldPath === null ? fileStatus(change) : copy ? "copied" : "renamed",
      binary: comparison?.binary ?? false,
      generated: reasons[i],
      added: comparison?.added ?? 0,
      removed: comparison?.removed ?? 0,
      toRead: readingLoad(counts),
    };
  });
  const counts = countClasses(read.flatMap(({ runs }) => runs));
  const changed = Object.values(counts).reduce((sum, count) => sum + count, 0);
  return { files: read, moves, replacements, counts, changed, toRead: readingLoad(counts) };
}

function classWhole(file: ClassedFile): void {
  for (const hunk of file.hunks) {
    for (let i = hunk.oldStart; i < hunk.oldEnd; i++) file.set("old", i, "generated");
    for (let j = hunk.newStart; j < hunk.newEnd; j++) file.set("new", j, "generated");
  }
}
