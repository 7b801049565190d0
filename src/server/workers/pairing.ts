import { type Candidate, findRenames } from "@/core/diff/renames";
import { isBinary, readText, type Text } from "@/core/diff/text";
import { type FileChange, isSubmodule, type PairedChange, SUBMODULE, unpaired } from "@/core/diff/tree";
import { LARGEST_BLOB, type ObjectReader } from "@/git/objects";

/** Adds the contents of changed files to those that are there; what is too large to be read is left out. */
export async function loadBlobs(
  objects: Pick<ObjectReader, "size" | "read">,
  changes: readonly FileChange[],
  blobs: Map<string, Buffer>,
): Promise<void> {
  const ids = new Set<string>();
  for (const { oldId, oldMode, newId, newMode } of changes) {
    if (oldId && oldMode !== SUBMODULE && !blobs.has(oldId)) ids.add(oldId);
    if (newId && newMode !== SUBMODULE && !blobs.has(newId)) ids.add(newId);
  }
  await Promise.all(
    [...ids].map(async (id) => {
      const size = await objects.size(id);
      if (size === null || size > LARGEST_BLOB) return;
      const blob = await objects.read(id);
      // The answer may be a part of a larger piece that was read; a copy of it lets that go.
      if (blob) blobs.set(id, Buffer.from(blob));
    }),
  );
}

/** Joins files that went and files that came where one was made from the other. */
export function pairChanges(changes: readonly FileChange[], blobs: ReadonlyMap<string, Buffer>): PairedChange[] {
  const candidate = (key: number, id: string | null): Candidate => {
    const blob = id ? blobs.get(id) : undefined;
    const lines = blob && !isBinary(blob) ? textOf(blob).lines : null;
    return { key, path: changes[key].path, id: id ?? "", lines };
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
    if (!origin) return [unpaired(change)];
    const { path: oldPath, rawPath: rawOldPath, oldId, oldMode } = changes[origin.from];
    return [{ ...change, oldPath, rawOldPath, oldId, oldMode, copy: origin.copy, similarity: origin.similarity }];
  });
}

/** The texts of contents that are in memory, read once each. */
const texts = new WeakMap<Uint8Array, Text>();

export function textOf(bytes: Uint8Array): Text {
  const known = texts.get(bytes);
  if (known) return known;
  const text = readText(bytes);
  texts.set(bytes, text);
  return text;
}
