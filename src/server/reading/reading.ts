import { setImmediate } from "node:timers/promises";
import { ENGINE } from "@/core/diff/compare";
import { type ContentKey, type FileChange, imageType } from "@/core/diff/tree";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { READING_ENGINE } from "@/core/quiet/kinds/kinds";
import { unpackReading } from "@/core/quiet/packed";
import type { Reading } from "@/core/quiet/whole-reading";
import { isLeft } from "@/core/reading/files";
import { type ChangeSet, lastVerdict, newest } from "@/core/review/state";
import type { CountsLine, Progress, ReadingFile, ReadingView } from "@/core/views/api";
import { outside } from "@/git/outside";
import { objectSize, readObject } from "@/git/repository";
import { keepResults, keptResult } from "@/store/kept-by-use";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { filesBetween } from "./files-between";
import { marksIn, marksKept } from "./read-marks";
import { noteShown } from "./shown";
import { carriedTo } from "./since";
import type { FoundStates, ReadStates } from "./states";
import { bareFile, briefly, ToldFiles } from "./told-files";
import { tryToKeep } from "./worked-out";

/** A reading that is being made, and what is known of it so far. */
interface Job {
  reading: Promise<Reading>;
  counted: CountsLine;
  listeners: Set<(line: CountsLine) => void>;
  told: ToldFiles | null;
}

/** The files of a job's reading, as they are told. */
function toldBy(job: Job, reading: Reading): ToldFiles {
  job.told ??= new ToldFiles(reading);
  return job.told;
}

const JOBS = shelf<Job>("jobs", 8);

/** The whole comparison of two commits: kept from before, being made, or begun now on a worker. */
async function jobFor(app: AppContext, folder: string, points: ReadStates): Promise<Job> {
  const key = `${folder}\0${points.from}\0${points.to}\0${points.settings}`;
  const jobs = JOBS(app);
  return jobs.get(key, async () => {
    const kept = await keptResult(app.db, app.now(), "readings", {
      engine: READING_ENGINE,
      from_commit: points.from,
      to_commit: points.to,
      settings_commit: points.settings,
    });
    const job: Job = { reading: Promise.resolve(null as never), counted: [], listeners: new Set(), told: null };
    job.reading = outside(() => (kept ? Promise.resolve(unpackReading(kept)) : readAnew(app, folder, points, job)));
    // Whoever waits for it hears of a failure; the next one tries again.
    job.reading.catch(() => jobs.forget(key));
    return job;
  });
}

async function readAnew(app: AppContext, folder: string, points: ReadStates, job: Job): Promise<Reading> {
  // One after the other, and others in between: put in line all at once, they would be before everybody else's questions to the database.
  let keeping = Promise.resolve();
  // Who opens a file meanwhile finds both processors busy. Where this fails, they hear of it then.
  app.workers.expect(folder).catch(() => undefined);
  const result = await app.workers.read(
    { folder, from: points.from, to: points.to, settings: points.settings },
    (files) => {
      keeping = keeping.then(() => setImmediate()).then(() => keepComparisons(app, files));
      const line: CountsLine = files.map(({ path, added, removed }) => ({ path, counts: [added, removed] }));
      job.counted.push(...line);
      for (const tell of job.listeners) tell(line);
    },
  );
  await keeping;
  const row = {
    engine: READING_ENGINE,
    from_commit: points.from,
    to_commit: points.to,
    settings_commit: points.settings,
    result,
  };
  await tryToKeep(app, "reading", keepResults(app.db, app.now(), "readings", [row]));
  return unpackReading(result);
}

/** The whole comparison of two commits, when it is done. */
export async function readingOf(app: AppContext, folder: string, points: ReadStates): Promise<Reading> {
  return (await jobFor(app, folder, points)).reading;
}

/** How long an answer may wait for the whole comparison before it goes out with what is known. */
const PATIENCE = 200;

/** What of a reading is wanted. */
interface Wanted {
  /** Wait until the whole is compared. */
  whole?: boolean;
  /** Of very many files without ids, see {@link briefly}. */
  brief?: boolean;
  /** Of one file alone. */
  path?: string;
  /** And of so many that follow it in the list. */
  next?: number;
}

