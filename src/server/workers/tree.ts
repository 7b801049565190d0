import { setImmediate } from "node:timers/promises";
import { type Comparison, compareWithText } from "@/core/diff/compare";
import { type PairedChange, pointerText, SUBMODULE, unpaired } from "@/core/diff/tree";
import { languageOf } from "@/core/grammar/languages";
import { attributeOf, readAttributes } from "@/core/quiet/kinds/generated";
import { makeReading, type ReadFile } from "@/core/quiet/reading";
import { type Survey, surveyOf } from "@/core/quiet/survey";
import type { Reading } from "@/core/quiet/whole-reading";
import type { ObjectReader } from "@/git/objects";
import { Trees } from "@/git/trees";
import type { Aid, Surveyed } from "./aid";
import { ReadAhead } from "./grammars/ahead";
import { grammars } from "./grammars/grammars";
import { loadBlobs, pairChanges, textOf } from "./pairing";

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
  objects: ObjectReader,
  from: string,
  to: string,
  options: TreeOptions = {},
): Promise<TreeComparison> {
  const trees = new Trees(objects);
  const changes = await trees.changedFiles(from, to);
  const settings = await trees.filesNamed(options.settings ?? from, ".gitattributes", changes);
  const attributes = await generatedAttribute(objects, settings);
  const blobs = new Map<string, Buffer>();
  const compare = (some: readonly PairedChange[]) => compareAll(objects, some, blobs, attributes, options);
  // Files that are on both sides cannot turn out to be renamed: they are compared as soon as they are read, so that the first is
  // known long before the last. The others wait for each other.
  const staying = changes.filter(({ oldId, newId }) => oldId !== null && newId !== null);
  const stayed = await compare(staying.map(unpaired));
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

/** How many files are read from git before they are compared, at the most, and in how many shares at the least. */
const AT_ONCE = 40;
const LEAST_SHARES = 32;
/** So many are in the first share: they are shown before the others are there. */
const FIRST = 2;
/** More than this, in bytes, may take long to compare. */
const LONG = 2 * 1024 * 1024;
/** How many shares of the work are given away ahead, so that whoever helps never waits; never more than stay here, so that nobody waits at the end. */
const AHEAD = 10;
/** So long, in milliseconds, nobody is heard at the most, but for the time that one file takes. */
const DEAF = 5;
/** How many are asked of git at the same time, at either end: more would only come in the way of those that are needed first. */
const ASKED = 2;

/** Compares files share by share, from the front; whoever helps takes shares from the back until the two meet. */
async function compareAll(
  objects: ObjectReader,
  changes: readonly PairedChange[],
  blobs: Map<string, Buffer>,
  attributes: (path: string) => boolean | null,
  { made, aid }: TreeOptions,
): Promise<LoadedFile[]> {
  const shares: PairedChange[][] = [];
  const size = Math.min(AT_ONCE, Math.ceil(changes.length / LEAST_SHARES));
  const first = Math.min(FIRST, size);
  if (changes.length > 0) shares.push(changes.slice(0, first));
  for (let at = first; at < changes.length; at += size) shares.push(changes.slice(at, at + size));
  const files: LoadedFile[][] = new Array(shares.length).fill([]);
  const given = new Map<number, Promise<(Surveyed | null)[]>>();
  let front = 0;
  let back = shares.length;
  let waiting = 0;
  let coming = 0;
  let problem: unknown = null;
  let heard = 0;
  const give = () => {
    const help = aid?.() ?? null;
    while (help && coming < ASKED && waiting < Math.min(AHEAD, (back - front - 1) / 2)) {
      waiting++;
      coming++;
      const share = shares[--back];
      const answer = load(back).then(() => {
        coming--;
        give();
        return help.compare(share.map((change) => ({ path: change.path, bytes: bytesOf(change, blobs) })));
      });
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
  const loading: Promise<void>[] = [];
  const load = (at: number) => {
    loading[at] ??= loadBlobs(objects, shares[at], blobs);
    return loading[at];
  };
  while (front < back) {
    // What is done here next is asked of git before what is given away.
    for (let at = front; at < Math.min(back, front + ASKED); at++) load(at).catch(() => undefined);
    give();
    const at = front++;
    await load(at);
    if (at === 0) {
      // It may take long, and nothing is heard meanwhile: whoever helps has something to do by then.
      if (sizeOf(shares[at], blobs) > LONG) {
        give();
        await Promise.all([...given.keys()].map(load));
      }
      // What is small is compared before any other is heard of.
      else heard = performance.now();
    }
    const own: LoadedFile[] = [];
    for (const change of shares[at]) {
      // What was loaded before takes no turn of the loop, and without one no answer of who helps is heard.
      if (performance.now() - heard > DEAF) {
        await setImmediate();
        heard = performance.now();
        give();
      }
      const file = compareOne(change, blobs, attributeOf(change, attributes));
      if (file.comparison) made?.(change, file.comparison);
      own.push(file);
    }
    files[at] = own;
    if (problem) throw problem;
  }
  for (const [at, answer] of given) {
    const results = await answer;
    files[at] = shares[at].map((change, i) => {
      const { json, survey } = results[i] ?? {};
      const known = json && survey ? { comparison: JSON.parse(json), survey } : undefined;
      const file = compareOne(change, blobs, attributeOf(change, attributes), known);
      if (file.comparison) made?.(change, file.comparison, json);
      return file;
    });
  }
  return files.flat();
}

/** How many bytes both sides of some files have. */
function sizeOf(changes: readonly PairedChange[], blobs: ReadonlyMap<string, Buffer>): number {
  return changes.reduce((sum, change) => {
    const { old, next } = bytesOf(change, blobs) ?? {};
    return sum + (old?.length ?? 0) + (next?.length ?? 0);
  }, 0);
}

/** `known` is what another thread found out about the two. */
function compareOne(
  change: PairedChange,
  blobs: ReadonlyMap<string, Buffer>,
  attribute: boolean | null,
  known?: { comparison: Comparison; survey: Survey },
): LoadedFile {
  const bytes = bytesOf(change, blobs);
  if (!bytes) return { change, comparison: null, old: [], next: [], attribute: null, oldBytes: null, newBytes: null };
  const { old: oldBytes, next: newBytes } = bytes;
  if (known) {
    const { comparison, survey } = known;
    const lines = (bytes: Buffer | null) => (bytes && !comparison.binary ? textOf(bytes).lines : []);
    const [old, next] = [lines(oldBytes), lines(newBytes)];
    return { change, comparison, old, next, attribute, oldBytes, newBytes, survey };
  }
  const { comparison, left, right } = compareWithText(oldBytes, newBytes, false, textOf);
  const survey = surveyOf(change.path, left.lines, right.lines, comparison);
  return { change, comparison, old: left.lines, next: right.lines, attribute, oldBytes, newBytes, survey };
}

/** The contents of both sides; null where one is not at hand. */
function bytesOf(
  { oldId, oldMode, newId, newMode }: PairedChange,
  blobs: ReadonlyMap<string, Buffer>,
): { old: Buffer | null; next: Buffer | null } | null {
  const contents = (id: string | null, mode: number) => {
    if (id === null) return null;
    return mode === SUBMODULE ? Buffer.from(pointerText(id)) : blobs.get(id);
  };
  const [old, next] = [contents(oldId, oldMode), contents(newId, newMode)];
  return old === undefined || next === undefined ? null : { old, next };
}

async function generatedAttribute(
  objects: ObjectReader,
  found: readonly { path: string; id: string }[],
): Promise<(path: string) => boolean | null> {
  const read = found.map(async ({ path, id }) => ({
    folder: path.includes("/") ? path.slice(0, path.lastIndexOf("/")) : "",
    text: (await objects.read(id))?.toString("utf8") ?? "",
  }));
  return readAttributes(await Promise.all(read));
}
