import { isBinary, readText, type Text, writeText } from "@/core/diff/text";
import type { FileChange, PairedChange } from "@/core/diff/tree";
import { carryLines, sharedChanges } from "@/core/merge/carry";
import { LARGEST_BLOB, type ObjectReader } from "@/git/objects";
import { loadBlobs, pairChanges } from "./pairing";

/** What contents are read by. */
export type Objects = Pick<ObjectReader, "size" | "read">;

/** The contents of a file before both changes, and as either of two changed it. */
export interface CarryTask {
  base: string;
  ours: string;
  theirs: string;
}

/** A file with both changes in it; `conflict` where they meet, and what theirs made of it stands. */
export interface CarriedFile {
  bytes: Uint8Array;
  conflict: boolean;
}

/** Carries one change of a file onto the other; null where that cannot be. */
export async function carriedFile({ base, ours, theirs }: CarryTask, objects: Objects): Promise<CarriedFile | null> {
  const texts = await textsOf(objects, [base, ours, theirs]);
  if (!texts) return null;
  const [before, mine, other] = texts;
  const { lines, conflict } = carryLines(before.lines, mine.lines, other.lines);
  const missingFinalNewline = lines.length > 0 && mine.missingFinalNewline;
  const bytes = writeText({ lines: [...lines], encoding: mine.encoding, missingFinalNewline });
  return bytes && { bytes, conflict };
}

/** The contents of a file before a change, with the change, and as others have it. */
export interface ShareTask {
  base: string;
  ours: string;
  others: string[];
}

/** A file with only those changes that all others have made alike; null where there are none, or where that cannot be told. */
export async function sharedFile({ base, ours, others }: ShareTask, objects: Objects): Promise<Uint8Array | null> {
  const texts = await textsOf(objects, [base, ours, ...others]);
  if (!texts) return null;
  const [before, mine, ...rest] = texts;
  let shared: readonly string[] = mine.lines;
  for (const { lines } of rest) shared = sharedChanges(before.lines, shared, lines);
  if (shared === before.lines) return null;
  const { encoding, missingFinalNewline } = before;
  return writeText({ lines: [...shared], encoding, missingFinalNewline });
}

/** Changes with renamed files as one each. */
export async function pairedFiles(files: readonly FileChange[], objects: Objects): Promise<PairedChange[]> {
  const blobs = new Map<string, Buffer>();
  const ends = files.filter(({ oldId, newId }) => oldId === null || newId === null);
  await loadBlobs(objects, ends, blobs);
  return pairChanges(files, blobs);
}

/** The texts of some blobs; null when one of them is not there, no text, or too large. */
async function textsOf(objects: Objects, ids: readonly string[]): Promise<Text[] | null> {
  const texts: Text[] = [];
  for (const id of ids) {
    if (((await objects.size(id)) ?? LARGEST_BLOB) >= LARGEST_BLOB) return null;
    const bytes = await objects.read(id);
    if (!bytes || isBinary(bytes)) return null;
    texts.push(readText(bytes));
  }
  return texts;
}
