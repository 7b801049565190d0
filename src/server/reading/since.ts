import { type FileChange, isSubmodule, type PairedChange, unpaired } from "@/core/diff/tree";
import type { RevisionFacts } from "@/core/review/shapes";
import { type ChangeSet, goesOn, lastVerdict, newest } from "@/core/review/state";
import { type TreeEntry, treeWith } from "@/git/write";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { filesBetween } from "./files-between";
import { looksIn, marksIn } from "./read-marks";

/** A state to compare with that need not be a commit, and the files in which it could not be made as it should be. */
export interface Carried {
  /** A commit or a tree. */
  id: string;
  /** Where the old change and what came from the target touch the same lines: there what came from the target stands. */
  conflicts: string[];
}

const CARRIED = shelf<Carried>("carried", 200);

/**
 * The author's change as it was in one revision, on the base of another: what `to` would be if only what came from the target had happened.
 * Compared with the head of `to` it shows what the author changed since, and nothing else.
 */
export function carriedTo(app: AppContext, folder: string, from: RevisionFacts, to: RevisionFacts): Promise<Carried> {
  if (from.base === to.base) return Promise.resolve({ id: from.head, conflicts: [] });
  const key = `${folder}\0${from.base}\0${from.head}\0${to.base}`;
  return CARRIED(app).get(key, () => carry(app, folder, from, to));
}

/** What became of one file, by the name it had before. */
type Fates = Map<string, PairedChange>;

async function carry(app: AppContext, folder: string, from: RevisionFacts, to: RevisionFacts): Promise<Carried> {
  const [mine, theirs] = await Promise.all([
    filesBetween(app, folder, { from: from.base, to: from.head }),
    filesBetween(app, folder, { from: from.base, to: to.base }),
  ]);
  const came = new Map(theirs.map((file) => [file.path, file]));
  const [ours, others] = await Promise.all([fatesOf(app, folder, mine), fatesOf(app, folder, theirs)]);
  const entries = new Map<string, TreeEntry>();
  const conflicts: string[] = [];
  for (const file of ours.changes) {
    const before = file.oldPath ?? file.path;
    // The same file on the target: under its own name, or under the one that it was given there.
    const other = others.byOldPath.get(before) ?? came.get(file.path);
    const place = file.oldPath === null && other && other.newId !== null ? other.path : file.path;
    if (file.oldPath !== null && !file.copy) entries.set(file.oldPath, null);
    if (other && other.newId === file.newId && place === file.path) continue;
    if (!other) {
      entries.set(file.path, file.newId === null ? null : { id: file.newId, mode: file.newMode });
      continue;
    }
    const carried = await carryFile(app, folder, file, other);
    if (!carried || carried.conflict) conflicts.push(place);
    // Where nothing can be carried, the file is compared with what the target has: all of what became of it shows.
    if (carried) entries.set(place, { bytes: carried.bytes, mode: file.newMode });
    else if (file.oldPath !== null) entries.delete(file.oldPath);
  }
  return { id: await treeWith(folder, to.base, entries), conflicts };
}

/** Changes with renamed files as one each, and found by the name a file had. */
async function fatesOf(
  app: AppContext,
  folder: string,
  files: readonly FileChange[],
): Promise<{ changes: PairedChange[]; byOldPath: Fates }> {
  const both = files.some(({ oldId }) => oldId === null) && files.some(({ newId }) => newId === null);
  const changes = both
    ? (await app.workers.pair({ folder, files })).map((file) =>
        file.copy ? { ...file, oldPath: null, copy: false, oldId: null, oldMode: 0 } : file,
      )
    : files.map(unpaired);
  return { changes, byOldPath: new Map(changes.map((file) => [file.oldPath ?? file.path, file])) };
}

/** A file that both changed, with both changes in it; null where that cannot be. */
async function carryFile(app: AppContext, folder: string, mine: FileChange, theirs: FileChange) {
  const [base, ours, other] = [mine.oldId, mine.newId, theirs.newId];
  if (isSubmodule(mine) || isSubmodule(theirs) || base === null || ours === null || other === null) return null;
  return app.workers.carry({ folder, base, ours, theirs: other });
}

/** The base of a revision with all that in it which the target has made alike since: merged or squashed before from the same branch. */
export interface Unmerged {
  id: string;
  /** In how many files something was left out. */
  files: number;
}

const UNMERGED = shelf<Unmerged>("unmerged", 200);

/**
 * What to compare a revision with as a whole: its base, and what of its change is in the target already. `now` is where the target stands; what it had when the
 * revision was recorded and has set back since would come in anew, so it is to be read.
 */
