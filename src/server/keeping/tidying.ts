import { existsSync } from "node:fs";
import { git } from "@/git/run";
import { keepPlace, placeOf } from "@/store/log";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";

const DAY = 24 * 3_600_000;
/** What nothing names any more, such as what previews of merges made, is kept for so long: something may be at work with it. */
const KEPT_FOR = "3.days.ago";

/** So long the same command may be asked again and is carried out once, in milliseconds. */
const KEYS_KEPT = 7 * DAY;

/** Forgets keys of commands that were carried out long ago. */
export async function forgetKeys(app: AppContext): Promise<void> {
  await app.db
    .deleteFrom("carried")
    .where("at", "<", app.now() - KEYS_KEPT)
    .execute();
}

/**
 * Packs repositories and lets go of what nothing names, each once a day at most, one after the other, while `quiet` says that nobody waits
 * for anything. Every revision is named and so kept for ever. Gives how many it did.
 */
export async function tidyRepositories(app: AppContext, quiet: () => boolean): Promise<number> {
  let tidied = 0;
  for (const { id, name } of await app.db.selectFrom("repositories").select(["id", "name"]).execute()) {
    if (!quiet()) return tidied;
    const key = `tidied ${id}`;
    if (app.now() - ((await placeOf(app.db, key)) ?? 0) < DAY) continue;
    const folder = folderOf(app, { id });
    if (!existsSync(folder)) continue;
    const begun = app.now();
    // In turn with pushes: what one just brought is not looked at half.
    const tidy = ["-c", "gc.reflogExpire=30.days", "-c", "pack.threads=1", "gc", "--quiet", `--prune=${KEPT_FOR}`];
    await app.inTurn(`push ${id}`, () => git(folder, tidy, { within: Number.POSITIVE_INFINITY }));
    await keepPlace(app.db, key, begun);
    app.log.info({ repository: name, ms: app.now() - begun }, "packed a repository");
    tidied++;
  }
  return tidied;
}
