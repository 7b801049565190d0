import { existsSync, readdirSync, statSync } from "node:fs";
import { join } from "node:path";
import { sql } from "kysely";
import { wordsOf } from "@/core/house/lists/listed";
import { wrongShape } from "@/core/review/evolve";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import { isAncestor } from "@/git/history/commits";
import { branches, resolveCommit, revisionRef } from "@/git/repository";
import { git } from "@/git/run";
import { BrokenLog, eventsOf, forgetStates, loadChangeSet } from "@/store/log";
import { peopleRowsOf, rowOf } from "@/store/project";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";

/** Something that is not as it should be, and what to do about it. Notes are no harm. */
export interface Trouble {
  kind: "wrong" | "note";
  where: string;
  what: string;
  todo: string;
}

/**
 * Holds everything against everything: the database against itself, the log against the tables that are made of it, the log against the
 * refs, each repository against itself, and looks for what was left over. Changes nothing.
 */
export async function checkAll(
  app: AppContext,
  progress: (words: string) => void = () => undefined,
): Promise<Trouble[]> {
  progress("The database …");
  const troubles = [...(await checkDatabase(app)), ...leftOvers(app)];
  progress("The log …");
  const changes = await readLog(app, troubles);
  const repositories = await app.db.selectFrom("repositories").select(["id", "name"]).execute();
  for (const { id, name } of repositories) {
    progress(`${name} …`);
    const folder = folderOf(app, { id });
    if (!existsSync(folder)) {
      troubles.push(wrong(name, "its git data is not in the data folder", "Restore it from a backup."));
      continue;
    }
    troubles.push(...(await checkRepository(folder, name)));
    for (const change of changes)
      if (change.repository === id) troubles.push(...(await checkRefs(folder, name, change)));
  }
  return troubles;
}

function wrong(where: string, what: string, todo: string): Trouble {
  return { kind: "wrong", where, what, todo };
}

async function checkDatabase({ db }: AppContext): Promise<Trouble[]> {
  const { rows } = await sql<{ integrity_check: string }>`pragma integrity_check`.execute(db);
  const keys = await sql<{ table: string }>`pragma foreign_key_check`.execute(db);
  const intents = await db.selectFrom("ref_intents").select("id").execute();
  const todo = "Stop the server, and restore a backup.";
  return [
    ...rows
      .filter(({ integrity_check: says }) => says !== "ok")
      .map(({ integrity_check: says }) => wrong("database", says, todo)),
    ...keys.rows.map(({ table }) => wrong("database", `a row of ${table} belongs to nothing`, todo)),
    ...intents.map(
      ({ id }): Trouble => ({
        kind: "note",
        where: "database",
        what: `a move of a branch was not brought to its end (${id})`,
        todo: "Start the server: it settles it.",
      }),
    ),
  ];
}

const MISSHAPEN = "Restore a backup in which it is whole; until then what it says may be shown wrongly.";

/** Every change set as its log tells it, held against the lists. */
async function readLog({ db }: AppContext, troubles: Trouble[]): Promise<ChangeSet[]> {
  forgetStates();
  const streams = await db.selectFrom("events").select("stream").distinct().execute();
  const rows = new Map((await db.selectFrom("change_sets").selectAll().execute()).map((row) => [row.id, row]));
  const changes: ChangeSet[] = [];
  for (const { stream } of streams) {
    try {
      const change = await loadChangeSet(db, stream);
      if (!change) continue;
      changes.push(change);
      for (const event of await eventsOf(db, stream)) {
        const shape = wrongShape(event);
        if (shape) troubles.push(wrong(`change set ${change.number}`, `entry ${event.id}: ${shape}`, MISSHAPEN));
      }
      const { words, ...row } = rows.get(stream) ?? { words: null };
      const said = await db.selectFrom("change_words").selectAll().where("rowid", "=", words).executeTakeFirst();
      const people = await db
        .selectFrom("change_set_people")
        .selectAll()
        .where("change_set", "=", stream)
        .orderBy("person")
        .execute();
      const ordered = peopleRowsOf(change).sort((a, b) => (a.person < b.person ? -1 : 1));
      const expected = [rowOf(change), ordered, wordsOf(change)];
      if (canonical(expected) !== canonical([row, people, said]))
        troubles.push(
          wrong(`change set ${change.number}`, "the lists tell it otherwise than the log", "Run “lens rebuild”."),
        );
    } catch (error) {
      if (!(error instanceof BrokenLog)) throw error;
      troubles.push(
        wrong(`change set ${stream}`, error.message, "Restore a backup; nothing can make the entry again."),
      );
    }
    rows.delete(stream);
  }
  for (const id of rows.keys())
    troubles.push(wrong(`change set ${id}`, "it is in the lists and not in the log", "Run “lens rebuild”."));
  return changes;
}