export function baseOf(
  app: AppContext,
  folder: string,
  { base, head, target }: RevisionFacts,
  now: string | null,
): Promise<Unmerged> {
  if (target === base) return Promise.resolve({ id: base, files: 0 });
  const others = [...new Set([target, now ?? target])];
  return UNMERGED(app).get([folder, base, head, ...others].join("\0"), async () => {
    const mine = await filesBetween(app, folder, { from: base, to: head });
    const came = await Promise.all(
      others.map(async (other) => {
        const files = await filesBetween(app, folder, { from: base, to: other });
        return new Map(files.map((file) => [file.path, file]));
      }),
    );
    const entries = new Map<string, TreeEntry>();
    for (const file of mine) {
      const theirs = came.flatMap((files) => files.get(file.path) ?? []);
      const entry = theirs.length === others.length ? await sharedEntry(app, folder, file, theirs) : undefined;
      if (entry !== undefined) entries.set(file.path, entry);
    }
    if (entries.size === 0) return { id: base, files: 0 };
    return { id: await treeWith(folder, base, entries), files: entries.size };
  });
}

/** A file with only those of its changes that all others have made alike; undefined where there are none. */
async function sharedEntry(
  app: AppContext,
  folder: string,
  mine: FileChange,
  theirs: readonly FileChange[],
): Promise<TreeEntry | undefined> {
  const { oldId, newId, oldMode, newMode } = mine;
  const differing = theirs.filter((other) => other.newId !== newId || other.newMode !== newMode);
  if (differing.length === 0) return newId === null ? null : { id: newId, mode: newMode };
  if ([mine, ...theirs].some(isSubmodule) || oldId === null || newId === null) return undefined;
  const others = differing.flatMap((other) => other.newId ?? []);
  if (others.length < differing.length) return undefined;
  const bytes = await app.workers.share({ folder, base: oldId, ours: newId, others });
  return bytes ? { bytes, mode: oldMode } : undefined;
}

/** What someone has seen of a change set: the newest revision as it would be if nothing had come that is new to them. */
export interface Seen extends Carried {
  /** Files of the change set that hold nothing new to them. */
  files: number;
}

const SEEN = shelf<string>("seen", 100);

/**
 * File by file: as it was in the revision in which the person last saw that file, see {@link seenIn}; as it was before the change set
 * where they have seen nothing of it. What came from the target since is in it.
 */
export async function seenBy(app: AppContext, folder: string, person: Person, change: ChangeSet): Promise<Seen> {
  const current = newest(change);
  const { of, revisions } = await seenIn(app, person, change);
  const entries = new Map<string, TreeEntry>();
  const conflicts = new Set<string>();
  const files = await filesBetween(app, folder, { from: current.base, to: current.head });
  const now = new Map(files.map((file) => [file.path, file]));
  let known = 0;
  for (const number of revisions) {
    const revision = change.revisions[number - 1];
    if (!revision) continue;
    const carried = await carriedTo(app, folder, revision, current);
    const differ = await filesBetween(app, folder, { from: carried.id, to: current.head });
    const since = new Map(differ.map((file) => [file.path, file]));
    for (const path of new Set([...now.keys(), ...since.keys()])) {
      if (of(path) !== number) continue;
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
  const id = await SEEN(app).get(made, () => treeWith(folder, current.base, entries));
  return { id, conflicts: [...conflicts], files: known };
}

/** The revision in which someone last saw each file, 0 for never; and all revisions that come up. */
export interface SeenIn {
  of: (path: string) => number;
  revisions: ReadonlySet<number>;
}

/**
 * A file was seen in the newest of: the revision in which it was marked read, that in which it was opened to its end, and that of the
 * person's last review with a verdict, which speaks of all files. A remark sent by itself says nothing of what else was seen.
 */
export async function seenIn(app: AppContext, person: Person, change: ChangeSet): Promise<SeenIn> {
  const reviewed = lastVerdict(change, person.id);
  const newestOf = new Map<string, number>();
  const [marks, looks] = await Promise.all([marksIn(app, change, { person }), looksIn(app, change, person)]);
  for (const { path, revision } of [...marks, ...looks])
    newestOf.set(path, Math.max(revision, newestOf.get(path) ?? 0));
  const of = (path: string) => Math.max(reviewed, newestOf.get(path) ?? 0);
  return { of, revisions: new Set([...newestOf.keys()].map(of).concat(reviewed)) };
}

/** Whether someone has seen something of an earlier revision: then what is new to them is where they begin. */
export async function comesBack(app: AppContext, person: Person, change: ChangeSet): Promise<boolean> {
  if (!goesOn(change) || person.id === change.author) return false;
  const current = newest(change).number;
  if (current === 1) return false;
  const { revisions } = await seenIn(app, person, change);
  return [...revisions].some((revision) => revision > 0 && revision < current);
}
