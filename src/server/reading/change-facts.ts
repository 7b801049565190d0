import type { Reading } from "@/core/quiet/whole-reading";
import { type ChangeSet, lastVerdict, newest } from "@/core/review/state";
import { among } from "@/store/among";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { noteByPath } from "../house/labels/labels";

/** Of a change set of more paths than this, the first of them are known to lists. */
const MOST_PATHS = 20_000;

/** Keeps what lists know of the newest revision of a change set beyond its log: what comparing it found. */
export async function keepFacts(app: AppContext, change: ChangeSet, { files }: Reading): Promise<void> {
  const states = new Map(files.map(({ path, toRead, oldId, newId }) => [path, { toRead, oldId, newId }]));
  for (const { oldPath } of files)
    if (oldPath !== null && !states.has(oldPath)) states.set(oldPath, { toRead: 0, oldId: null, newId: null });
  const paths = [...states.keys()];
  const rows = [...states].slice(0, MOST_PATHS).map(([path, { toRead, oldId, newId }]) => ({
    change_set: change.id,
    path,
    to_read: toRead,
    old_id: oldId ?? "",
    new_id: newId ?? "",
  }));
  const load = files.reduce((sum, { toRead }) => sum + toRead, 0);
  const row = { change_set: change.id, head: newest(change).head, load };
  await app.db.transaction().execute(async (tx) => {
    await tx.deleteFrom("change_paths").where("change_set", "=", change.id).execute();
    for (let at = 0; at < rows.length; at += 400)
      await tx
        .insertInto("change_paths")
        .values(rows.slice(at, at + 400))
        .execute();
    await noteByPath(tx, change, paths);
    await tx
      .insertInto("change_loads")
      .values(row)
      .onConflict((conflict) => conflict.column("change_set").doUpdateSet(row))
      .execute();
  });
}

/** How many lines there are to read in some change sets, where that is known of their newest revision. */
export async function loadsOf(app: AppContext, changes: readonly ChangeSet[]): Promise<Map<string, number>> {
  if (changes.length === 0) return new Map();
  const rows = await app.db
    .selectFrom("change_loads")
    .selectAll()
    .where("change_set", "in", among(changes.map(({ id }) => id)))
    .execute();
  const heads = new Map(changes.map((change) => [change.id, newest(change).head]));
  return new Map(
    rows.flatMap(({ change_set, head, load }) => (heads.get(change_set) === head ? [[change_set, load]] : [])),
  );
}

/**
 * How many of the lines to read in some change sets are new to somebody: not in a file that they marked read as it is, and none where they gave a
 * verdict on the newest revision. Only of those of which the lines to read are known, and that are not their own.
 */
export async function freshIn(
  app: AppContext,
  person: Person,
  changes: readonly ChangeSet[],
  loads: ReadonlyMap<string, number>,
): Promise<Map<string, number>> {
  const others = changes.filter(({ id, author }) => loads.has(id) && author !== person.id);
  if (others.length === 0) return new Map();
  const rows = await app.db
    .selectFrom("change_paths")
    .select(({ fn }) => ["change_set", fn.sum<number>("to_read").as("fresh")])
    .where("change_set", "in", among(others.map(({ id }) => id)))
    .where("to_read", ">", 0)
    .where(({ not, exists, selectFrom }) =>
      not(
        exists(
          selectFrom("read_marks")
            .select("read_marks.path")
            .where("read_marks.person", "=", person.id)
            .whereRef("read_marks.change_set", "=", "change_paths.change_set")
            .whereRef("read_marks.path", "=", "change_paths.path")
            .whereRef("read_marks.old_id", "=", "change_paths.old_id")
            .whereRef("read_marks.new_id", "=", "change_paths.new_id"),
        ),
      ),
    )
    .groupBy("change_set")
    .execute();
  const left = new Map(rows.map(({ change_set, fresh }) => [change_set, Number(fresh)]));
  return new Map(
    others.map((change) => {
      const isJudged = lastVerdict(change, person.id) === newest(change).number;
      return [change.id, isJudged ? 0 : Math.min(left.get(change.id) ?? 0, loads.get(change.id) ?? 0)];
    }),
  );
}

/** The next change sets that go on and of whose newest revision nothing is known to lists yet. */
export async function withoutFacts(app: AppContext, most: number): Promise<string[]> {
  const rows = await app.db
    .selectFrom("change_sets")
    .leftJoin("change_loads", (join) =>
      join.onRef("change_loads.change_set", "=", "change_sets.id").onRef("change_loads.head", "=", "change_sets.head"),
    )
    .select("change_sets.id")
    .where("change_sets.state", "in", ["open", "draft"])
    .where("change_loads.head", "is", null)
    .orderBy("change_sets.changed_at", "desc")
    .limit(most)
    .execute();
  return rows.map(({ id }) => id);
}
