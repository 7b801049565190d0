import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Kysely, sql } from "kysely";
import Sqlite from "libsql";
import { afterAll, describe, expect, it } from "vitest";
import { openDatabase } from "./database";
import { up as makeHooksAnew } from "./migrations/0029-hooks-of-all";
import { up as numberWords } from "./migrations/0036-number-of-words";
import { bringUpToDate } from "./project";

const repository = (name: string, created_at = 1) => ({
  ...{ id: name, name, default_branch: "main", created_at, description: "" },
  ...{ open_to_all: 0, archived_at: null, deleted_at: null, ledger: 1 },
});

const folder = mkdtempSync(join(tmpdir(), "lens-store-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe("the database", () => {
  it("keeps what a transaction wrote, drops what a failed one wrote, and opens a second time without a change", async () => {
    const file = join(folder, "lens.db");
    const db = await openDatabase(file);
    await db.transaction().execute((tx) => tx.insertInto("repositories").values(repository("kept")).execute());
    const failing = db.transaction().execute(async (tx) => {
      await tx.insertInto("repositories").values(repository("dropped")).execute();
      throw new Error("stop");
    });
    await expect(failing).rejects.toThrow("stop");
    await db.destroy();
    const again = await openDatabase(file);
    expect(await again.selectFrom("repositories").select("name").execute()).toEqual([{ name: "kept" }]);
    await again.destroy();
  });

  it("lets two connections write in turn: the second waits instead of failing", async () => {
    const file = join(folder, "two.db");
    const one = await openDatabase(file);
    const two = await openDatabase(file);
    const add = (db: typeof one, name: string) =>
      db.transaction().execute(async (tx) => {
        const { length } = await tx.selectFrom("repositories").select("id").execute();
        await tx.insertInto("repositories").values(repository(name, length)).execute();
      });
    for (let i = 0; i < 20; i++) await add(i % 2 ? one : two, `r${i}`);
    const rows = await one.selectFrom("repositories").select("created_at").orderBy("created_at").execute();
    expect(rows.map((row) => row.created_at)).toEqual(Array.from({ length: 20 }, (_, i) => i));
    await one.destroy();
    await two.destroy();
  });

  it("keeps what its tables hold where they are made anew", async () => {
    const db = await openDatabase(join(folder, "anew.db"));
    await db.insertInto("repositories").values(repository("quay")).execute();
    const { id } = await db.selectFrom("repositories").select("id").executeTakeFirstOrThrow();
    const hook = { id: "h", repository: id, url: "https://x", secret: "s", kinds: "[]", made_at: 1 };
    await db.insertInto("hooks").values(hook).execute();
    const sent = { hook: "h", change_set: "c", event: "e", kind: "merged", body: "{}", at: 1, tries: 1, answer: "" };
    await db
      .insertInto("deliveries")
      .values({ id: "d", due_at: 5, done_at: null, ...sent })
      .execute();
    await makeHooksAnew(db as unknown as Kysely<unknown>);
    expect(await db.selectFrom("hooks").selectAll().execute()).toEqual([hook]);
    expect(await db.selectFrom("deliveries").select(["id", "due_at"]).execute()).toEqual([{ id: "d", due_at: 5 }]);
    await db
      .insertInto("hooks")
      .values({ ...hook, id: "of all", repository: null })
      .execute();
    await db.deleteFrom("hooks").execute();
    // What belongs to a webhook goes with it.
    expect(await db.selectFrom("deliveries").select("id").execute()).toEqual([]);
    await db.destroy();
  });

  it("finds words as before, once their numbers stand with the change sets, and drops those of nobody", async () => {
    const db = await openDatabase(join(folder, "words.db"));
    const row = { repository: "quay", title: "t", author: "a", state: "open" as const, source: "s", target: "main" };
    const rest = { revision: 1, head: "h", open_threads: 0, opened_at: 1, changed_at: 1, merge_asked: 0 };
    const set = (id: string, number: number) => ({ id, number, ...row, ...rest, turn: "author" as const, checks: "" });
    await db
      .insertInto("change_sets")
      .values([set("one", 1), set("two", 2)])
      .execute();
    for (const [rowid, title] of [
      [3, "crane"],
      [7, "buoy"],
      [9, "of nobody"],
    ] as const)
      await db.insertInto("change_words").values({ rowid, title, description: "", talk: "" }).execute();
    // As it was before the step.
    for (const name of ["by", "with"]) await sql.raw(`drop index change_sets_${name}_words`).execute(db);
    await sql`alter table change_sets drop column words`.execute(db);
    await sql`create table change_words_of (id integer primary key, change_set text not null unique)`.execute(db);
    await sql`insert into change_words_of values (7, 'one'), (3, 'two'), (9, 'gone')`.execute(db);
    await numberWords(db as unknown as Kysely<unknown>);
    const found = await db
      .selectFrom("change_words")
      .leftJoin("change_sets", "change_sets.words", "change_words.rowid")
      .select(["id", "change_words.title"])
      .orderBy("id")
      .execute();
    expect(found).toEqual([
      { id: "one", title: "buoy" },
      { id: "two", title: "crane" },
    ]);
    await db.destroy();
  });

  it("makes lists again that an older version made, once, and not where that fails", async () => {
    const db = await openDatabase(join(folder, "lists.db"));
    const made: string[] = [];
    const failing = bringUpToDate(db, () => Promise.reject(new Error("the disk is full")));
    await expect(failing).rejects.toThrow("the disk is full");
    for (const name of ["first", "second"]) await bringUpToDate(db, async () => made.push(name));
    expect(made).toEqual(["first"]);
    await db.destroy();
  });

  it("is copied before its tables are changed, and refuses to be opened by an older version", async () => {
    const file = join(folder, "old.db");
    const db = await openDatabase(file);
    await db.insertInto("repositories").values(repository("quay")).execute();
    // As it was before a step that was taken.
    const last = "0028-neighbours";
    await sql`delete from kysely_migration where name >= ${last}`.execute(db);
    await db.destroy();
    // That step cannot be taken twice, so it fails: what was there before is there still, and once more beside it.
    await expect(openDatabase(file)).rejects.toThrow(/could not be brought up to date/);
    const copy = new Sqlite(`${file}.before-${last}`);
    expect(copy.prepare("select name from repositories").all()).toMatchObject([{ name: "quay" }]);
    copy.prepare("insert into kysely_migration (name, timestamp) values (?, ?)").run("9999-later", "2030");
    copy.close();
    await expect(openDatabase(`${file}.before-${last}`)).rejects.toThrow(
      /newer version.*“9999-later”.*Nothing was changed/,
    );
  });
});
