import { type ChangeSet, newest } from "@/core/review/state";
import type { ReadMarkRequest } from "@/core/views/api";
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
    const state = { old_id: oldId ?? "", new_id: newId ?? "", revision: revision.number, at: app.now() };
    await app.db
      .insertInto("read_marks")
      .values({ ...key, ...state })
      .onConflict((conflict) => conflict.columns(["change_set", "person", "path"]).doUpdateSet(state))
      .execute();
  });
}

/** Remembers that a person has had a file of a revision before them to its end. */
export async function markLooked(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  { path, revision }: { path: string; revision: number },
): Promise<void> {
  if (!change.revisions[revision - 1]) return;
  const key = { change_set: change.id, person: person.id, path };
  await app.db
    .insertInto("looks")
    .values({ ...key, revision, at: app.now() })
    .onConflict((conflict) =>
      conflict
        .columns(["change_set", "person", "path"])
        .doUpdateSet({ revision, at: app.now() })
        .where("looks.revision", "<", revision),
    )
    .execute();
}
