import { existsSync } from "node:fs";
import { join } from "node:path";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { atLeast, type Role } from "@/core/review/roles";
import { isRepositoryName } from "@/git/names";
import { branchCommit, branches } from "@/git/repository";
import { type Fetched, fetchAgain, takeIn } from "@/git/transport/intake";
import type { Origin } from "@/git/transport/origin";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import type { RepositoriesTable } from "@/store/tables/repositories";
import type { AppContext } from "../app/context";
import { beginRules } from "../rules/first-rules";
import { roleBy, roleOf } from "./people";
import type { Person } from "./person";

/** A repository, as the application knows it. */
export interface Repository {
  id: string;
  name: string;
  defaultBranch: string;
  description: string;
  /** Nothing in it changes any more: it is read, and talked about. */
  archived: boolean;
  /** Its reviews are kept in it, as ledgers. */
  ledger: boolean;
}

function repositoryOf({ id, name, default_branch, description, archived_at, ledger }: RepositoriesTable): Repository {
  return {
    id,
    name,
    defaultBranch: default_branch,
    description,
    archived: archived_at !== null,
    ledger: ledger === 1,
  };
}

/** Where the bare repository lies. By id, so that a name can change. */
export function folderOf(app: AppContext, repository: { id: string }): string {
  return join(app.settings.data, "repositories", `${repository.id}.git`);
}

/** Why a name cannot be that of a new repository; null where it can. */
export async function wrongNewName(app: AppContext, name: string): Promise<ReturnType<typeof refuse> | null> {
  if (!isRepositoryName(name)) {
    return refuse(
      "invalid",
      `“${name}” cannot be the name of a repository: use lower-case letters, digits, dots and dashes, 64 at most, beginning and ending with a letter or digit, and not ending in “.git”.`,
    );
  }
  const taken = await app.db.selectFrom("repositories").select("id").where("name", "=", name).executeTakeFirst();
  return taken ? refuse("conflict", `There is a repository of the name “${name}” already.`) : null;
}

/** Takes a git repository in under a name; `every` is how often one at an address is fetched by itself, in minutes. Nothing is changed when it is refused or cancelled. */
export async function addRepository(
  app: AppContext,
  name: string,
  origin: Origin,
  { every = 0, ...options }: { progress?: (words: string) => void; signal?: AbortSignal; every?: number } = {},
): Promise<Outcome<{ repository: Repository; branches: number }>> {
  const wrong = await wrongNewName(app, name);
  if (wrong) return wrong;
  const id = app.newId();
  const taking = await takeIn(origin, folderOf(app, { id }), options);
  if (!taking.ok) return taking;
  const row: RepositoriesTable = {
    id,
    name,
    default_branch: taking.value.defaultBranch,
    created_at: app.now(),
    description: "",
    open_to_all: 0,
    archived_at: null,
    deleted_at: null,
    ledger: 1,
  };
  const repository = repositoryOf(row);
  await app.db.transaction().execute(async (tx) => {
    await tx.insertInto("repositories").values(row).execute();
    await beginRules(tx, repository, app.now());
    if (origin.kind !== "address") return;
    const { account = "", secret = "" } = origin;
    await tx
      .insertInto("origins")
      .values({ repository: id, account, secret, every, fetched_at: app.now(), problem: "" })
      .execute();
  });
  return done({ repository, branches: taking.value.branches });
}

/** A repository by its name, whoever asks. */
export function findRepository(db: Queries, name: string): Promise<Repository | null> {
  return madeOnce(db, `repository ${name}`, async () => {
    const row = await db.selectFrom("repositories").selectAll().where("name", "=", name).executeTakeFirst();
    return row && row.deleted_at === null ? repositoryOf(row) : null;
  });
}

/** The name of a repository that is there for certain, by its id. */
export async function nameOfRepository(db: Queries, id: string): Promise<string> {
  const row = await db.selectFrom("repositories").select("name").where("id", "=", id).executeTakeFirstOrThrow();
  return row.name;
}

/** A repository and what this person may do there. Who may not see it is told the same as if it did not exist. */
export async function enter(
  app: AppContext,
  person: Person,
  name: string,
  needed: Role = "reader",
): Promise<Outcome<{ repository: Repository; role: Role; folder: string }>> {
  const none = refuse("missing", `There is no repository “${name}” that you may see.`);
  const repository = await findRepository(app.db, name);
  if (!repository) return none;
  const role = await roleOf(app.db, person.id, repository.id);
  if (role === null) return none;
  if (repository.archived && needed !== "reader")
    return refuse("forbidden", `${name} is archived: it is read, and nothing in it changes.`);
  if (!atLeast(role, needed))
    return refuse("forbidden", `This needs the role of ${needed} in ${name}; yours is ${role}.`);
  const folder = folderOf(app, repository);
  if (!existsSync(folder)) return refuse("missing", `The git data of ${name} is not in the data folder any more.`);
  return done({ repository, role, folder });
}

/** Whether its main branch is there: one that was made empty has none until somebody pushes it. */
export async function isBegun(app: AppContext, repository: Repository): Promise<boolean> {
  return (await branchCommit(folderOf(app, repository), repository.defaultBranch)) !== null;
}

/** The repositories a person may see, by name, with their role there. */
export function repositoriesOf({ db }: AppContext, person: Person): Promise<(Repository & { role: Role })[]> {
  const { id, administrator, machine } = person;
  return madeOnce(db, `repositories of ${id} ${administrator} ${machine}`, () => askedRepositories(db, person));
}

async function askedRepositories(db: Queries, person: Person): Promise<(Repository & { role: Role })[]> {
  const rows = await db
    .selectFrom("repositories")
    .leftJoin("roles", (join) =>
      join.onRef("roles.repository", "=", "repositories.id").on("roles.person", "=", person.id),
    )
    .selectAll("repositories")
    .select("roles.role")
    .where("repositories.deleted_at", "is", null)
    .orderBy("repositories.name")
    .execute();
  return rows.flatMap(({ role, ...row }) => {
    const mine = roleBy({ ...person, role, openToAll: row.open_to_all === 1, archived: row.archived_at !== null });
    return mine ? [{ ...repositoryOf(row), role: mine }] : [];
  });
}

/** The names of all branches with the subject of their newest commit, the newest first. */
export async function branchesOf(folder: string): Promise<{ name: string; subject: string; at: number }[]> {
  return (await branches(folder)).map(({ name, subject, at }) => ({ name, subject, at }));
}

/**
 * Brings in what came to the repository that this one was taken from. Branches that are offered in an open change set may have been
 * rewritten there; any other is moved forward only. One taken from an address is asked with the credentials that are kept of it.
 */
export async function fetchRepository(app: AppContext, name: string): Promise<Outcome<Fetched[]>> {
  const repository = await findRepository(app.db, name);
  if (!repository) return refuse("missing", `There is no repository of the name “${name}”.`);
  const open = await app.db
    .selectFrom("change_sets")
    .select(["source", "target"])
    .where("repository", "=", repository.id)
    .where("state", "in", ["open", "draft"])
    .execute();
  const targets = new Set(open.map(({ target }) => target));
  const offered = new Set(open.map(({ source }) => source).filter((source) => !targets.has(source)));
  const kept = await app.db
    .selectFrom("origins")
    .selectAll()
    .where("repository", "=", repository.id)
    .executeTakeFirst();
  const credentials = { account: kept?.account, secret: kept?.secret };
  return fetchAgain(folderOf(app, repository), (branch) => offered.has(branch), credentials);
}