/** A reading as one person finds it: whole when it can be had at once or when `whole` says to wait, else the bare list of files. */
export async function readingFor(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  name: Pick<ReadStates, "from" | "to">,
  points: ReadStates & Partial<FoundStates>,
  { whole = false, brief = false, path: only, next = 0 }: Wanted = {},
): Promise<ReadingView> {
  const job = await jobFor(app, folder, points);
  const reading = whole ? await job.reading : await Promise.race([job.reading, later(PATIENCE)]);
  await marksKept(app, person, change);
  const marks = await marksIn(app, change, { person, path: next > 0 ? undefined : only });
  const markOf = new Map(marks.map((mark) => [mark.path, mark]));
  const reviewed = lastVerdict(change, person.id);
  const same = await unchangedSince(app, folder, change, markedIn(marks, reviewed), name.to);
  const readOf = ({ path, oldId, newId }: FileChange): ReadingFile["read"] => {
    const mark = markOf.get(path);
    if (!mark) return "unread";
    // A review that came after the mark saw a later state of the file: what counts is whether it is still that one.
    if (reviewed > mark.revision) return name.from !== "read" && same(reviewed, path) ? "read" : "changed";
    if (mark.old_id === (oldId ?? "") && mark.new_id === (newId ?? "")) return "read";
    return name.from !== "read" && same(mark.revision, path) ? "read" : "changed";
  };
  const told = reading && toldBy(job, reading);
  const all = told?.all ?? (await filesBetween(app, folder, points)).map(bareFile);
  await noteShown(app, folder, all);
  const list = brief && only === undefined ? (told?.brief ?? briefly(all)) : all;
  const first = only === undefined ? 0 : list.findIndex(({ path }) => path === only);
  const end = only === undefined ? list.length : first < 0 ? 0 : first + 1 + next;
  const files = list.slice(Math.max(0, first), end).map((file, at) => {
    const read = readOf(all[first + at]);
    return read === file.read ? file : { ...file, read };
  });
  const { conflicts = [], leftOut = null, merged = 0 } = points;
  return {
    ...name,
    files: list === all ? files : withFirstIds(files, all),
    complete: reading !== null,
    conflicts,
    leftOut,
    merged,
  };
}

/** So many files have their ids told in any list: those that one sees first, each of which then opens with one question. */
const IN_SIGHT = 60;

/** A list without ids, with those of the first files that are left to read, from the same list with all. */
function withFirstIds(files: readonly ReadingFile[], all: readonly FileChange[]): ReadingFile[] {
  const whole = [...files];
  let told = 0;
  for (let at = 0; at < files.length && told < IN_SIGHT; at++) {
    if (!isLeft(files[at])) continue;
    const { oldId, newId } = all[at];
    whole[at] = { ...files[at], oldId, newId };
    told++;
  }
  return whole;
}

/** The revisions that marks speak of, and that of a review which may have come after them. */
function markedIn(marks: readonly { revision: number }[], reviewed: number): Set<number> {
  const revisions = new Set(marks.map(({ revision }) => revision));
  return reviewed > 0 ? revisions.add(reviewed) : revisions;
}

/** Tells of a file and an earlier revision whether the author's change to it is the same in the revision `to`, rebased or not. */
async function unchangedSince(
  app: AppContext,
  folder: string,
  change: ChangeSet,
  revisions: ReadonlySet<number>,
  to: string,
): Promise<(revision: number, path: string) => boolean> {
  const end = change.revisions.find(({ number }) => `r${number}` === to);
  const differ = new Map<number, Set<string>>();
  for (const number of revisions) {
    const start = change.revisions[number - 1];
    if (!end || !start) continue;
    const { id } = await carriedTo(app, folder, start, end);
    const files = await filesBetween(app, folder, { from: id, to: end.head });
    differ.set(number, new Set(files.map(({ path }) => path)));
  }
  return (revision, path) => differ.has(revision) && !differ.get(revision)!.has(path);
}

