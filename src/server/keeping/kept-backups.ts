import { existsSync } from "node:fs";
import { readdir, readFile, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import * as v from "valibot";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { BackupsView, BackupView } from "@/core/views/setting-up-view";
import { audit, type Doer } from "../access/audit";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { backUp, manifest } from "./backup";

/** Backups that are made from a page: in a folder of the data folder, one at a time. Whoever wants one elsewhere copies it. */

interface Making {
  says: string | null;
  problem: string;
}

const BACKUP = shelf<Making>("backup", 1);

function making(app: AppContext): Promise<Making> {
  return BACKUP(app).get("", async () => ({ says: null, problem: "" }));
}

function folderOfBackups({ settings }: AppContext): string {
  return join(settings.data, "backups");
}

/** The backups that are there, the newest first. */
export async function backupsOf(app: AppContext): Promise<BackupsView> {
  const folder = folderOfBackups(app);
  const { says, problem } = await making(app);
  const names = existsSync(folder) ? await readdir(folder) : [];
  const found = await Promise.all(names.map((name) => backupIn(folder, name)));
  const backups = found.flatMap((one) => one ?? []).sort((a, b) => b.madeAt - a.madeAt);
  return { folder, making: says, problem, backups };
}

/** What is known of one; null for one that was not ended. */
async function backupIn(folder: string, name: string): Promise<BackupView | null> {
  const file = join(folder, name, "backup.json");
  if (!existsSync(file)) return null;
  const read = v.safeParse(v.pipe(v.string(), v.parseJson(), manifest), await readFile(file, "utf8"));
  if (!read.success) return null;
  const { madeAt, repositories } = read.output;
  return {
    name,
    madeAt: Date.parse(madeAt),
    repositories: repositories.length,
    size: await sizeIn(join(folder, name)),
  };
}

async function sizeIn(folder: string): Promise<number> {
  let size = 0;
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    size += entry.isDirectory() ? await sizeIn(path) : (await stat(path)).size;
  }
  return size;
}

/** Begins a backup; how far it is is told by {@link backupsOf}. */
export async function beginBackup(app: AppContext, doer: Doer): Promise<Outcome<BackupsView>> {
  const now = await making(app);
  if (now.says !== null) return refuse("conflict", "A backup is being made already.");
  const name = new Date(app.now()).toISOString().replace(/[:.]/g, "-");
  const folder = join(folderOfBackups(app), name);
  Object.assign(now, { says: "It begins …", problem: "" });
  void backUp(app, doer, folder, (words) => Object.assign(now, { says: words }))
    .then((made) => (made.ok ? "" : made.refusal.reason))
    .catch((error: unknown) => {
      app.log.error({ err: error }, "a backup could not be made");
      return `It could not be made: ${error instanceof Error ? error.message.split("\n")[0] : error}`;
    })
    .then(async (problem) => {
      // Half of one is none, and takes the room of the next.
      if (problem !== "") await rm(folder, { recursive: true, force: true });
      Object.assign(now, { says: null, problem });
    });
  return done(await backupsOf(app));
}

/** Takes a backup away. */
export async function dropBackup(app: AppContext, doer: Doer, name: string): Promise<Outcome<BackupsView>> {
  const { backups } = await backupsOf(app);
  // By its name among those that are there: nothing that is asked for leads anywhere else.
  if (!backups.some((one) => one.name === name)) return refuse("missing", "There is no such backup.");
  await rm(join(folderOfBackups(app), name), { recursive: true, force: true });
  await audit(app, doer, "backup-dropped", { name });
  return done(await backupsOf(app));
}
