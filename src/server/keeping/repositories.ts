import { rm } from "node:fs/promises";
import { sql } from "kysely";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { DELETED_DAYS, type KeptRepository, type RepositoryRequest } from "@/core/views/setting-up-view";
import { branches } from "@/git/repository";
import { git, gitText } from "@/git/run";
import type { RepositoriesTable } from "@/store/tables/repositories";
import { audit, type Doer } from "../access/audit";
import { fetchRepository, folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";

const DAY = 24 * 3_600_000;

/** Every repository, by name, deleted ones too while they can be brought back. */
export async function keptRepositories(app: AppContext): Promise<KeptRepository[]> {
  const { db } = app;
  const rows = await db.selectFrom("repositories").selectAll().orderBy("name").execute();
  const roles = await db
    .selectFrom("roles")
    .innerJoin("people", "people.id", "roles.person")
    .select(["roles.repository", "roles.role", "people.name", "people.full_name"])
    .orderBy("people.full_name")
    .execute();
  const origins = await db.selectFrom("origins").selectAll().execute();
  const counts = await db
    .selectFrom("change_sets")
    .select((select) => ["repository", select.fn.countAll<number>().as("many")])
    .where("state", "in", ["open", "draft"])
    .groupBy("repository")
    .execute();
  return Promise.all(
    rows.map(async ({ id, name, description, default_branch, open_to_all, ledger, archived_at, deleted_at }) => {
      const folder = folderOf(app, { id });
      const place = await gitText(folder, ["config", "--get", "lens.source"], { answers: [1, 128] });
      const known = origins.find(({ repository }) => repository === id);
      return {
        name: deleted_at === null ? name : nameBefore(name),
        description,
        defaultBranch: default_branch,
        openToAll: open_to_all === 1,
        ledger: ledger === 1,
        archivedAt: archived_at,
        deletedAt: deleted_at,
        branches: (await branches(folder).catch(() => [])).map((branch) => branch.name),
        open: counts.find(({ repository }) => repository === id)?.many ?? 0,
        people: roles
          .filter(({ repository }) => repository === id)
          .map((one) => ({ name: one.name, fullName: one.full_name, role: one.role })),
        origin: place
          ? {
              place,
              account: known?.account ?? "",
              every: known?.every ?? 0,
              fetchedAt: known?.fetched_at ?? null,
              problem: known?.problem ?? "",
            }
          : null,
      };
    }),
  );
}

/** A deleted one gives its name free; it keeps it behind its own id, which no repository's name looks like. */
function nameWhenDeleted({ id, name }: { id: string; name: string }): string {
  return `~${id}~${name}`;
}

function nameBefore(name: string): string {
  return name.replace(/^~[^~]*~/, "");
}

type Asked<K extends RepositoryRequest["kind"]> = Extract<RepositoryRequest, { kind: K }>;
type Carry<K extends RepositoryRequest["kind"]> = (
  app: AppContext,
  doer: Doer,
  row: RepositoriesTable,
  request: Asked<K>,
) => Promise<Outcome<null>>;

/** Carries out what is asked of a repository, and writes it down. */
export async function changeRepository(
  app: AppContext,
  doer: Doer,
  name: string,
  request: RepositoryRequest,
): Promise<Outcome<null>> {
  const rows = await app.db.selectFrom("repositories").selectAll().execute();
  const row =
    request.kind === "restore"
      ? rows.filter((one) => one.deleted_at !== null && nameBefore(one.name) === name).at(-1)
      : rows.find((one) => one.name === name && one.deleted_at === null);
  if (!row)
    return refuse(
      "missing",
      `There is no ${request.kind === "restore" ? "deleted " : ""}repository of the name “${name}”.`,
    );
  return (CARRIED[request.kind] as Carry<typeof request.kind>)(app, doer, row, request as never);
}

const CARRIED: { [K in RepositoryRequest["kind"]]: Carry<K> } = {
  describe: async (app, doer, row, { description, defaultBranch, openToAll, ledger }) => {
    const folder = folderOf(app, row);
    const known = (await branches(folder)).map(({ name }) => name);
    if (known.length > 0 && !known.includes(defaultBranch))
      return refuse("invalid", `There is no branch “${defaultBranch}” in ${row.name}.`);
    if (known.length === 0 && defaultBranch !== row.default_branch)
      return refuse("conflict", `${row.name} is empty: push a branch first.`);
    await git(folder, ["symbolic-ref", "HEAD", `refs/heads/${defaultBranch}`]);
    await set(app, row, {
      description,
      default_branch: defaultBranch,
      open_to_all: openToAll ? 1 : 0,
      ledger: ledger ? 1 : 0,
    });
    await audit(app, doer, "repository-changed", {
      repository: row.name,
      description,
      defaultBranch,
      openToAll,
      ledger,
    });
    return done(null);
  },
  archive: async (app, doer, row) => {
    if (row.archived_at !== null) return refuse("conflict", `${row.name} is archived already.`);
    await set(app, row, { archived_at: app.now() });
    await audit(app, doer, "repository-changed", { repository: row.name, archived: true });
    return done(null);
  },
  "open-again": async (app, doer, row) => {
    if (row.archived_at === null) return refuse("conflict", `${row.name} is not archived.`);
    await set(app, row, { archived_at: null });
    await audit(app, doer, "repository-changed", { repository: row.name, archived: false });
    return done(null);
  },
  fetch: async (app, doer, row) => {
    const fetched = await fetchRepository(app, row.name);
    await noteFetch(app, row.id, fetched.ok ? "" : fetched.refusal.reason);
    if (!fetched.ok) return fetched;
    await audit(app, doer, "repository-fetched", { repository: row.name, branches: fetched.value.length });
    return done(null);
  },
  origin: async (app, doer, row, { account, secret, every }) => {
    const kept = await app.db.selectFrom("origins").selectAll().where("repository", "=", row.id).executeTakeFirst();
    const origin = { account, secret: secret ?? kept?.secret ?? "", every, problem: "" };
    await app.db
      .insertInto("origins")
      .values({ repository: row.id, fetched_at: null, ...origin })
      .onConflict((conflict) => conflict.column("repository").doUpdateSet(origin))
      .execute();
    await audit(app, doer, "repository-changed", { repository: row.name, account, every, secret: secret !== null });
    return done(null);
  },
  delete: async (app, doer, row, { name }) => {
    if (name !== row.name) return refuse("invalid", `Type the name as it is: ${row.name}.`);
    await set(app, row, { deleted_at: app.now(), name: nameWhenDeleted(row) });
    await audit(app, doer, "repository-deleted", { repository: row.name });
    return done(null);
  },
  restore: async (app, doer, row) => {
    const name = nameBefore(row.name);
    const taken = await app.db.selectFrom("repositories").select("id").where("name", "=", name).executeTakeFirst();
    if (taken) return refuse("conflict", `There is another repository of the name “${name}” now.`);
    await set(app, row, { deleted_at: null, name });
    await audit(app, doer, "repository-restored", { repository: name });
    return done(null);
  },
};

async function set(app: AppContext, { id }: { id: string }, values: Partial<RepositoriesTable>): Promise<void> {
  await app.db.updateTable("repositories").set(values).where("id", "=", id).execute();
}

async function noteFetch(app: AppContext, repository: string, problem: string): Promise<void> {
  await app.db
    .updateTable("origins")
    .set({ fetched_at: app.now(), problem })
    .where("repository", "=", repository)
    .execute();
}

/** Fetches what is to be fetched by itself and whose time has come, one after the other. A failure is kept, to be shown, and tried again in turn. */
export async function fetchMirrors(app: AppContext): Promise<number> {
  const rows = await app.db
    .selectFrom("origins")
    .innerJoin("repositories", "repositories.id", "origins.repository")
    .select(["repositories.id", "repositories.name", "origins.every", "origins.fetched_at"])
    .where("origins.every", ">", 0)
    .where("repositories.deleted_at", "is", null)
    .where("repositories.archived_at", "is", null)
    .execute();
  let fetched = 0;
  for (const { id, name, every, fetched_at } of rows) {
    if (app.now() - (fetched_at ?? 0) < every * 60_000) continue;
    const outcome = await app.inTurn(`push ${id}`, () => fetchRepository(app, name));
    await noteFetch(app, id, outcome.ok ? "" : outcome.refusal.reason);
    if (!outcome.ok)
      app.log.warn({ repository: name, reason: outcome.refusal.reason }, "a mirror could not be fetched");
    fetched++;
  }
  return fetched;
}

/** Removes what was deleted longer ago than it can be brought back: its git data, and all rows about it. Gives how many. */
export async function removeDeleted(app: AppContext): Promise<number> {
  const old = await app.db
    .selectFrom("repositories")
    .select(["id", "name"])
    .where("deleted_at", "<", app.now() - DELETED_DAYS * DAY)
    .execute();
  for (const { id, name } of old) {
    await app.db.transaction().execute(async (tx) => {
      const tables = (await tx.introspection.getTables()).filter(({ isView }) => !isView);
      const having = (column: string) =>
        tables.filter(({ columns }) => columns.some((one) => one.name === column)).map((table) => table.name);
      const changes = sql`(select id from change_sets where repository = ${id})`;
      await sql`delete from change_words where rowid in (select words from change_sets where repository = ${id})`.execute(
        tx,
      );
      for (const table of having("change_set"))
        await sql`delete from ${sql.table(table)} where change_set in ${changes}`.execute(tx);
      await sql`delete from events where stream in ${changes}`.execute(tx);
      for (const table of having("repository"))
        await sql`delete from ${sql.table(table)} where repository = ${id}`.execute(tx);
      await tx.deleteFrom("repositories").where("id", "=", id).execute();
    });
    await rm(folderOf(app, { id }), { recursive: true, force: true });
    app.log.info({ repository: nameBefore(name) }, "removed a repository that was deleted");
  }
  return old.length;
}