/** How far everyone who has marked a file read has come with the newest revision. */
export async function progressOf(
  app: AppContext,
  change: ChangeSet,
  folder: string,
): Promise<Record<string, Progress>> {
  const { head, base, target } = newest(change);
  const { files, toRead } = await readingOf(app, folder, { from: base, to: head, settings: target });
  const byPath = new Map(files.map((file) => [file.path, file]));
  const marks = await marksIn(app, change);
  const progress: Record<string, Progress> = {};
  const revisions = new Set(marks.map(({ person, revision }) => Math.max(revision, lastVerdict(change, person))));
  const same = await unchangedSince(app, folder, change, revisions, `r${newest(change).number}`);
  for (const { person, path, revision, old_id, new_id } of marks) {
    progress[person] ??= { read: 0, total: toRead };
    const file = byPath.get(path);
    const reviewed = lastVerdict(change, person);
    const exactly = file && reviewed <= revision && (file.oldId ?? "") === old_id && (file.newId ?? "") === new_id;
    if (file && (exactly || same(Math.max(revision, reviewed), path))) progress[person].read += file.toRead;
  }
  return progress;
}

function later(milliseconds: number): Promise<null> {
  return new Promise((resolve) => setTimeout(() => resolve(null), milliseconds).unref());
}

/** How the comparison goes on: at once what is counted, then the rest as it comes. Ends when the whole is done, or `signal` says so. */
export async function* followReading(
  app: AppContext,
  folder: string,
  points: ReadStates,
  signal: AbortSignal,
): AsyncGenerator<CountsLine> {
  const job = await jobFor(app, folder, points);
  const waiting: CountsLine[] = job.counted.length > 0 ? [[...job.counted]] : [];
  let wake: () => void = () => undefined;
  let over = false;
  const listen = (line: CountsLine) => {
    waiting.push(line);
    wake();
  };
  const end = () => {
    over = true;
    wake();
  };
  job.listeners.add(listen);
  signal.addEventListener("abort", end);
  void job.reading.finally(end).catch(() => undefined);
  try {
    while (!signal.aborted) {
      const line = waiting.shift();
      if (line) yield line;
      else if (over) break;
      else await new Promise<void>((resolve) => (wake = resolve));
    }
    if (!signal.aborted) await job.reading;
  } finally {
    job.listeners.delete(listen);
  }
}

const LARGEST_IMAGE = 30 * 1024 * 1024;

/** An image out of a repository, with its type as its bytes tell it. Anything else is refused, whatever it is called. */
export async function imageOf(folder: string, id: string): Promise<Outcome<{ bytes: Buffer; type: string }>> {
  const size = await objectSize(folder, id);
  if (size === null) return refuse("missing", "There is no such object.");
  if (size > LARGEST_IMAGE) return refuse("invalid", "This image is too large to be shown here.");
  const bytes = await readObject(folder, id);
  const type = imageType(bytes);
  return type ? done({ bytes, type }) : refuse("invalid", "That is not an image that can be shown.");
}

/** One file to be read, as the JSON of a `FileView`: compared on a worker unless it was before. */
export async function fileView(
  app: AppContext,
  folder: string,
  oldKey: ContentKey | null,
  newKey: ContentKey | null,
): Promise<string> {
  const of = { engine: ENGINE, old_id: oldKey ?? "", new_id: newKey ?? "" };
  const kept = await keptResult(app.db, app.now(), "comparisons", of);
  const { view, made } = await app.workers.compare({ folder, oldKey, newKey, kept });
  if (made) await keepComparisons(app, [{ oldKey, newKey, ...made }]);
  return view;
}

interface Made {
  oldKey: ContentKey | null;
  newKey: ContentKey | null;
  added: number;
  removed: number;
  result: string | null;
}

/** Keeps those of some comparisons that are worth it. */
async function keepComparisons(app: AppContext, made: Made[]): Promise<void> {
  const rows = made.flatMap(({ oldKey, newKey, added, removed, result }) => {
    const ids = { old_id: oldKey ?? "", new_id: newKey ?? "" };
    return result === null ? [] : { engine: ENGINE, ...ids, added, removed, result };
  });
  if (rows.length === 0) return;
  return tryToKeep(app, "comparisons", keepResults(app.db, app.now(), "comparisons", rows));
}
