/**
 * Runs on a worker thread: reads blobs itself, so that their bytes never cross threads, and gives back what was asked as text. What not every thread comes
 * to do is loaded when it is asked for first: together it takes as long as all the rest.
 */
import { type MessagePort, workerData } from "node:worker_threads";
import { withPlaces } from "@/core/checks/places";
import type { Report } from "@/core/checks/report";
import { type Comparison, compareFiles } from "@/core/diff/compare";
import { type LineHistory, traceLines } from "@/core/diff/history";
import { isBinary, joinLines, readText } from "@/core/diff/text";
import {
  type ContentKey,
  contentKey,
  type FileChange,
  type PairedChange,
  pointerText,
  readContentKey,
} from "@/core/diff/tree";
import type { FileView } from "@/core/diff/view";
import { done, type Outcome } from "@/core/plain/outcome";
import { packReading } from "@/core/quiet/packed";
import type { FoundPlace, SearchEnd } from "@/core/reading/finding/search";
import type { LeftAloneView } from "@/core/views/around-view";
import { LARGEST_BLOB, ObjectReader } from "@/git/objects";
import { Trees } from "@/git/trees";
import { type Followed, type FollowTask, followTracks } from "../following/follow-tracks";
import { aidThrough, helpThrough } from "./aid";
import { type CarriedFile, type CarryTask, carriedFile, pairedFiles, type ShareTask, sharedFile } from "./carrying";
import { type ConflictsTask, conflictsOf } from "./conflicts";
import { type LeftAloneTask, leftAlone } from "./left-alone";
import { giveWay, type ThreadKind } from "./low-priority";
import { type Mentions, type MentionsTask, mentionsOf, outlineOf } from "./mentions";
import type { SearchTask, TreeSearchTask } from "./searching";
import { compareTrees } from "./tree";
import type { Load } from "./whole-text";

if ((workerData as ThreadKind | null)?.givesWay) giveWay();

/** The contents of both sides of a file; null for a side that is not there. */
interface KeyPair {
  oldKey: ContentKey | null;
  newKey: ContentKey | null;
}

/** The folder of a repository. */
export interface InFolder {
  folder: string;
}

export interface CompareTask extends KeyPair {
  folder: string;
  /** A kept comparison of these two, as JSON. */
  kept: string | null;
}

export interface CompareResult {
  /** A `FileView` as JSON. */
  view: string;
  /** The comparison as JSON, when it was not kept before and is worth it. */
  made: { added: number; removed: number; result: string } | null;
}

export interface ReadTask {
  folder: string;
  from: string;
  to: string;
  /** The commit whose attributes say what is generated. */
  settings: string;
  /** Told of every file as it is compared. */
  progress: MessagePort;
  /** Leads to a thread that runs {@link help}, as soon as one is free. */
  helper: MessagePort;
}

export interface HelpTask {
  port: MessagePort;
}

/** Files as they are compared, a few at a time. */
export type ReadProgress = {
  path: string;
  oldKey: ContentKey | null;
  newKey: ContentKey | null;
  added: number;
  removed: number;
  /** The comparison as JSON; null where it is not worth keeping. */
  result: string | null;
}[];

export interface ColourTask {
  folder: string;
  id: string;
  path: string;
}

const readers = new Map<string, ObjectReader>();

function reader(folder: string): ObjectReader {
  let found = readers.get(folder);
  if (!found) {
    found = new ObjectReader(folder);
    readers.set(folder, found);
  }
  return found;
}

/** Null for no such side; a blob too large to compare is stood in for by its size. */
async function load(folder: string, key: ContentKey | null): Promise<Buffer | { size: number } | null> {
  if (key === null) return null;
  const content = readContentKey(key);
  if (!content) throw new Error("That names no contents.");
  const { kind, id } = content;
  if (kind === "pointer") return Buffer.from(pointerText(id));
  const size = await reader(folder).size(id);
  if (size === null) throw new Error("The repository has no such object.");
  if (size > LARGEST_BLOB) return { size };
  return reader(folder).read(id);
}

/** Whether either side is asked for as text, whatever it holds. */
function asText({ oldKey, newKey }: KeyPair): boolean {
  return [oldKey, newKey].some((key) => key !== null && readContentKey(key)?.kind === "text");
}

