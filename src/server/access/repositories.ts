import { existsSync } from "node:fs";
import { join } from "node:path";
import { done, type Outcome, refuse } from "@/core/outcome";
import { atLeast, type Role } from "@/core/review/roles";
import { type Fetched, fetchAgain, takeIn } from "@/git/intake";
import { isRepositoryName } from "@/git/names";
import { branches } from "@/git/repository";
import type { Queries } from "@/store/database";
import type { RepositoriesTable } from "@/store/schema";
import type { AppContext } from "../app/context";
import { beginRules } from "../rules/first-rules";
import { roleOf } from "./people";
import type { Person } from "./person";

/** A repository, as the application knows it. */
export interface Repository {
  id: string;
  name: string;
  defaultBranch: string;
}

function repositoryOf({ id, name, default_branch }: RepositoriesTable): Repository {
  return { id, name, defaultBranch: default_branch };
}

/** Where the bare repository lies. By id, so that a name can change. */
export function folderOf(app: AppContext, repository: { id: string }): string {
  return join(app.settings.data, "repositories", `${repository.id}.git`);
}

/** Takes a local git repository in under a name. Nothing is changed when it is refused. */
export async function addRepository(
  app: AppContext,
  name: string,
  path: string,
  progress?: (words: string) => void,
): Promise<Outcome<{ repository: Repository; branches: number }>> {
  if (!isRepositoryName(name)) {
    return refuse(
      "invalid",
      `“${name}” cannot be the name of a repository: use lower-case letters, digits, dots and dashes, 64 at most, beginning and ending with a letter or digit, and not ending in “.git”.`,
    );
  }
  const taken = await app.db.selectFrom("repositories").select("id").where("name", "=", name).executeTakeFirst();
  if (taken) return refuse("conflict", `There is a repository of the name “${name}” already.`);
  const id = app.newId();
  const taking = await takeIn(path, folderOf(app, { id }), { progress });
  if (!taking.ok) return taking;
  const repository: Repository = { id, name, defaultBranch: taking.value.defaultBranch };
  await app.db.transaction().execute(async (tx) => {
    await tx
      .insertInto("repositories")
      .values({ id, name, default_branch: repository.defaultBranch, created_at: app.now() })
      .execute();
    await beginRules(tx, repository, app.now());
  });
  return done({ repository, branches: taking.value.branches });
}

/** A repository by its name, whoever asks. */
export async function findRepository(db: Queries, name: string): Promise<Repository | null> {
  const row = await db.selectFrom("repositories").selectAll().where("name", "=", name).executeTakeFirst();
  return row ? repositoryOf(row) : null;
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
  if (!atLeast(role, needed))
    return refuse("forbidden", `This needs the role of ${needed} in ${name}; yours is ${role}.`);
  const folder = folderOf(app, repository);
  if (!existsSync(folder)) return refuse("missing", `The git data of ${name} is not in the data folder any more.`);
  return done({ repository, role, folder });
}

/** The repositories a person may see, by name, with their role there. */
export async function repositoriesOf(app: AppContext, person: Person): Promise<(Repository & { role: Role })[]> {
  const rows = await app.db
    .selectFrom("repositories")
    .leftJoin("roles", (join) =>
      join.onRef("roles.repository", "=", "repositories.id").on("roles.person", "=", person.id),
    )
    .selectAll("repositories")
    .select("roles.role")
    .orderBy("repositories.name")
    .execute();
  return rows.flatMap(({ role, ...row }) => {
    const mine = person.administrator ? "keeper" : role;
    return mine ? [{ ...repositoryOf(row), role: mine }] : [];
  });
}

/** The names of all branches with the subject of their newest commit, the newest first. */
export async function branchesOf(folder: string): Promise<{ name: string; subject: string; at: number }[]> {
  return (await branches(folder)).map(({ name, subject, at }) => ({ name, subject, at }));
}

/**
 * Brings in what came to the repository that this one was taken from. Branches that are offered in an open change set may have been
 * rewritten there; any other is moved forward only.
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
  return fetchAgain(folderOf(app, repository), (branch) => offered.has(branch));
}
