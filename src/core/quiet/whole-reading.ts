import type { Caution } from "../cautions/caution";
import { fileStatus, type PairedChange } from "../diff/tree";
import type { AlikePlace } from "./alike";
import { type ClassCounts, type ClassRun, countClasses, readingLoad, sumCounts } from "./classes";
import type { Fact } from "./facts";
import type { Echo } from "./kinds/echo/echo-stretch";
import type { LockSummary } from "./kinds/lock/lockfile";
import type { Move } from "./kinds/moved";
import type { Replacement } from "./kinds/repeated";

/** What a reading says of one file, and cannot be told from the rest of what it says. */
export interface FileFindings extends PairedChange {
  binary: boolean;
  /** Why it is taken for generated; null when it is not. */
  generated: string | null;
  /** All its changed lines. */
  runs: ClassRun[];
  /** What happened to the file beside its lines, each as one line to read. */
  facts: Fact[];
  /** What the eye does not see in it. */
  cautions: Caution[];
  /** How a lockfile of a known kind changed; null for any other file. */
  lock: LockSummary | null;
}

/** One file of a reading, in reading order. */
export interface FileReading extends FileFindings {
  status: "added" | "deleted" | "changed" | "mode" | "renamed" | "copied";
  added: number;
  removed: number;
  /** Changed lines left to read, and facts about the file that are no lines of it. */
  toRead: number;
  counts: ClassCounts;
}

/** What `ref` in the runs of a class numbers, and what is alike. */
interface Groups {
  moves: Move[];
  replacements: Replacement[];
  echoes: Echo[];
  /** The same change at several places, each of which is to be read. */
  alike: AlikePlace[][];
}

/** A whole change as it was found. `file` in a group is a place in `files`. */
export interface Findings extends Groups {
  files: FileFindings[];
}

/** A whole change as it is to be read. */
export interface Reading extends Groups {
  files: FileReading[];
  counts: ClassCounts;
  /** Changed lines in all, and those left to read, with the facts about files among them. */
  changed: number;
  toRead: number;
}

/** Counts what was found: by the classes of a file's lines, and over all files. */
export function wholeReading({ files: found, ...groups }: Findings): Reading {
  const files = found.map(counted);
  const counts = sumCounts(files.map((file) => file.counts));
  const changed = Object.values(counts).reduce((sum, count) => sum + count, 0);
  const toRead = files.reduce((sum, file) => sum + file.toRead, 0);
  return { files, ...groups, counts, changed, toRead };
}

function counted(file: FileFindings): FileReading {
  const { oldPath, copy, runs, facts } = file;
  const counts = countClasses(runs);
  let added = 0;
  let removed = 0;
  for (const { side, start, end } of runs) {
    if (side === "new") added += end - start;
    else removed += end - start;
  }
  const status: FileReading["status"] = oldPath === null ? fileStatus(file) : copy ? "copied" : "renamed";
  return Object.assign(aboutFile(file), {
    runs,
    status,
    added,
    removed,
    toRead: readingLoad(counts) + facts.length,
    counts,
  });
}

/** What is found of a file beside its lines, each by its name: joined from parts, thousands of them take a hundred times as long. */
export function aboutFile(file: FileFindings): Omit<FileFindings, "runs"> {
  const { path, rawPath, oldPath, copy, similarity, oldId, newId, oldMode, newMode } = file;
  const { binary, generated, facts, cautions, lock } = file;
  return {
    path,
    rawPath,
    oldPath,
    copy,
    similarity,
    oldId,
    newId,
    oldMode,
    newMode,
    binary,
    generated,
    facts,
    cautions,
    lock,
  };
}