async function compareIds(folder: string, { oldKey, newKey }: KeyPair) {
  const [old, next] = await Promise.all([load(folder, oldKey), load(folder, newKey)]);
  if (Buffer.isBuffer(old ?? Buffer.alloc(0)) && Buffer.isBuffer(next ?? Buffer.alloc(0))) {
    return { old: old as Buffer | null, next: next as Buffer | null, tooLarge: null };
  }
  const size = (side: typeof old) => (side === null ? 0 : Buffer.isBuffer(side) ? side.length : side.size);
  const tooLarge: Comparison = { ...compareFiles(Buffer.from([0]), null), oldSize: size(old), newSize: size(next) };
  return { old: null, next: null, tooLarge };
}

export interface ReadyTask {
  /** Whether colours are asked of this thread. */
  colours?: boolean;
  /** A repository of which files are asked for next. */
  folder?: string;
}

/** Answers as soon as the thread has started, and has at hand what a reader asks for first. */
export async function ready({ colours = false, folder }: ReadyTask): Promise<null> {
  if (colours) await import("./colours");
  if (folder) {
    await reader(folder).size(NO_OBJECT);
    compareFiles(Buffer.from("a b\n"), Buffer.from("a c\n"));
  }
  return null;
}

/** An id that nothing has. */
const NO_OBJECT = "0".repeat(40);

/** Two sides of fewer bytes than this are compared again sooner than what was kept of them is found. */
const WORTH_KEEPING = 100_000;

/** The JSON to be kept of a comparison; null where it is made again as soon as it is found. */
function worthKeeping(comparison: Comparison, json?: string): string | null {
  const { oldSize, newSize } = comparison;
  return oldSize + newSize < WORTH_KEEPING ? null : (json ?? JSON.stringify(comparison));
}

/** One file, to be read: how it differs, and its text. */
export async function compare({ folder, kept, ...keys }: CompareTask): Promise<CompareResult> {
  const { old, next, tooLarge } = await compareIds(folder, keys);
  const comparison: Comparison = kept ? JSON.parse(kept) : (tooLarge ?? compareFiles(old, next, asText(keys)));
  const result = kept ? null : worthKeeping(comparison);
  const view: FileView = { comparison, text: "", removed: "", untold: null };
  if (tooLarge) view.untold = "This file is too large to be compared here.";
  else if (comparison.binary) view.untold = "This file is not text.";
  else {
    if (next) view.text = readText(next).lines.join("\n");
    if (old && comparison.removed > 0) {
      const { lines } = readText(old);
      view.removed = joinLines(
        comparison.hunks.flatMap((hunk) => lines.slice(hunk.oldStart, hunk.oldEnd)),
        true,
      );
    }
  }
  const made = result === null ? null : { added: comparison.added, removed: comparison.removed, result };
  return { view: JSON.stringify(view), made };
}

export interface TraceTask {
  folder: string;
  /** The states of one file, each step from the one before. */
  steps: KeyPair[];
}

/** Which steps touched which lines of a file. */
export async function trace({ folder, steps }: TraceTask): Promise<LineHistory> {
  const comparisons: Comparison[] = [];
  for (const step of steps) {
    const { old, next, tooLarge } = await compareIds(folder, step);
    comparisons.push(tooLarge ?? compareFiles(old, next));
  }
  return traceLines(comparisons[0]?.oldLines ?? 0, comparisons);
}

/** Follows the lines of threads through revisions. */
export function follow({ folder, ...task }: FollowTask & { folder: string }): Promise<Followed[]> {
  const objects = reader(folder);
  const trees = new Trees(objects);
  return followTracks({ objects, changes: ({ from, to }) => trees.changedFiles(from, to) }, task);
}

export interface ReportTask {
  bytes: Uint8Array;
  /** The files that it may speak of; null where they are not known. */
  paths: string[] | null;
}

/** Carries one change of a file onto another, see {@link carriedFile}. */
export function carry({ folder, ...task }: CarryTask & InFolder): Promise<CarriedFile | null> {
  return carriedFile(task, reader(folder));
}

/** See {@link sharedFile}. */
export function share({ folder, ...task }: ShareTask & InFolder): Promise<Uint8Array | null> {
  return sharedFile(task, reader(folder));
}

/** See {@link conflictsOf}. */
export function conflicts({ folder, ...task }: ConflictsTask & InFolder): ReturnType<typeof conflictsOf> {
  return conflictsOf(task, reader(folder));
}

