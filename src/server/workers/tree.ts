import { type Comparison, compareWithText } from "@/core/diff/compare";
import { type Candidate, findRenames } from "@/core/diff/renames";
import { isBinary, readText } from "@/core/diff/text";
import { contentKey, type FileChange, isSubmodule, type PairedChange, pointerText, SUBMODULE } from "@/core/diff/tree";
import { languageOf } from "@/core/grammar/languages";
import { readAttributes } from "@/core/quiet/kinds/generated";
import { makeReading, type ReadFile, type Reading } from "@/core/quiet/reading";
import { LARGEST_BLOB, type ObjectReader } from "@/git/objects";
import { changedFiles, filesNamed } from "@/git/repository";
import type { Aid } from "./aid";
import { ReadAhead } from "./grammars/ahead";
import { grammars } from "./grammars/grammars";

/** One changed file with all that is known of it. */
export interface LoadedFile extends ReadFile {
  oldBytes: Buffer | null;
  newBytes: Buffer | null;
}

export interface TreeComparison {
  reading: Reading;
  files: LoadedFile[];
}

export interface TreeOptions {
  /** Told of each comparison as soon as it is there; `json` where it is at hand. */
  made?: (change: PairedChange, comparison: Comparison, json?: string) => void;
  /** The commit or tree whose attributes say what is generated: the target's. The older of the two when it is not given, never the newer. */
  settings?: string;
  /** Asked before each share of the work; null while nobody is there to help. */
  aid?: () => Aid | null;
}

/** Compares two commits or trees whole: pairs renamed and copied files, compares each, and makes the reading of all. */
export async function compareTrees(
  folder: string,
  objects: ObjectReader,
  from: string,
  to: string,
  options: TreeOptions = {},
): Promise<TreeComparison> {
  const [changes, attributes] = await Promise.all([
    changedFiles(folder, from, to),
    generatedAttribute(folder, objects, options.settings ?? from),
  ]);
  const blobs = new Map<string, Buffer>();
  const compare = (some: readonly PairedChange[]) => compareAll(objects, some, blobs, attributes, options);
  // Files that are on both sides cannot turn out to be renamed: they are compared as soon as they are read, so that the first is
  // known long before the last. The others wait for each other.
  const staying = changes.filter(({ oldId, newId }) => oldId !== null && newId !== null);
  const stayed = await compare(staying.map((change) => ({ ...change, oldPath: null, copy: false, similarity: null })));
  await loadBlobs(objects, changes, blobs);
  const paired = pairChanges(changes, blobs);
  const others = paired.filter(({ oldPath, oldId, newId }) => oldPath !== null || oldId === null || newId === null);
  const files = [...stayed, ...(await compare(others))];
  const parse = await grammars(files.flatMap((file) => languageIds(file)));
  const aid = options.aid?.();
  const ahead = aid ? new ReadAhead(parse, aid.read) : null;
  try {
    return { reading: makeReading(files, ahead?.parse ?? parse), files };
  } finally {
    ahead?.end();
  }
}

function languageIds({ change, old, next, comparison }: LoadedFile) {
  if (!comparison || comparison.hunks.length === 0) return [];
  const language = next.length > 0 ? languageOf(change.path, next) : languageOf(change.path, old);
  return language ? [language.id] : [];
}

/** How many files are read from git before they are compared. */
const AT_ONCE = 100;
/** How many shares of the work are given away ahead, so that whoever helps never waits. */
const AHEAD = 2;

/** Compares files share by share, from the front; whoever helps takes shares from the back until the two meet. */
async function compareAll(
  objects: ObjectReader,
  changes: readonly PairedChange[],
  blobs: Map<string, Buffer>,
  attributes: (path: string) => boolean | null,
  { made, aid }: TreeOptions,
): Promise<LoadedFile[]> {
  const shares: PairedChange[][] = [];
  for (let at = 0; at < changes.length; at += AT_ONCE) shares.push(changes.slice(at, at + AT_ONCE));
  const files: LoadedFile[][] = new Array(shares.length).fill([]);
  const given = new Map<number, Promise<string[]>>();
  let front = 0;
  let back = shares.length;
  let waiting = 0;
  let problem: unknown = null;
  const give = () => {
    for (let help = aid?.() ?? null; help && waiting < AHEAD && back - front > 1; ) {
      waiting++;
      const answer = help.compare(
        shares[--back].map(({ oldId, oldMode, newId, newMode }) => ({
          oldKey: contentKey(oldId, oldMode),
          newKey: contentKey(newId, newMode),
        })),
      );
      given.set(back, answer);
      answer.then(
        () => {
          waiting--;
          give();
        },
        (error) => {
          problem ??= error;
        },
      );
    }
  };
  while (front < back) {
    give();
    const at = front++;
    await loadBlobs(objects, shares[at], blobs);
    files[at] = shares[at].map((change) => {
      const file = compareOne(change, blobs, attributes(change.path));
      if (file.comparison) made?.(change, file.comparison);
      return file;
    });
    if (problem) throw problem;
  }
  for (const [at, answer] of given) {
    const results = await answer;
    await loadBlobs(objects, shares[at], blobs);
    files[at] = shares[at].map((change, i) => {
      const file = compareOne(change, blobs, attributes(change.path), JSON.parse(results[i]));
      if (file.comparison) made?.(change, file.comparison, results[i]);
      return file;
    });
  }
  return files.flat();
}

/** `known` is the comparison of the two, where it has been made already; null where they could not be compared. */
function compareOne(
  change: PairedChange,
  blobs: ReadonlyMap<string, Buffer>,
  attribute: boolean | null,
  known?: Comparison | null,
): LoadedFile {
  const contents = (id: string | null, mode: number) => {
    if (id === null) return null;
    return mode === SUBMODULE ? Buffer.from(pointerText(id)) : (blobs.get(id) ?? null);
  };
  const oldBytes = contents(change.oldId, change.oldMode);
  const newBytes = contents(change.newId, change.newMode);
  const whole = (change.oldId === null || oldBytes !== null) && (change.newId === null || newBytes !== null);
  if (!whole) return { change, comparison: null, old: [], next: [], attribute: null, oldBytes, newBytes };
  if (known) {
    const lines = (bytes: Buffer | null) => (bytes && !known.binary ? readText(bytes).lines : []);
    return { change, comparison: known, old: lines(oldBytes), next: lines(newBytes), attribute, oldBytes, newBytes };
  }
  const { comparison, left, right } = compareWithText(oldBytes, newBytes);
  return { change, comparison, old: left.lines, next: right.lines, attribute, oldBytes, newBytes };
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