/** JSON with the names of each object in order, so that equal things are equal texts. */
function canonical(thing: unknown): string {
  return JSON.stringify(thing, (_, value: unknown) =>
    typeof value === "object" && value !== null && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  );
}

/** A change set held against the refs of its repository. */
async function checkRefs(folder: string, name: string, change: ChangeSet): Promise<Trouble[]> {
  const troubles: Trouble[] = [];
  const where = `${name}, change set ${change.number}`;
  for (const { number, head } of change.revisions) {
    if ((await resolveCommit(folder, revisionRef(change.id, number, "head"))) !== head)
      troubles.push(
        wrong(where, `the commit of r${number} is not kept`, "Push the branch again; or restore a backup."),
      );
  }
  const tips = new Map((await branches(folder)).map(({ name: branch, commit }) => [branch, commit]));
  const target = tips.get(change.target);
  const merged = change.state === "merged" ? change.settled?.commit : null;
  if (merged && target && !(await isAncestor(folder, merged, target)))
    troubles.push(
      wrong(
        where,
        `it was merged as ${merged.slice(0, 12)}, which ${change.target} does not have`,
        "See who moved it: “lens audit”.",
      ),
    );
  const source = tips.get(change.source);
  if (goesOn(change) && source !== newest(change).head)
    troubles.push({
      kind: "note",
      where,
      what: `${change.source} stands elsewhere than r${newest(change).number}`,
      todo: "The server records it within the hour where it knows who pushed; else a person records it.",
    });
  return troubles;
}

async function checkRepository(folder: string, name: string): Promise<Trouble[]> {
  const { code, stdout, stderr } = await git(
    folder,
    ["fsck", "--connectivity-only", "--no-dangling", "--no-progress"],
    {
      answers: [1, 2, 4, 8, 128],
      within: Number.POSITIVE_INFINITY,
    },
  );
  const troubles: Trouble[] = [];
  if (code !== 0) {
    const said = `${stdout.toString("utf8")}${stderr}`.trim().split("\n").slice(0, 3).join("; ");
    troubles.push(wrong(name, `git finds it damaged: ${said}`, "Restore it from a backup, or fetch what is missing."));
  }
  for (const file of filesUnder(folder)) {
    const age = Date.now() - statSync(join(folder, file)).mtimeMs;
    if (file.endsWith(".lock") && age > STALE)
      troubles.push(
        wrong(name, `a lock of git was left: ${file}`, `When no git is at work here, remove ${join(folder, file)}.`),
      );
    else if (/\/tmp_(?:pack|idx|obj)_/.test(`/${file}`) && age > STALE * 60)
      troubles.push({
        kind: "note",
        where: name,
        what: `a part of a push that was cut off: ${file}`,
        todo: `It may be removed: ${join(folder, file)}.`,
      });
  }
  return troubles;
}

/** A lock that is older was left, in milliseconds. */
const STALE = 60_000;

/** Files of a repository, without those of its objects that are as they should be. */
function filesUnder(folder: string, under = ""): string[] {
  return readdirSync(join(folder, under), { withFileTypes: true }).flatMap((entry) => {
    const path = under === "" ? entry.name : `${under}/${entry.name}`;
    if (entry.isDirectory()) return /^objects\/[0-9a-f]{2}$/.test(path) ? [] : filesUnder(folder, path);
    return [path];
  });
}

/** What processes that were killed left in the data folder. */
function leftOvers({ settings: { data } }: AppContext): Trouble[] {
  const old = (file: string) => Date.now() - statSync(join(data, file)).mtimeMs > STALE;
  const note = (file: string): Trouble => ({
    kind: "note",
    where: "data folder",
    what: `left over: ${file}`,
    todo: `It may be removed: ${join(data, file)}.`,
  });
  const probes = readdirSync(data).filter((file) => file.startsWith(".probe-") && old(file));
  const takings = readdirSync(join(data, "repositories"))
    .filter((file) => file.includes(".taking-"))
    .map((file) => `repositories/${file}`)
    .filter(old);
  return [...probes, ...takings].map(note);
}
