import { isBinary, readText, writeText } from "@/core/diff/text";
import type { FileChange } from "@/core/diff/tree";
import { isSubmodule } from "@/core/diff/tree";
import { mergeLines } from "@/core/merge/merge";
import type { RevisionFacts } from "@/core/review/events";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import { LARGEST_BLOB } from "@/git/objects";
import { objectSize, readObject } from "@/git/repository";
import { type Entry, treeWith } from "@/git/write";
import { filesBetween } from "./files-between";
import type { Lens } from "./lens";
import type { Person } from "./people";

/** A state to compare with that need not be a commit, and the files in which it could not be made as it should be. */
export interface Carried {
  /** A commit or a tree. */
  id: string;
  /** Where the old change and what came from the target touch the same lines: these are compared as they were. */
  conflicts: string[];
}

/**
 * The author's change as it was in one revision, on the base of another: what `to` would be if only what came from the target had happened.
 * Compared with the head of `to` it shows what the author changed since, and nothing else.
 */
export function carriedTo(lens: Lens, folder: string, from: RevisionFacts, to: RevisionFacts): Promise<Carried> {
  if (from.base === to.base) return Promise.resolve({ id: from.head, conflicts: [] });
  const key = `${folder}\0${from.base}\0${from.head}\0${to.base}`;
  return lens.kept<Carried>("carried", 200).get(key, () => carry(lens, folder, from, to));
}

async function carry(lens: Lens, folder: string, from: RevisionFacts, to: RevisionFacts): Promise<Carried> {
  const [mine, theirs] = await Promise.all([
    filesBetween(lens, folder, { from: from.base, to: from.head }),
    filesBetween(lens, folder, { from: from.base, to: to.base }),
  ]);
  const came = new Map(theirs.map((file) => [file.path, file]));
  const entries = new Map<string, Entry>();
  const conflicts: string[] = [];
  for (const file of mine) {
    const other = came.get(file.path);
    if (other && other.newId === file.newId) continue;
    const merged = other ? await mergeFile(folder, file, other) : null;
    if (other && !merged) conflicts.push(file.path);
    if (merged) entries.set(file.path, { bytes: merged, mode: file.newMode });
    else entries.set(file.path, file.newId === null ? null : { id: file.newId, mode: file.newMode });
  }
  return { id: await treeWith(folder, to.base, entries), conflicts };
}

/** A file that both changed, with both changes in it; null where that cannot be. */
async function mergeFile(folder: string, mine: FileChange, theirs: FileChange): Promise<Uint8Array | null> {
  const ids = [mine.oldId, mine.newId, theirs.newId];
  if (isSubmodule(mine) || isSubmodule(theirs)) return null;
  const texts = [];
  for (const id of ids) {
    if (id === null || ((await objectSize(folder, id)) ?? LARGEST_BLOB) >= LARGEST_BLOB) return null;
    const bytes = await readObject(folder, id);
    if (isBinary(bytes)) return null;
    texts.push(readText(bytes));
  }
  const [base, ours, other] = texts;
  const lines = mergeLines(base.lines, ours.lines, other.lines);
  if (!lines) return null;
  const missingFinalNewline = lines.length > 0 && ours.missingFinalNewline;
  return writeText({ lines, encoding: ours.encoding, missingFinalNewline });
}

/** What someone has seen of a change set: the newest revision as it would be if nothing had come that is new to them. */
export interface Seen extends Carried {
  /** Files of the change set that hold nothing new to them. */
  files: number;
}

/**
 * File by file: as it was in the revision in which the person last read that file, or at the last revision that they reviewed; as it was
 * before the change set where they have seen nothing of it. What came from the target since is in it.
 */
export async function seenBy(lens: Lens, folder: string, person: Person, change: ChangeSet): Promise<Seen> {
  const current = newest(change);
  const marks = await marksOf(lens, person, change);
  const reviewed = Math.max(0, ...change.reviews.filter(({ by }) => by === person.id).map(({ revision }) => revision));
  const entries = new Map<string, Entry>();
  const conflicts = new Set<string>();
  const files = await filesBetween(lens, folder, { from: current.base, to: current.head });
  const now = new Map(files.map((file) => [file.path, file]));
  let known = 0;
  for (const number of new Set([...marks.values(), reviewed])) {
    const revision = change.revisions[number - 1];
    if (!revision) continue;
    const carried = await carriedTo(lens, folder, revision, current);
    const differ = await filesBetween(lens, folder, { from: carried.id, to: current.head });
    const since = new Map(differ.map((file) => [file.path, file]));
    const covers = (path: string) => (marks.get(path) ?? reviewed) === number;
    for (const path of new Set([...now.keys(), ...since.keys()])) {
      if (!covers(path)) continue;
      const file = since.get(path);
      if (file) entries.set(path, file.oldId === null ? null : { id: file.oldId, mode: file.oldMode });
      else {
        const { newId, newMode } = now.get(path)!;
        entries.set(path, newId === null ? null : { id: newId, mode: newMode });
        known++;
      }
      if (file && carried.conflicts.includes(path)) conflicts.add(path);
    }
  }
  // Every question about this reading comes here: the tree is written once for what it is made of.
  const made = `${folder}\0${current.base}\0${JSON.stringify([...entries])}`;
  const id = await lens.kept<string>("seen", 100).get(made, () => treeWith(folder, current.base, entries));
  return { id, conflicts: [...conflicts], files: known };
}

/** Of the files someone has read, the revision they last read each in. */
export async function marksOf(lens: Lens, person: Person, change: ChangeSet): Promise<Map<string, number>> {
  const rows = await lens.db
    .selectFrom("read_marks")
    .select(["path", "revision"])
    .where("change_set", "=", change.id)
    .where("person", "=", person.id)
    .execute();
  return new Map(rows.map(({ path, revision }) => [path, revision]));
}

/** Whether someone has read or reviewed an earlier revision: then what is new to them is where they begin. */
export async function comesBack(lens: Lens, person: Person, change: ChangeSet): Promise<boolean> {
  if (!goesOn(change) || person.id === change.author) return false;
  const current = newest(change).number;
  if (change.reviews.some(({ by, revision }) => by === person.id && revision < current)) return true;
  for (const revision of (await marksOf(lens, person, change)).values()) if (revision < current) return true;
  return false;
}
