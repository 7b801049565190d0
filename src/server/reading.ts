import { sql } from "kysely";
import type { CountsLine, ReadingFile, ReadMarkRequest } from "@/core/api";
import { ENGINE } from "@/core/diff/compare";
import { type FileChange, isSubmodule } from "@/core/diff/tree";
import { done, type Outcome, refuse } from "@/core/outcome";
import type { ChangeSet } from "@/core/review/state";
import { changedFiles } from "@/git/repository";
import type { Database } from "@/store/database";
import type { Lens } from "./lens";
import type { Person } from "./people";

/** The two commits that a reading compares. */
export interface Points {
  from: string;
  to: string;
}

/** From "base" or "r1" and "r2" to commits. A reading from the base compares with the merge base of its own revision. */
export function pointsOf(change: ChangeSet, from: string, to: string): Outcome<Points> {
  const find = (name: string) => change.revisions.find(({ number }) => `r${number}` === name);
  const end = find(to);
  const start = from === "base" ? end?.base : find(from)?.head;
  if (!end || !start)
    return refuse(
      "missing",
      `There is nothing to compare from “${from}” to “${to}”: points are base, r1, r2 and so on.`,
    );
  return done({ from: start, to: end.head });
}

const lists = new Map<string, Promise<FileChange[]>>();
const MOST_LISTS = 40;

/** The files that differ between two commits. Commits never change, so the last few answers are kept. */
export function filesBetween(folder: string, { from, to }: Points): Promise<FileChange[]> {
  const key = `${folder}\0${from}\0${to}`;
  const kept = lists.get(key);
  if (kept) {
    lists.delete(key);
    lists.set(key, kept);
    return kept;
  }
  const made = changedFiles(folder, from, to);
  lists.set(key, made);
  made.catch(() => lists.delete(key));
  if (lists.size > MOST_LISTS) lists.delete(lists.keys().next().value as string);
  return made;
}

/** A reading as one person finds it: the files, what is counted of them already, and which of them this person has read. */
export async function readingFor(
  lens: Lens,
  person: Person,
  change: ChangeSet,
  files: FileChange[],
): Promise<ReadingFile[]> {
  const [counts, marks] = await Promise.all([
    keptCounts(lens.db, files),
    lens.db
      .selectFrom("read_marks")
      .selectAll()
      .where("change_set", "=", change.id)
      .where("person", "=", person.id)
      .execute(),
  ]);
  const markOf = new Map(marks.map((mark) => [mark.path, mark]));
  return files.map((file) => {
    const mark = markOf.get(file.path);
    const same = mark && mark.old_id === (file.oldId ?? "") && mark.new_id === (file.newId ?? "");
    return {
      ...file,
      counts: counts.get(pairKey(file)) ?? trivialCounts(file),
      read: !mark ? "unread" : same ? "read" : "changed",
    };
  });
}

/** Remembers, or forgets, that a person has read a file in the state that two blobs make. */
export async function markRead(lens: Lens, person: Person, change: ChangeSet, mark: ReadMarkRequest): Promise<void> {
  const key = { person: person.id, change_set: change.id, path: mark.path };
  if (!mark.read) {
    await lens.db
      .deleteFrom("read_marks")
      .where("person", "=", key.person)
      .where("change_set", "=", key.change_set)
      .where("path", "=", key.path)
      .execute();
    return;
  }
  const state = { old_id: mark.oldId ?? "", new_id: mark.newId ?? "", revision: mark.revision, at: lens.now() };
  await lens.db
    .insertInto("read_marks")
    .values({ ...key, ...state })
    .onConflict((conflict) => conflict.columns(["change_set", "person", "path"]).doUpdateSet(state))
    .execute();
}

/** One file to be read, as the JSON of a `FileView`: compared on a worker unless it was before. */
export async function fileView(
  lens: Lens,
  folder: string,
  oldId: string | null,
  newId: string | null,
): Promise<string> {
  const kept = await lens.db
    .selectFrom("comparisons")
    .select("result")
    .where("engine", "=", ENGINE)
    .where("old_id", "=", oldId ?? "")
    .where("new_id", "=", newId ?? "")
    .executeTakeFirst();
  const { view, made } = await lens.workers.compare({ folder, oldId, newId, kept: kept?.result ?? null });
  if (made) await keep(lens.db, [{ oldId, newId, ...made }]);
  return view;
}

const AT_ONCE = 48;

/**
 * The counts of all files: at once those that are known, then the others as they are compared, a few files at a time in reading order.
 * Whoever asks may have asked before some of them became known. Ends early, without harm, when `signal` says so.
 */
export async function* countAll(
  lens: Lens,
  folder: string,
  files: ReadingFile[],
  signal: AbortSignal,
): AsyncGenerator<CountsLine> {
  const known = files.flatMap(({ counts }, index) => (counts === null ? [] : [{ index, counts }]));
  if (known.length > 0) yield known;
  const left = files.flatMap((file, index) => (file.counts === null ? [{ file, index }] : []));
  const running: Promise<CountsLine>[] = [];
  let next = 0;
  const start = () => {
    const some = left.slice(next, next + AT_ONCE);
    next += some.length;
    if (some.length === 0) return;
    running.push(countSome(lens, folder, some, signal));
  };
  start();
  start();
  while (running.length > 0 && !signal.aborted) {
    const line = await running.shift()!;
    start();
    yield line;
  }
  await Promise.allSettled(running);
}

async function countSome(
  lens: Lens,
  folder: string,
  some: { file: ReadingFile; index: number }[],
  signal: AbortSignal,
): Promise<CountsLine> {
  const pairs = some.map(({ file }) => ({ oldId: file.oldId, newId: file.newId }));
  const results = await lens.workers.count({ folder, pairs }, signal);
  await keep(
    lens.db,
    results.map((result, i) => ({ ...result, ...pairs[i] })),
  );
  return results.map(({ added, removed }, i) => ({ index: some[i].index, counts: [added, removed] }));
}

interface Made {
  oldId: string | null;
  newId: string | null;
  added: number;
  removed: number;
  result: string;
}

async function keep(db: Database, made: Made[]): Promise<void> {
  const rows = made.map(({ oldId, newId, added, removed, result }) => ({
    engine: ENGINE,
    old_id: oldId ?? "",
    new_id: newId ?? "",
    added,
    removed,
    result,
  }));
  await db
    .insertInto("comparisons")
    .values(rows)
    .onConflict((conflict) => conflict.doNothing())
    .execute();
}

/** What is kept of many pairs at once: the pairs travel as one JSON value, so that there is no limit to how many. */
async function keptCounts(db: Database, files: FileChange[]): Promise<Map<string, [number, number]>> {
  const pairs = JSON.stringify(files.map(({ oldId, newId }) => [oldId ?? "", newId ?? ""]));
  const { rows } = await sql<{ old_id: string; new_id: string; added: number; removed: number }>`
    select c.old_id, c.new_id, c.added, c.removed
    from json_each(${pairs}) as pair
    cross join comparisons as c
    where c.old_id = pair.value ->> 0 and c.new_id = pair.value ->> 1 and c.engine = ${ENGINE}`.execute(db);
  return new Map(rows.map((row) => [`${row.old_id}:${row.new_id}`, [row.added, row.removed]]));
}

function pairKey(file: FileChange): string {
  return `${file.oldId ?? ""}:${file.newId ?? ""}`;
}

/** A pointer to another repository and a change of mode alone have no lines to count. */
function trivialCounts(file: FileChange): [number, number] | null {
  return isSubmodule(file) || file.oldId === file.newId ? [0, 0] : null;
}