/** See {@link pairedFiles}. */
export function pair({ folder, files }: { files: readonly FileChange[] } & InFolder): Promise<PairedChange[]> {
  return pairedFiles(files, reader(folder));
}

/** A report in one of the open formats: tens of megabytes are read here, and what they name is looked for here, and not where others wait. */
export async function report({ bytes, paths }: ReportTask): Promise<Outcome<Report>> {
  const { readReport } = await import("../checks/report-reader");
  const read = readReport(bytes);
  return read.ok && paths ? done(withPlaces(read.value, paths)) : read;
}

/** Where something stands in changed files, in their order, up to a number; `told` hears of places as they are found. */
export function search({ folder, told, ...task }: SearchTask & { told: MessagePort }): Promise<SearchEnd> {
  return telling<FoundPlace, SearchEnd>(told, async (tell) =>
    (await import("./searching")).searchFiles(task, bytesIn(folder), tell),
  );
}

/** Where something stands in all files of a commit. */
export function everywhere({ told, ...task }: TreeSearchTask & { told: MessagePort }): Promise<SearchEnd> {
  return telling<FoundPlace, SearchEnd>(told, async (tell) => (await import("./searching")).searchTree(task, tell));
}

/** So long do things wait for others, in milliseconds, so that a message has many of them. */
const TOGETHER = 50;

/** Does something that tells of things on its way: the first at once, then several together. The port is closed when all are told. */
async function telling<T, R>(port: MessagePort, work: (tell: (one: T) => void) => Promise<R>): Promise<R> {
  let some: T[] = [];
  let last = 0;
  const send = () => {
    if (some.length > 0) port.postMessage(some);
    some = [];
    last = performance.now();
  };
  try {
    const result = await work((one) => {
      some.push(one);
      if (performance.now() - last > TOGETHER) send();
    });
    send();
    return result;
  } finally {
    port.close();
  }
}

/** What names the contents of both sides of a file. */
function keysOf({ oldId, oldMode, newId, newMode }: FileChange): KeyPair {
  return { oldKey: contentKey(oldId, oldMode), newKey: contentKey(newId, newMode) };
}

const AT_ONCE = 100;

/** A whole change: gives the reading, packed. */
export async function read({ folder, from, to, settings, progress, helper }: ReadTask): Promise<string> {
  let some: ReadProgress = [];
  const tell = () => {
    if (some.length > 0) progress.postMessage(some);
    some = [];
  };
  const made = (change: FileChange, comparison: Comparison, json?: string) => {
    const { added, removed } = comparison;
    const { oldKey, newKey } = keysOf(change);
    some.push({ path: change.path, oldKey, newKey, added, removed, result: worthKeeping(comparison, json) });
    if (some.length >= AT_ONCE) tell();
  };
  const aid = aidThrough(helper);
  try {
    const { reading } = await compareTrees(reader(folder), from, to, { made, aid, settings });
    tell();
    return packReading(reading);
  } finally {
    progress.close();
    helper.close();
  }
}

/** Does a part of what another thread has to do, until that closes the port. */
export function help({ port }: HelpTask): Promise<void> {
  return helpThrough(port);
}

function bytesIn(folder: string): Load {
  return async (id) => {
    const blob = await load(folder, id);
    return Buffer.isBuffer(blob) ? blob : null;
  };
}

/** What a blob defines, as JSON. */
export async function definitions({ folder, id, path }: ColourTask): Promise<string> {
  return outlineOf(path, id, bytesIn(folder));
}

/** Where a name is defined and mentioned in some files. */
export function mentions({ folder, ...task }: MentionsTask): Promise<Mentions> {
  return mentionsOf(task, bytesIn(folder));
}

/** Uses of what a change makes another thing, in lines that it leaves alone. */
export function alone(task: LeftAloneTask): Promise<LeftAloneView> {
  return leftAlone(task, bytesIn(task.folder));
}

/** The colours of a blob, as the JSON of `ColouredLines`. */
export async function colour({ folder, id, path }: ColourTask): Promise<string> {
  const blob = await load(folder, id);
  if (!Buffer.isBuffer(blob) || isBinary(blob)) return "[]";
  const { colourLines } = await import("./colours");
  return JSON.stringify(await colourLines(path, readText(blob).lines));
}
