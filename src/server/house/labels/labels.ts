import { type HeldLabel, type Label, labelsByPath } from "@/core/house/labels/labels";
import { groupedBy } from "@/core/plain/grouped";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { listed } from "@/core/plain/words";
import { among } from "@/store/among";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import { audit, type Doer } from "../../access/audit";
import type { Person } from "../../access/person";
import { enter, repositoriesOf } from "../../access/repositories";
import type { AppContext } from "../../app/context";

/** So many a repository can have. */
const MOST = 100;
/** Of a change set so many paths are held against those of labels. */
const MOST_PATHS = 20_000;

/** The labels of a repository, by their names. */
export function labelsIn(db: Queries, repository: string): Promise<Label[]> {
  return madeOnce(db, `labels in ${repository}`, async () => {
    const of = db.selectFrom("labels").selectAll().where("repository", "=", repository);
    const rows = await of.orderBy("name").execute();
    return rows.map(({ name, flag, about, paths }) => ({ name, flag, about, paths: JSON.parse(paths) as string[] }));
  });
}

/** The labels of a repository that somebody may see. */
export async function labelsFor(app: AppContext, person: Person, repo: string): Promise<Outcome<Label[]>> {
  const entered = await enter(app, person, repo);
  return entered.ok ? done(await labelsIn(app.db, entered.value.repository.id)) : entered;
}

/** The names of all labels of the repositories that somebody may see. */
export async function labelsSeen(app: AppContext, person: Person): Promise<string[]> {
  const ids = (await repositoriesOf(app, person)).map(({ id }) => id);
  if (ids.length === 0) return [];
  const rows = await app.db
    .selectFrom("labels")
    .select("name")
    .distinct()
    .where("repository", "in", ids)
    .orderBy("name")
    .execute();
  return rows.map(({ name }) => name);
}

/** {@link setLabel} by a keeper; gives the labels that there are then. */
export async function keepLabel(
  app: AppContext,
  person: Person,
  doer: Doer,
  repo: string,
  label: Label,
): Promise<Outcome<Label[]>> {
  const entered = await enter(app, person, repo, "keeper");
  if (!entered.ok) return entered;
  const { repository } = entered.value;
  const set = await setLabel(app, doer, repository, label);
  return set.ok ? done(await labelsIn(app.db, repository.id)) : set;
}

/** {@link removeLabel} by a keeper; gives the labels that there are then. */
export async function dropLabel(
  app: AppContext,
  person: Person,
  doer: Doer,
  repo: string,
  name: string,
): Promise<Outcome<Label[]>> {
  const entered = await enter(app, person, repo, "keeper");
  if (!entered.ok) return entered;
  const { repository } = entered.value;
  await removeLabel(app, doer, repository, name);
  return done(await labelsIn(app.db, repository.id));
}

/** Adds a label, or says something else of the one of that name. Change sets that go on have it at once where they touch its paths. */
export async function setLabel(
  app: AppContext,
  doer: Doer,
  { id: repository, name: repo }: { id: string; name: string },
  label: Label,
): Promise<Outcome<null>> {
  const known = await labelsIn(app.db, repository);
  if (known.length >= MOST && !known.some(({ name }) => name === label.name))
    return refuse("conflict", `A repository has ${MOST} labels at most.`);
  const { name, flag, about } = label;
  const row = { repository, name, flag, about, paths: JSON.stringify(label.paths) };
  await app.db.transaction().execute(async (tx) => {
    await tx
      .insertInto("labels")
      .values(row)
      .onConflict((conflict) => conflict.columns(["repository", "name"]).doUpdateSet(row))
      .execute();
    await noteEverywhere(tx, repository, label);
    await audit(app, doer, "label-kept", { repository: repo, label: name }, tx);
  });
  return done(null);
}

/** Takes a label away. Who was given it keeps that in the log, and has it again should there be one of that name again. */
export async function removeLabel(
  app: AppContext,
  doer: Doer,
  { id: repository, name: repo }: { id: string; name: string },
  name: string,
): Promise<void> {
  await app.db.transaction().execute(async (tx) => {
    await tx.deleteFrom("labels").where("repository", "=", repository).where("name", "=", name).execute();
    await noteEverywhere(tx, repository, { name, paths: [] });
    await audit(app, doer, "label-dropped", { repository: repo, label: name }, tx);
  });
}

/** Says of all change sets of a repository whose paths are known whether they have a label by what they touch. */
async function noteEverywhere(tx: Queries, repository: string, label: Pick<Label, "name" | "paths">): Promise<void> {
  const own = tx.selectFrom("change_sets").select("id").where("repository", "=", repository);
  await tx
    .deleteFrom("change_labels")
    .where("label", "=", label.name)
    .where("by_path", "=", 1)
    .where("change_set", "in", own)
    .execute();
  if (label.paths.length === 0) return;
  const touched = await tx.selectFrom("change_paths").selectAll().where("change_set", "in", own).execute();
  const byChange = groupedBy(touched, ({ change_set }) => change_set);
  for (const [change, rows] of byChange) {
    const paths = rows.map(({ path }) => path);
    await note(tx, change, labelsByPath([label], paths));
  }
}

async function note(tx: Queries, change: string, names: readonly string[]): Promise<void> {
  if (names.length === 0) return;
  await tx
    .insertInto("change_labels")
    .values(names.map((label) => ({ change_set: change, label, by_path: 1 })))
    .onConflict((conflict) => conflict.doNothing())
    .execute();
}

/** Notes which labels a change set has by the paths that it touches, in place of what was noted before. */
export async function noteByPath(
  tx: Queries,
  change: { id: string; repository: string },
  paths: readonly string[],
): Promise<void> {
  const labels = await labelsIn(tx, change.repository);
  await tx.deleteFrom("change_labels").where("change_set", "=", change.id).where("by_path", "=", 1).execute();
  await note(tx, change.id, labelsByPath(labels, paths.slice(0, MOST_PATHS)));
}

/** The labels that some change sets have, by their ids, each once and by name; without those that their repository no longer has. */
export async function heldLabels(db: Queries, changes: readonly string[]): Promise<Map<string, HeldLabel[]>> {
  const held = new Map<string, HeldLabel[]>();
  if (changes.length === 0) return held;
  const rows = await db
    .selectFrom("change_labels")
    .innerJoin("change_sets", "change_sets.id", "change_labels.change_set")
    .innerJoin("labels", (join) =>
      join.onRef("labels.repository", "=", "change_sets.repository").onRef("labels.name", "=", "change_labels.label"),
    )
    .select(["change_labels.change_set", "labels.name", "labels.flag", "change_labels.by_path"])
    .where("change_labels.change_set", "in", among(changes))
    .orderBy("labels.name")
    .orderBy("change_labels.by_path")
    .execute();
  for (const { change_set, name, flag, by_path } of rows) {
    const of = held.get(change_set) ?? [];
    held.set(change_set, of);
    // Given by somebody says more than what it touches.
    if (of.at(-1)?.name !== name) of.push({ name, flag, byPath: by_path === 1 });
  }
  return held;
}

/** Refuses names of which a repository has no label. */
export async function unknownLabel(
  db: Queries,
  repository: string,
  names: readonly string[],
): Promise<Outcome<never> | null> {
  const known = new Set((await labelsIn(db, repository)).map(({ name }) => name));
  const missing = names.filter((name) => !known.has(name));
  return missing.length > 0
    ? refuse("missing", `There is no label ${listed(missing)} in this repository: its keepers name them.`)
    : null;
}
