import { existsSync } from "node:fs";
import { join } from "node:path";
import { done, type Outcome, refuse } from "@/core/outcome";
import { atLeast, type Role } from "@/core/review/roles";
import type { Rule } from "@/core/rules/gate";
import { type Fetched, fetchAgain, takeIn } from "@/git/intake";
import { isBranchName, isRepositoryName } from "@/git/names";
import { branches } from "@/git/repository";
import type { Queries } from "@/store/database";
import type { RepositoriesTable } from "@/store/schema";
import type { Lens } from "./lens";
import { type Person, roleOf } from "./people";

export type Repository = RepositoriesTable;

/** Where the bare repository lies. By id, so that a name can change. */
export function folderOf(lens: Lens, repository: { id: string }): string {
  return join(lens.settings.data, "repositories", `${repository.id}.git`);
}

/** Takes a local git repository in under a name. Nothing is changed when it is refused. */
export async function addRepository(
  lens: Lens,
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
  const taken = await lens.db.selectFrom("repositories").select("id").where("name", "=", name).executeTakeFirst();
  if (taken) return refuse("conflict", `There is a repository of the name “${name}” already.`);
  const id = lens.newId();
  const taking = await takeIn(path, folderOf(lens, { id }), { progress });
  if (!taking.ok) return taking;
  const repository = { id, name, default_branch: taking.value.defaultBranch, created_at: lens.now() };
  await lens.db.insertInto("repositories").values(repository).execute();
  return done({ repository, branches: taking.value.branches });
}

/** A repository and what this person may do there. Who may not see it is told the same as if it did not exist. */
export async function enter(
  lens: Lens,
  person: Person,
  name: string,
  needed: Role = "reader",
): Promise<Outcome<{ repository: Repository; role: Role; folder: string }>> {
  const none = refuse("missing", `There is no repository “${name}” that you may see.`);
  const repository = await lens.db.selectFrom("repositories").selectAll().where("name", "=", name).executeTakeFirst();
  if (!repository) return none;
  const role = await roleOf(lens.db, person.id, repository.id);
  if (role === null) return none;
  if (!atLeast(role, needed))
    return refuse("forbidden", `This needs the role of ${needed} in ${name}; yours is ${role}.`);
  const folder = folderOf(lens, repository);
  if (!existsSync(folder)) return refuse("missing", `The git data of ${name} is not in the data folder any more.`);
  return done({ repository, role, folder });
}

/** The repositories a person may see, by name, with their role there. */
export async function repositoriesOf(lens: Lens, person: Person): Promise<(Repository & { role: Role })[]> {
  const rows = await lens.db
    .selectFrom("repositories")
    .leftJoin("roles", (join) =>
      join.onRef("roles.repository", "=", "repositories.id").on("roles.person", "=", person.id),
    )
    .selectAll("repositories")
    .select("roles.role")
    .orderBy("repositories.name")
    .execute();
  return rows.flatMap(({ role, ...repository }) => {
    const mine = person.administrator ? "keeper" : role;
    return mine ? [{ ...repository, role: mine }] : [];
  });
}

const EVERY_BRANCH = "*";
const UNLESS_SAID: Rule = { approvals: 1, settled: true };

/** What a target branch asks: its own rule, else that for every branch, else one approval. */
export async function ruleFor(db: Queries, repository: string, branch: string): Promise<Rule> {
  const rows = await db
    .selectFrom("rules")
    .selectAll()
    .where("repository", "=", repository)
    .where("branch", "in", [branch, EVERY_BRANCH])
    .execute();
  const row = rows.find((candidate) => candidate.branch === branch) ?? rows[0];
  return row ? { approvals: row.approvals, settled: row.settled === 1 } : UNLESS_SAID;
}

/** Whether a branch has a rule of its own, or is the one that everything goes into: then nothing reaches it but by a change set. */
export async function hasOwnRule(db: Queries, repository: Repository, branch: string): Promise<boolean> {
  if (branch === repository.default_branch) return true;
  const row = await db
    .selectFrom("rules")
    .select("branch")
    .where("repository", "=", repository.id)
    .where("branch", "=", branch)
    .executeTakeFirst();
  return row !== undefined;
}

/** Sets what a branch asks for; `*` for every branch without a rule of its own. */
export async function setRule(
  lens: Lens,
  repositoryName: string,
  branch: string,
  { approvals, settled }: Rule,
): Promise<Outcome<null>> {
  const repository = await lens.db
    .selectFrom("repositories")
    .select("id")
    .where("name", "=", repositoryName)
    .executeTakeFirst();
  if (!repository) return refuse("missing", `There is no repository of the name “${repositoryName}”.`);
  if (branch !== EVERY_BRANCH && !isBranchName(branch))
    return refuse("invalid", `“${branch}” cannot be the name of a branch.`);
  if (!Number.isInteger(approvals) || approvals < 0 || approvals > 50)
    return refuse("invalid", "The number of approvals is a whole number from 0 to 50.");
  await lens.db
    .insertInto("rules")
    .values({ repository: repository.id, branch, approvals, settled: settled ? 1 : 0 })
    .onConflict((conflict) =>
      conflict.columns(["repository", "branch"]).doUpdateSet({ approvals, settled: settled ? 1 : 0 }),
    )
    .execute();
  return done(null);
}

/** The names of all branches with the subject of their newest commit, the newest first. */
export async function branchesOf(folder: string): Promise<{ name: string; subject: string; at: number }[]> {
  return (await branches(folder)).map(({ name, subject, at }) => ({ name, subject, at }));
}

/**
 * Brings in what came to the repository that this one was taken from. Branches that are offered in an open change set may have been
 * rewritten there; any other is moved forward only.
 */
export async function fetchRepository(lens: Lens, name: string): Promise<Outcome<Fetched[]>> {
  const repository = await lens.db.selectFrom("repositories").selectAll().where("name", "=", name).executeTakeFirst();
  if (!repository) return refuse("missing", `There is no repository of the name “${name}”.`);
  const open = await lens.db
    .selectFrom("change_sets")
    .select(["source", "target"])
    .where("repository", "=", repository.id)
    .where("state", "in", ["open", "draft"])
    .execute();
  const targets = new Set(open.map(({ target }) => target));
  const offered = new Set(open.map(({ source }) => source).filter((source) => !targets.has(source)));
  return fetchAgain(folderOf(lens, repository), (branch) => offered.has(branch));
}
