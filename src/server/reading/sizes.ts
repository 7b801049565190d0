import { type ChangeSet, newest } from "@/core/review/state";
import type { RevisionSize } from "@/core/views/api";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { readingOf } from "./reading";
import { carriedTo, seenBy } from "./since";

/** What the author changed in each revision: the first as compared with the base, each other with the one before. */
export async function sizesOf(app: AppContext, change: ChangeSet, folder: string): Promise<RevisionSize[]> {
  const sizes: RevisionSize[] = [];
  for (const [i, revision] of change.revisions.entries()) {
    const before = change.revisions[i - 1];
    const from = before ? (await carriedTo(app, folder, before, revision)).id : revision.base;
    const { files, toRead } = await readingOf(app, folder, { from, to: revision.head, settings: revision.target });
    const sum = (side: "added" | "removed") => files.reduce((total, file) => total + file[side], 0);
    sizes.push({ files: files.length, added: sum("added"), removed: sum("removed"), toRead });
  }
  return sizes;
}

/** How many lines of the newest revision are new to someone and to be read. */
export async function freshTo(app: AppContext, folder: string, person: Person, change: ChangeSet): Promise<number> {
  const { id } = await seenBy(app, folder, person, change);
  const { head, target } = newest(change);
  return (await readingOf(app, folder, { from: id, to: head, settings: target })).toRead;
}
