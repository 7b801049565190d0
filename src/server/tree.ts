import { type Comparison, compareWithText } from "@/core/diff/compare";
import { readAttributes } from "@/core/diff/generated";
import { makeReading, type PairedChange, type ReadFile, type Reading } from "@/core/diff/reading";
import { type Candidate, findRenames } from "@/core/diff/renames";
import { isBinary, readText } from "@/core/diff/text";
import { type FileChange, isSubmodule } from "@/core/diff/tree";
import { LARGEST_BLOB, type ObjectReader } from "@/git/objects";
import { changedFiles, filesNamed } from "@/git/repository";

/** One changed file with all that is known of it. */
export interface LoadedFile extends ReadFile {
  oldBytes: Buffer | null;
  newBytes: Buffer | null;
}

export interface TreeComparison {
  reading: Reading;
  files: LoadedFile[];
}

/**
 * Compares two commits or trees whole: pairs renamed and copied files, compares each, and makes the reading of all. `made` is told of each
 * comparison as soon as it is there.
 */
export async function compareTrees(
  folder: string,
  objects: ObjectReader,
  from: string,
  to: string,
  made?: (change: PairedChange, comparison: Comparison) => void,
): Promise<TreeComparison> {
  const [changes, attributes] = await Promise.all([
    changedFiles(folder, from, to),
    generatedAttribute(folder, objects, to),
  ]);
  const blobs = await loadBlobs(objects, changes);
  const pairs = pairChanges(changes, blobs);
  const files = pairs.map((change): LoadedFile => {
    const textless = isSubmodule(change);
    const oldBytes = change.oldId && !textless ? (blobs.get(change.oldId) ?? null) : null;
    const newBytes = change.newId && !textless ? (blobs.get(change.newId) ?? null) : null;
    const whole = (change.oldId === null || oldBytes !== null) && (change.newId === null || newBytes !== null);
    if (!whole || textless) return { change, comparison: null, old: [], next: [], attribute: null, oldBytes, newBytes };
    const { comparison, left, right } = compareWithText(oldBytes, newBytes);
    made?.(change, comparison);
    return {
      change,
      comparison,
      old: left.lines,
      next: right.lines,
      attribute: attributes(change.path),
      oldBytes,
      newBytes,
    };
  });
  return { reading: makeReading(files), files };
}

async function generatedAttribute(
  folder: string,
  objects: ObjectReader,
  tree: string,
): Promise<(path: string) => boolean | null> {
  const found = await filesNamed(folder, tree, ".gitattributes");
  const read = found.map(async ({ path, id }) => ({
    folder: path.includes("/") ? path.slice(0, path.lastIndexOf("/")) : "",
    text: (await objects.read(id))?.toString("utf8") ?? "",
  }));
  return readAttributes(await Promise.all(read));
}

/** The contents of all changed files; what is too large to be read is left out. */
async function loadBlobs(objects: ObjectReader, changes: readonly FileChange[]): Promise<Map<string, Buffer>> {
  const ids = new Set<string>();
  for (const change of changes) {
    if (isSubmodule(change)) continue;
    if (change.oldId) ids.add(change.oldId);
    if (change.newId) ids.add(change.newId);
  }
  const blobs = new Map<string, Buffer>();
  await Promise.all(
    [...ids].map(async (id) => {
      const size = await objects.size(id);
      if (size === null || size > LARGEST_BLOB) return;
      const blob = await objects.read(id);
      // The answer may be a part of a larger piece that was read; a copy of it lets that go.
      if (blob) blobs.set(id, Buffer.from(blob));
    }),
  );
  return blobs;
}

/** Joins files that went and files that came where one was made from the other. */
function pairChanges(changes: readonly FileChange[], blobs: ReadonlyMap<string, Buffer>): PairedChange[] {
  const candidate = (key: number, id: string | null): Candidate => {
    const blob = id ? blobs.get(id) : undefined;
    return { key, path: changes[key].path, id: id ?? "", lines: blob && !isBinary(blob) ? readText(blob).lines : null };
  };
  const keys = changes.map((_, key) => key).filter((key) => !isSubmodule(changes[key]));
  const came = keys.filter((key) => changes[key].oldId === null).map((key) => candidate(key, changes[key].newId));
  const gone =
    came.length === 0
      ? []
      : keys.filter((key) => changes[key].newId === null).map((key) => candidate(key, changes[key].oldId));
  const kept =
    came.length === 0
      ? []
      : keys
          .filter((key) => changes[key].oldId !== null && changes[key].newId !== null)
          .map((key) => candidate(key, changes[key].oldId));
  const origins = new Map(findRenames(gone, kept, came).map((rename) => [rename.to, rename]));
  const renamed = new Set([...origins.values()].filter(({ copy }) => !copy).map(({ from }) => from));
  return changes.flatMap((change, key): PairedChange[] => {
    if (renamed.has(key)) return [];
    const origin = origins.get(key);
    if (!origin) return [{ ...change, oldPath: null, copy: false, similarity: null }];
    const { path: oldPath, rawPath: rawOldPath, oldId, oldMode } = changes[origin.from];
    return [{ ...change, oldPath, rawOldPath, oldId, oldMode, copy: origin.copy, similarity: origin.similarity }];
  });
}
