import type { Reading } from "@/core/quiet/reading";
import { type ChangeSet, newest } from "@/core/review/state";
import type { AppContext } from "../app/context";

/** Of a change set of more paths than this, the first of them are known to lists. */
const MOST_PATHS = 20_000;

/** Keeps what lists know of the newest revision of a change set beyond its log: what comparing it found. */
export async function keepFacts(app: AppContext, change: ChangeSet, { files }: Reading): Promise<void> {
  const paths = new Set(files.flatMap(({ path, oldPath }) => (oldPath === null ? [path] : [path, oldPath])));
  const rows = [...paths].slice(0, MOST_PATHS).map((path) => ({ change_set: change.id, path }));
  const load = files.reduce((sum, { toRead }) => sum + toRead, 0);
  const row = { change_set: change.id, head: newest(change).head, load };
  await app.db.transaction().execute(async (tx) => {
    await tx.deleteFrom("change_paths").where("change_set", "=", change.id).execute();
    for (let at = 0; at < rows.length; at += 400)
      await tx
        .insertInto("change_paths")
        .values(rows.slice(at, at + 400))
        .execute();
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
    .where(
      "change_set",
      "in",
      changes.map(({ id }) => id),
    )
    .execute();
  const heads = new Map(changes.map((change) => [change.id, newest(change).head]));
  return new Map(
    rows.flatMap(({ change_set, head, load }) => (heads.get(change_set) === head ? [[change_set, load]] : [])),
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
