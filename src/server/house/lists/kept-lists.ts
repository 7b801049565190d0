import { readQuery } from "@/core/house/lists/query";
import { EXAMPLES } from "@/core/house/lists/words";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { KeptList } from "@/core/views/desk-view";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import type { Person } from "../../access/person";
import { enter, repositoriesOf } from "../../access/repositories";
import type { AppContext } from "../../app/context";
import { countChanges } from "./find";

const MOST_LISTS = 40;

/** A list without its count. */
type Row = Omit<KeptList, "count" | "shared">;

/**
 * The lists that somebody keeps, in their order, each with how many are in it, and behind them those that are shared with them. Who has kept none
 * yet has those that everyone begins with.
 */
export async function listsOf(
  app: AppContext,
  person: Person,
  known?: Awaited<ReturnType<typeof repositoriesOf>>,
): Promise<KeptList[]> {
  const seen = known ?? (await repositoriesOf(app, person));
  const there = seen.map(({ id, name, role }) => `${id} ${name} ${role}`);
  // How long something has stood still is counted in days: what is told of that need not be of this very minute.
  const minute = Math.floor(app.now() / 60_000);
  return madeOnce(app.db, `lists of ${person.id} at ${minute} in ${there.join(" ")}`, async () => {
    const rows = await rowsOf(app.db, person);
    const lists = [...rows.map((row) => ({ ...row, shared: null })), ...(await sharedLists(app.db, seen))];
    return Promise.all(
      lists.map(async ({ id, name, query, shared }) => {
        return { id, name, query, shared, count: await countChanges(app, person, query, seen) };
      }),
    );
  });
}

/** Those that are kept; on the first change the ones to begin with become somebody's own. */
async function rowsOf(db: Queries, person: Person): Promise<Row[]> {
  const rows = await db
    .selectFrom("lists")
    .select(["id", "name", "query", "position"])
    .where("person", "=", person.id)
    .orderBy("position")
    .execute();
  // A mark at the very beginning tells that somebody has made them their own, also when they kept none.
  if (rows.length > 0) return rows.filter(({ position }) => position > 0);
  return EXAMPLES.map((one, at) => ({ id: `example-${at + 1}`, ...one }));
}

/** What is shared with the repositories that somebody sees, by the names of both. */
async function sharedLists(db: Queries, seen: readonly { id: string; name: string }[]) {
  if (seen.length === 0) return [];
  const nameOf = new Map(seen.map(({ id, name }) => [id, name]));
  const rows = await db
    .selectFrom("shared_lists")
    .selectAll()
    .where("repository", "in", [...nameOf.keys()])
    .orderBy("name")
    .execute();
  return rows.map(({ id, name, query, repository }) => ({ id, name, query, shared: nameOf.get(repository) ?? "" }));
}

/** Shares a list with all who see a repository, in place of the one of that name; for its keepers. */
async function shareList(
  app: AppContext,
  person: Person,
  repo: string,
  { name, query }: { name: string; query: string },
): Promise<Outcome<{ id: string }>> {
  const entered = await enter(app, person, repo, "keeper");
  if (!entered.ok) return entered;
  const { id: repository } = entered.value.repository;
  const known = await app.db.selectFrom("shared_lists").selectAll().where("repository", "=", repository).execute();
  const before = known.find((one) => one.name === name);
  if (!before && known.length >= MOST_LISTS)
    return refuse("too-many", `No more than ${MOST_LISTS} lists are shared with a repository.`);
  const row = { id: before?.id ?? app.newId(), repository, name, query };
  await app.db
    .insertInto("shared_lists")
    .values(row)
    .onConflict((conflict) => conflict.columns(["repository", "name"]).doUpdateSet({ query }))
    .execute();
  return done({ id: row.id });
}

/** Keeps a list under a name, in place of the one of that name; says which one it is. */
export async function keepList(
  app: AppContext,
  person: Person,
  { name, query, shared = null }: { name: string; query: string; shared?: string | null },
): Promise<Outcome<{ id: string }>> {
  const read = readQuery(query);
  if (!read.ok) return read;
  if (shared !== null) return shareList(app, person, shared, { name, query });
  // In one transaction, so that of two that are kept at the same moment none is lost.
  return app.db.transaction().execute(async (tx) => {
    const rows = await rowsOf(tx, person);
    const before = rows.find((one) => one.name === name);
    if (!before && rows.length >= MOST_LISTS) return refuse("too-many", `Nobody keeps more than ${MOST_LISTS} lists.`);
    const id = app.newId();
    const list = { id, name, query };
    await write(app, tx, person, before ? rows.map((one) => (one === before ? list : one)) : [...rows, list]);
    return done({ id });
  });
}

/** Lets go of a list. One that is not there is gone already; one that is shared goes by its repository's keepers. */
export async function dropList(app: AppContext, person: Person, id: string): Promise<Outcome<null>> {
  const shared = (await sharedLists(app.db, await repositoriesOf(app, person))).find((one) => one.id === id);
  if (shared) {
    const entered = await enter(app, person, shared.shared, "keeper");
    if (!entered.ok) return entered;
    await app.db.deleteFrom("shared_lists").where("id", "=", id).execute();
    return done(null);
  }
  await app.db.transaction().execute(async (tx) => {
    const rows = await rowsOf(tx, person);
    const rest = rows.filter((one) => one.id !== id);
    if (rest.length < rows.length) await write(app, tx, person, rest);
  });
  return done(null);
}

async function write(app: AppContext, tx: Queries, person: Person, lists: readonly Row[]): Promise<void> {
  const mark = { id: app.newId(), person: person.id, name: "", query: "", position: 0 };
  const rows = lists.map(({ id, name, query }, at) => ({
    id: id.startsWith("example-") ? app.newId() : id,
    person: person.id,
    name,
    query,
    position: at + 1,
  }));
  await tx.deleteFrom("lists").where("person", "=", person.id).execute();
  await tx
    .insertInto("lists")
    .values([mark, ...rows])
    .execute();
}
