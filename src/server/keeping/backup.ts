import { existsSync, readdirSync } from "node:fs";
import { copyFile, mkdir, readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import Sqlite from "libsql";
import * as v from "valibot";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { git } from "@/git/run";
import { copyTo } from "@/store/database";
import { audit, type Doer } from "../access/audit";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";

/** What stands in a backup beside its files, as `backup.json`. */
export const manifest = v.object({
  format: v.literal(1),
  madeAt: v.string(),
  /** The last step by which its tables came to be. */
  step: v.string(),
  repositories: v.array(v.object({ id: v.string(), name: v.string(), refs: v.number() })),
});
export type Manifest = v.InferOutput<typeof manifest>;

/** How far the copied database knows of what became of refs. */
interface Copied {
  lastMove: number;
  intents: ReadonlySet<string>;
}

/**
 * Writes everything into an empty folder, as it was at one moment, while the server runs and nobody waits: the database is copied by SQLite
 * itself as it is at that moment; repositories are copied after it, and refs that moved since then are put back to where they were, as the
 * record of who moved them tells. Objects are only ever added, so that what refs lead to is there.
 */
export async function backUp(
  app: AppContext,
  doer: Doer,
  folder: string,
  progress: (words: string) => void = () => undefined,
): Promise<Outcome<Manifest>> {
  if (existsSync(folder) && readdirSync(folder).length > 0)
    return refuse("conflict", `${folder} is not empty: a backup goes into a folder of its own.`);
  await mkdir(join(folder, "repositories"), { recursive: true });
  const { data } = app.settings;
  progress("The database …");
  const source = new Sqlite(join(data, "lens.db"), { timeout: 10_000 });
  try {
    copyTo(source, join(folder, "lens.db"));
  } finally {
    source.close();
  }
  const copy = new Sqlite(join(folder, "lens.db"), { readonly: true });
  const { last } = copy.prepare("select coalesce(max(rowid), 0) as last from ref_moves").get() as { last: number };
  const intents = copy.prepare("select id from ref_intents").all() as { id: string }[];
  const copied: Copied = { lastMove: last, intents: new Set(intents.map(({ id }) => id)) };
  const repositories = copy
    .prepare("select id, name from repositories order by name")
    .all() as Manifest["repositories"];
  const { step } = copy.prepare("select max(name) as step from kysely_migration").get() as { step: string };
  copy.close();
  const made: Manifest = { format: 1, madeAt: new Date(app.now()).toISOString(), step, repositories: [] };
  for (const { id, name } of repositories) {
    progress(`${name} …`);
    const to = join(folder, "repositories", `${id}.git`);
    await copyRepository(folderOf(app, { id }), to);
    await putBack(app, id, to, copied);
    const { stdout } = await git(to, ["for-each-ref", "--format=x"]);
    made.repositories.push({ id, name, refs: stdout.toString().split("\n").length - 1 });
  }
  await writeFile(join(folder, "backup.json"), `${JSON.stringify(made, null, 2)}\n`);
  await audit(app, doer, "backup-made", { folder });
  return done(made);
}

/** A copy that shares no file with the other, with every ref, and with the settings that were made for it. */
async function copyRepository(from: string, to: string): Promise<void> {
  const copy = ["clone", "--quiet", "--mirror", "--no-hardlinks", "--end-of-options", from, to];
  await git(null, copy, { within: Number.POSITIVE_INFINITY });
  await copyFile(join(from, "config"), join(to, "config"));
  await copyFile(join(from, "HEAD"), join(to, "HEAD"));
}

/** What is known of how a ref moved after the database was copied. */
interface Moved {
  ref: string;
  old: string;
  next: string;
  happened: number;
}

/**
 * Puts refs to where they were at the moment of the copied database: all moves are written down, so those after it are taken back. A push
 * that was announced and not confirmed counts where the ref stands at what it brings; what is under way now, by its intent.
 */
async function putBack(app: AppContext, repository: string, folder: string, copied: Copied): Promise<void> {
  const sqlite = new Sqlite(join(app.settings.data, "lens.db"), { readonly: true, timeout: 10_000 });
  // Intents first: one that ends in between has become a move.
  const intents = sqlite
    .prepare(
      "select ref_intents.id, 'refs/heads/' || branch as ref, from_commit as old, to_commit as next, 0 as happened from ref_intents join change_sets on change_sets.id = change_set where repository = ?",
    )
    .all(repository) as (Moved & { id: string })[];
  const moves = sqlite
    .prepare("select ref, old, next, happened from ref_moves where repository = ? and rowid > ? order by rowid")
    .all(repository, copied.lastMove) as Moved[];
  sqlite.close();
  const { stdout } = await git(folder, ["for-each-ref", "--format=%(refname) %(objectname)"]);
  const now = new Map(
    stdout
      .toString()
      .split("\n")
      .map((line) => line.split(" ") as [string, string]),
  );
  const before = new Map<string, string>();
  for (const { ref, old, next, happened } of [...moves, ...intents.filter(({ id }) => !copied.intents.has(id))])
    if (!before.has(ref) && (happened === 1 || now.get(ref) === next)) before.set(ref, old);
  for (const [ref, old] of before) {
    const args = /^0+$/.test(old) ? ["update-ref", "-d", ref] : ["update-ref", ref, old];
    await git(folder, args, { answers: [1, 128] });
  }
}

/** Puts a backup into a data folder in which nothing is. Check it before it is served: see {@link checkAll}. */
export async function restore(backup: string, data: string): Promise<Outcome<Manifest>> {
  const file = join(backup, "backup.json");
  if (!existsSync(file)) return refuse("missing", `${backup} is no backup: it has no backup.json.`);
  const parsed = v.safeParse(manifest, JSON.parse(await readFile(file, "utf8")));
  if (!parsed.success) return refuse("invalid", `${file} cannot be read: ${parsed.issues[0].message}`);
  if (existsSync(data) && readdirSync(data).length > 0)
    return refuse("conflict", `${data} is not empty: a backup is restored into an empty data folder.`);
  await mkdir(join(data, "repositories"), { recursive: true });
  for (const { id } of parsed.output.repositories)
    await copyRepository(join(backup, "repositories", `${id}.git`), join(data, "repositories", `${id}.git`));
  await copyFile(join(backup, "lens.db"), join(data, "lens.db"));
  return done(parsed.output);
}
