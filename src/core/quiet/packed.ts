import { CLASSES, type ClassRun } from "./classes";
import { type FileFindings, type Findings, type Reading, wholeReading } from "./whole-reading";

/** Raise it when readings are packed otherwise: those kept from before are then made anew. */
export const PACKING = 2;

/** What most files do not have, and what is so of them then. */
const USUAL = {
  ...{ oldPath: null, copy: false, similarity: null, oldMode: 0o100644, newMode: 0o100644 },
  ...{ binary: false, generated: null, facts: [], cautions: [], lock: null },
} satisfies Partial<FileFindings>;
type Unusual = Partial<Pick<FileFindings, "rawPath" | keyof typeof USUAL>>;

/** A file: where it is, the ids of both sides, its runs as {@link packRuns} lays them out, and what is unusual of it. */
type PackedFile = [path: string, oldId: string | null, newId: string | null, runs: number[], unusual?: Unusual];
type Packed = Omit<Findings, "files"> & { files: PackedFile[] };

/** Numbers that a run takes. */
const WIDTH = 4;

/**
 * A reading as a text to be kept, a third of its JSON: what can be counted is left out, and lines are plain numbers.
 * @example unpackReading(packReading(reading)) // the same reading
 */
export function packReading({ files, moves, replacements, echoes, alike }: Reading): string {
  return JSON.stringify({ files: files.map(packFile), moves, replacements, echoes, alike } satisfies Packed);
}

/** The reading that was packed. Refuses nothing: the text is taken to come from {@link packReading}. */
export function unpackReading(text: string): Reading {
  const { files, ...groups }: Packed = JSON.parse(text);
  return wholeReading({ files: files.map(unpackFile), ...groups });
}

function packFile(file: FileFindings): PackedFile {
  const unusual: Unusual = file.rawPath === undefined ? {} : { rawPath: file.rawPath };
  for (const name of Object.keys(USUAL) as (keyof typeof USUAL)[])
    if (!isUsual(file[name], USUAL[name])) Object.assign(unusual, { [name]: file[name] });
  const { path, oldId, newId, runs } = file;
  const packed: PackedFile = [path, oldId, newId, packRuns(runs)];
  if (Object.keys(unusual).length > 0) packed.push(unusual);
  return packed;
}

function isUsual(value: unknown, usual: unknown): boolean {
  return value === usual || (Array.isArray(value) && value.length === 0 && Array.isArray(usual));
}

const NOTHING: Unusual = {};

/** Each by its name: joined from what is usual and what is not, thousands take ten times as long. */
function unpackFile([path, oldId, newId, runs, unusual = NOTHING]: PackedFile): FileFindings {
  return {
    path,
    rawPath: unusual.rawPath,
    oldPath: unusual.oldPath ?? USUAL.oldPath,
    copy: unusual.copy ?? USUAL.copy,
    similarity: unusual.similarity ?? USUAL.similarity,
    oldId,
    newId,
    oldMode: unusual.oldMode ?? USUAL.oldMode,
    newMode: unusual.newMode ?? USUAL.newMode,
    binary: unusual.binary ?? USUAL.binary,
    generated: unusual.generated ?? USUAL.generated,
    runs: unpackRuns(runs),
    facts: unusual.facts ?? [],
    cautions: unusual.cautions ?? [],
    lock: unusual.lock ?? USUAL.lock,
  };
}

/** Of each run: its class and side as one number, where it starts, how long it is, and its `ref`. */
function packRuns(runs: readonly ClassRun[]): number[] {
  return runs.flatMap(({ side, start, end, class: kind, ref }) => [
    2 * CLASSES.indexOf(kind) + (side === "new" ? 1 : 0),
    start,
    end - start,
    ref,
  ]);
}

function unpackRuns(numbers: readonly number[]): ClassRun[] {
  const runs: ClassRun[] = [];
  for (let at = 0; at < numbers.length; at += WIDTH) {
    const start = numbers[at + 1];
    runs.push({
      side: numbers[at] & 1 ? "new" : "old",
      start,
      end: start + numbers[at + 2],
      class: CLASSES[numbers[at] >> 1],
      ref: numbers[at + 3],
    });
  }
  return runs;
}
