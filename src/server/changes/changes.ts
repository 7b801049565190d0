import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { ChangeSet } from "@/core/review/state";
import type { CommitView } from "@/core/views/api";
import { commitsBetween } from "@/git/history/commits";
import { resolveCommit } from "@/git/repository";
import type { Queries } from "@/store/database";
import { BrokenLog, loadChangeSet, loadChangeSets } from "@/store/log";
import { madeOnce } from "@/store/made-once";
import type { Person } from "../access/person";
import { enter } from "../access/repositories";
import type { AppContext } from "../app/context";
import { isOfChange } from "../reading/states";

/** Finds a change set by its address. Who may not see its repository is told the same as if it did not exist. */
export async function findChange(app: AppContext, person: Person, repositoryName: string, number: number) {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  const id = await idOfChange(app.db, entered.value.repository.id, number);
  let change: ChangeSet | null = null;
  try {
    change = id === null ? null : await loadChangeSet(app.db, id);
  } catch (error) {
    if (!(error instanceof BrokenLog)) throw error;
    app.log.error({ err: error }, "the record of a change set is damaged");
    return refuse("conflict", error.message);
  }
  if (!change) return refuse("missing", `There is no change set ${number} in ${repositoryName}.`);
  return done({ ...entered.value, change });
}

/** The id of a change set by its number in a repository; null when there is none. */
export function idOfChange(db: Queries, repository: string, number: number): Promise<string | null> {
  return madeOnce(db, `id of ${number} in ${repository}`, async () => {
    const row = await db
      .selectFrom("change_sets")
      .select("id")
      .where("repository", "=", repository)
      .where("number", "=", number)
      .executeTakeFirst();
    return row?.id ?? null;
  });
}

/** How many change sets are asked, the newest first, whether a commit is theirs. */
const MOST_ASKED = 100;

/** The newest change set that a commit is part of; its id may be given by its first characters. */
export async function changeOfCommit(
  app: AppContext,
  person: Person,
  repositoryName: string,
  id: string,
): Promise<Outcome<{ number: number; commit: string }>> {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  const { repository, folder } = entered.value;
  const commit = /^[0-9a-f]{7,64}$/.test(id) ? await resolveCommit(folder, id) : null;
  if (!commit) return refuse("missing", "There is no such commit.");
  const rows = await app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", repository.id)
    .orderBy("number", "desc")
    .limit(MOST_ASKED)
    .execute();
  const changes = await loadChangeSets(
    app.db,
    rows.map((row) => row.id),
  );
  for (const change of changes)
    if (await isOfChange(change, folder, commit)) return done({ number: change.number, commit });
  return refuse("missing", "That commit is in no change set.");
}

/** The commits of one revision, the newest first; null when there is no such revision. */
export async function commitsOf(change: ChangeSet, folder: string, name: string): Promise<CommitView[] | null> {
  const revision = change.revisions.find(({ number }) => `r${number}` === name);
  return revision ? [...(await commitsBetween(folder, revision.base, revision.head))] : null;
}
