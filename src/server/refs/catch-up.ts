import { type ChangeSet, newest } from "@/core/review/state";
import { deleteBranch } from "@/git/merge";
import { branches } from "@/git/repository";
import { loadChangeSets } from "@/store/log";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { carryChains } from "../changes/chains";
import { recordTip } from "../changes/revisions/revising";

/**
 * Records what came to branches and is not in the log: a push that landed just before the server was killed, or a chain that was not
 * carried on. Holds the branches of all open change sets against their newest revisions; gives how many it recorded. Where it is not known
 * who moved a branch nothing is recorded: the gate says that it has moved on, and a person records it.
 */
export async function catchUp(app: AppContext): Promise<number> {
  let recorded = 0;
  for (const { id } of await app.db.selectFrom("repositories").select("id").execute()) {
    // Pushes are recorded in turn: what is being recorded now is not recorded twice.
    recorded += await app.inTurn(`push ${id}`, () => catchUpIn(app, id));
    await dropUnoffered(app, id);
  }
  return recorded;
}

async function catchUpIn(app: AppContext, repository: string): Promise<number> {
  const open = await changesIn(app, repository, ["open", "draft"]);
  if (open.length === 0) return 0;
  const folder = folderOf(app, { id: repository });
  const tips = new Map((await branches(folder)).map(({ name, commit }) => [name, commit]));
  let recorded = 0;
  for (const change of open) {
    const tip = tips.get(change.source);
    if (!tip || tip === newest(change).head) continue;
    try {
      if (!(await recordTip(app, change, folder, tip))) continue;
      recorded++;
      app.log.warn({ change: change.id }, "recorded a push that was not recorded when it came");
    } catch (error) {
      app.log.error({ err: error, change: change.id }, "what came to a branch could not be recorded");
    }
  }
  const targets = new Set(open.map(({ target }) => target));
  for (const merged of await changesIn(app, repository, ["merged"], [...targets]))
    await carryChains(app, merged).catch((error: unknown) =>
      app.log.error({ err: error, change: merged.id }, "a chain could not be carried on"),
    );
  return recorded;
}

/** So old is what was cut short, in milliseconds: what is newer may be under way. */
const CUT_SHORT = 60_000;

/** Deletes branches that were made to take something back, by a server that was killed before it could offer them. */
async function dropUnoffered(app: AppContext, repository: string): Promise<void> {
  const rows = await app.db
    .selectFrom("ref_moves")
    .select(["id", "ref", "next"])
    .where("repository", "=", repository)
    .where("way", "=", "take-back")
    .where("happened", "=", 0)
    .where("at", "<", app.now() - CUT_SHORT)
    .execute();
  for (const { id, ref, next } of rows) {
    const branch = ref.replace("refs/heads/", "");
    const offered = await app.db
      .selectFrom("change_sets")
      .select("id")
      .where("repository", "=", repository)
      .where("source", "=", branch)
      .executeTakeFirst();
    if (!offered) await deleteBranch(folderOf(app, { id: repository }), branch, next);
    await app.db.deleteFrom("ref_moves").where("id", "=", id).execute();
  }
}

async function changesIn(
  app: AppContext,
  repository: string,
  states: ChangeSet["state"][],
  sources?: string[],
): Promise<ChangeSet[]> {
  let query = app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", repository)
    .where("state", "in", states);
  if (sources) query = query.where("source", "in", sources);
  const rows = await query.execute();
  return loadChangeSets(
    app.db,
    rows.map(({ id }) => id),
  );
}
