import { type ChangeSet, newest, revisionRead } from "@/core/review/state";
import type { ReadMarkRequest } from "@/core/views/api";
import type { ReadMarksTable } from "@/store/tables/own";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { filesBetween } from "./files-between";

/** What one person marks in a change set is done in the order in which it came: the last word counts, whatever takes long. */
function inTurn<T>(app: AppContext, person: Person, change: ChangeSet, work: () => Promise<T>): Promise<T> {
  return app.inTurn(`marks ${person.id} ${change.id}`, work);
}

/** Once all that a person has marked until now is kept: a page that is loaded again right after that shows it. */
export function marksKept(app: AppContext, person: Person, change: ChangeSet): Promise<void> {
  return inTurn(app, person, change, async () => undefined);
}

/** Remembers, or forgets, that a person has read a file in the state that two blobs make. */
export function markRead(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  mark: ReadMarkRequest,
): Promise<void> {
  return inTurn(app, person, change, async () => {
    const key = { person: person.id, change_set: change.id, path: mark.path };
    if (!mark.read) {
      await app.db
        .deleteFrom("read_marks")
        .where("person", "=", key.person)
        .where("change_set", "=", key.change_set)
        .where("path", "=", key.path)
        .execute();
      return;
    }
    // Whichever two states were compared: what is remembered is the whole of the file's change in that revision.
    const revision = change.revisions[mark.revision - 1] ?? newest(change);
    const files = await filesBetween(app, folder, { from: revision.base, to: revision.head });
    const { oldId, newId } = files.find(({ path }) => path === mark.path) ?? mark;
    const { number, head, base } = revision;
    const state = { old_id: oldId ?? "", new_id: newId ?? "", revision: number, head, base, at: app.now() };
    await app.db
      .insertInto("read_marks")
      .values({ ...key, ...state })
      .onConflict((conflict) => conflict.columns(["change_set", "person", "path"]).doUpdateSet(state))
      .execute();
  });
}

/** Remembers that a person has had files of a revision before them to their ends. */
export async function markLooked(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  { paths, revision }: { paths: readonly string[]; revision: number },
): Promise<void> {
  if (!change.revisions[revision - 1] || paths.length === 0) return;
  const { head, base } = change.revisions[revision - 1];
  const look = { change_set: change.id, person: person.id, revision, head, base, at: app.now() };
  await app.db
    .insertInto("looks")
    .values([...new Set(paths)].map((path) => ({ ...look, path })))
    .onConflict((conflict) =>
      conflict
        .columns(["change_set", "person", "path"])
        .doUpdateSet({ revision, head, base, at: app.now() })
        .where("looks.revision", "<", revision),
    )
    .execute();
}

/** The marks of a change set, of everyone or of one person, of all files or of one, each with the number that what was read has by now: 0 where that is no revision here any more. */
export async function marksIn(
  app: AppContext,
  change: ChangeSet,
  { person, path }: { person?: Person; path?: string } = {},
): Promise<ReadMarksTable[]> {
  const marks = await app.db
    .selectFrom("read_marks")
    .selectAll()
    .where("change_set", "=", change.id)
    .$if(person !== undefined, (query) => query.where("person", "=", person!.id))
    .$if(path !== undefined, (query) => query.where("path", "=", path!))
    .execute();
  return marks.map((mark) => ({ ...mark, revision: numberNow(change, mark) }));
}

/** In which revision somebody has opened each file to its end, newest of all. */
export async function looksIn(
  app: AppContext,
  change: ChangeSet,
  person: Person,
): Promise<{ path: string; revision: number }[]> {
  const looks = await app.db
    .selectFrom("looks")
    .select(["path", "revision", "head", "base"])
    .where("change_set", "=", change.id)
    .where("person", "=", person.id)
    .execute();
  return looks.map((look) => ({ path: look.path, revision: numberNow(change, look) }));
}

function numberNow(
  change: ChangeSet,
  { revision, head, base }: { revision: number; head: string | null; base: string | null },
): number {
  return revisionRead(change, { revision, read: head !== null && base !== null ? { head, base } : null });
}
