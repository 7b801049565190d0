import { AsyncResource } from "node:async_hooks";
import { EventEmitter, once } from "node:events";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setImmediate } from "node:timers/promises";
import fc from "fast-check";
import { sql } from "kysely";
import Sqlite from "libsql";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Database, openDatabase, type Queries } from "./database";
import { KeptAnswers } from "./kept-answers";
import { madeOnce } from "./made-once";

/** Tables that hang together in every way that there is: by a key, by what sets off what, and seen through views of views. */
const TABLES = `
  create table quays (id integer primary key, name text);
  create table berths (id integer primary key, quay integer references quays(id) on delete cascade, name text);
  create table tolls (id integer primary key, quay integer);
  create trigger toll_of after insert on quays begin insert into tolls (quay) values (new.id); end;
  create view Named as select quays.id, quays.name, berths.name as berth from QUAYS left join berths on berths.quay = quays.id;
  create view shown as select id, name from named;
`;
type Quays = Record<string, { id: number; name: string | null; quay: number | null; berth: string | null }>;

const folder = mkdtempSync(join(tmpdir(), "lens-answers-"));
let db: Database;
let other: InstanceType<typeof Sqlite>;
const on = () => db.withTables<Quays>();

beforeAll(async () => {
  db = await openDatabase(join(folder, "lens.db"));
  other = new Sqlite(join(folder, "lens.db"));
  other.exec(TABLES);
});
afterAll(async () => {
  other.close();
  await db.destroy();
  rmSync(folder, { recursive: true });
});

/** What is asked, again and again, and what it says to somebody who has never asked before. */
const ASKED: (() => { execute(): Promise<unknown[]>; compile(): { sql: string; parameters: readonly unknown[] } })[] = [
  () => on().selectFrom("quays").selectAll().orderBy("id"),
  () => on().selectFrom("quays").select("name").where("id", "=", 2),
  () =>
    on()
      .selectFrom("berths")
      .innerJoin("quays", "quays.id", "berths.quay")
      .select(["berths.name"])
      .orderBy("berths.id"),
  () =>
    on()
      .selectFrom("tolls")
      .select(({ fn }) => fn.countAll<number>().as("many")),
  () => on().selectFrom("shown").selectAll().orderBy("id").orderBy("name"),
  () =>
    on()
      .selectFrom("quays")
      .select("id")
      .where("id", "in", (inner) =>
        inner.selectFrom("berths").select("quay").where("quay", "is not", null).$castTo<{ quay: number }>(),
      )
      .orderBy("id"),
];
/** What is made of three answers, one of them by way of something that is made itself. */
const MADE_OF = [ASKED[1], ASKED[3], ASKED[4]];
const made = () =>
  madeOnce(db, "outer", async () => [
    await MADE_OF[0]().execute(),
    ...(await madeOnce(db, "inner", async () => [await MADE_OF[1]().execute(), await MADE_OF[2]().execute()])),
  ]);
const saidAnew = (ask: (typeof ASKED)[number]) => {
  const { sql, parameters } = ask().compile();
  return anew(sql, parameters);
};
const anew = (sql: string, parameters: readonly unknown[]) => other.prepare(sql).all([...parameters]);

class TakenBack extends Error {}
const number = fc.integer({ min: 1, max: 4 });
const word = fc.constantFrom("north", "south", null);

/** Whatever changes something, by the query builder, by words of SQL, in a transaction or from elsewhere. */
const DOES: Record<string, (id: number, name: string | null) => Promise<unknown>> = {
  insert: (id, name) =>
    on()
      .insertInto("quays")
      .values({ id, name })
      .onConflict((c) => c.column("id").doUpdateSet({ name }))
      .execute(),
  ignore: (id, name) => on().insertInto("quays").orIgnore().values({ id, name }).execute(),
  replace: (id, name) => on().replaceInto("quays").values({ id, name }).execute(),
  berth: (id, name) =>
    on()
      .insertInto("berths")
      .values({ id, name, quay: null })
      .onConflict((c) => c.doNothing())
      .execute(),
  moor: (id) =>
    on()
      .updateTable("berths")
      .set({ quay: (eb) => eb.selectFrom("quays").select((q) => q.fn.max("id").as("id")) })
      .where("id", "=", id)
      .execute(),
  rename: (id, name) => on().updateTable("quays").set({ name }).where("id", "=", id).returning("id").execute(),
  remove: (id) => on().deleteFrom("quays").where("id", "=", id).execute(),
  written: (id, name) => sql`Update Quays set name = ${name} where id = ${id}`.execute(db),
  elsewhere: async (id, name) => {
    other.prepare("insert or replace into quays (id, name) values (?, ?)").run([id, name]);
    await setImmediate();
  },
  together: (id, name) =>
    on()
      .transaction()
      .execute(async (tx) => {
        await tx.updateTable("quays").set({ name }).execute();
        await tx.deleteFrom("berths").where("id", "=", id).execute();
      }),
  "taken back": (id, name) =>
    on()
      .transaction()
      .execute(async (tx) => {
        await tx.insertInto("quays").orIgnore().values({ id, name }).execute();
        await tx.updateTable("quays").set({ name }).execute();
        expect(await tx.selectFrom("quays").select("name").where("id", "=", id).execute()).toEqual([{ name }]);
        throw new TakenBack();
      })
      .catch((error: unknown) => expect(error).toBeInstanceOf(TakenBack)),
};

describe("answers that are kept", () => {
  it("are those that the tables give, whatever was done and by whom", async () => {
    const step = fc.record({ does: fc.constantFrom(...Object.keys(DOES)), id: number, name: word });
    await fc.assert(
      fc.asyncProperty(fc.array(step, { maxLength: 12 }), async (steps) => {
        for (const { does, id, name } of steps) {
          // Also while it is under way.
          await Promise.all([DOES[does](id, name), made(), ...ASKED.map((ask) => ask().execute())]);
          for (const ask of ASKED) {
            const { sql, parameters } = ask().compile();
            expect(await ask().execute(), `${does} and then ${sql}`).toEqual(anew(sql, parameters));
          }
          expect(await made(), `${does} and then what was made`).toEqual(MADE_OF.map((ask) => saidAnew(ask)));
        }
      }),
      { numRuns: 60 },
    );
  });

  it("are asked for once, are nobody's to change, and end with their table", async () => {
    await on().insertInto("quays").values({ id: 9, name: "outer" }).execute();
    const ask = () => on().selectFrom("quays").selectAll().where("id", "=", 9).execute();
    const [first] = await ask();
    const again = await ask();
    expect(again[0]).toBe(first);
    expect(() => {
      first.name = "inner";
    }).toThrow(TypeError);
    again.length = 0;
    expect(await ask()).toEqual([{ id: 9, name: "outer" }]);
    // What is written elsewhere leaves it; what is written to its table ends it.
    await on().insertInto("berths").values({ id: 77, name: "x", quay: null }).execute();
    expect((await ask())[0]).toBe(first);
    await on().updateTable("quays").set({ name: "inner" }).where("id", "=", 9).execute();
    expect(await ask()).toEqual([{ id: 9, name: "inner" }]);
  });

  it("are none where each answer is another one, or large, or of bytes", async () => {
    const drawn = () =>
      on()
        .selectFrom("quays")
        .select([sql<number>`random()`.as("drawn")])
        .limit(1)
        .executeTakeFirst();
    expect((await drawn())?.drawn).not.toBe((await drawn())?.drawn);
    const long = "x".repeat(200_000);
    await on().updateTable("quays").set({ name: long }).where("id", "=", 9).execute();
    const ask = () => on().selectFrom("quays").select("name").where("id", "=", 9).executeTakeFirst();
    expect(await ask()).not.toBe(await ask());
    expect((await ask())?.name).toHaveLength(200_000);
    await on()
      .updateTable("quays")
      .set({ name: Buffer.from("abc") as never })
      .where("id", "=", 9)
      .execute();
    expect(await ask()).not.toBe(await ask());
  });

  it("are told apart by what was asked for, and none where that is no plain value", async () => {
    await on().insertInto("tolls").values({ id: 4_000_000, quay: 1 }).execute();
    const given = (value: unknown) =>
      on()
        .selectFrom("tolls")
        .select(sql<unknown>`${value}`.as("given"))
        .where("id", "=", 4_000_000)
        .executeTakeFirst();
    expect([await given(1), await given("1"), await given(null)]).toEqual([
      { given: 1 },
      { given: "1" },
      { given: null },
    ]);
    expect(await given("1")).toBe(await given("1"));
    expect(await given(1n)).not.toBe(await given(1n));
    const infinite = on().selectFrom("tolls").select("id").where("quay", "<", Number.POSITIVE_INFINITY);
    expect((await infinite.where("id", "=", 4_000_000).execute())[0]).toEqual({ id: 4_000_000 });
    expect(
      await on().selectFrom("tolls").select("id").where("quay", "<", null).where("id", "=", 4_000_000).execute(),
    ).toEqual([]);
  });

  it("are none where a password is among them", async () => {
    const person = { id: "01", name: "ada", full_name: "Ada", email: "", password: "$argon2id$", created_at: 1 };
    await db
      .insertInto("people")
      .values({ ...person, administrator: 0, demo: 0, about: "", machine: 0 })
      .execute();
    const known = () => db.selectFrom("people").select(["people.id", "people.name"]).executeTakeFirst();
    const secret = () => db.selectFrom("people").select("people.password").executeTakeFirst();
    expect(await known()).toBe(await known());
    expect(await secret()).toEqual({ password: "$argon2id$" });
    expect(await secret()).not.toBe(await secret());
  });

  it("take no more room than they are given, whatever is asked for", () => {
    const answers = new KeptAnswers(other);
    const ids = (from: number) => JSON.stringify(Array.from({ length: 2_500 }, (_, at) => `${from} ${at}`.padEnd(26)));
    const asked = (at: number) =>
      ["select id from quays where id in (select value from json_each(?))", [ids(at)]] as const;
    answers.find(...asked(0));
    for (let at = 0; at < 300; at++) answers.keep(...asked(at), [], answers.now);
    // Nothing was found each time, and what was asked takes all the room.
    expect(answers.find(...asked(299))?.value).toEqual([]);
    expect(answers.find(...asked(100))).toBeNull();
  });

  it("end when a table or a view is made anew", async () => {
    const ask = () => on().selectFrom("seen").selectAll().execute();
    await sql`create view seen as select 1 as id`.execute(db);
    expect(await ask()).toEqual([{ id: 1 }]);
    await sql`drop view seen`.execute(db);
    await sql`create view seen as select id from quays where id = 9`.execute(db);
    expect(await ask()).toEqual([{ id: 9 }]);
    await on().deleteFrom("quays").where("id", "=", 9).execute();
    expect(await ask()).toEqual([]);
  });
});

describe("what is made of answers", () => {
  /** Counts how often it is made. */
  function counted<T>(name: string, make: () => Promise<T>) {
    let times = 0;
    const ask = (of: Queries = db) =>
      madeOnce(of, name, () => {
        times++;
        return make();
      });
    return { ask, times: () => times };
  }
  const many = (of: Queries = db) =>
    of
      .withTables<Quays>()
      .selectFrom("tolls")
      .select(({ fn }) => fn.countAll<number>().as("many"))
      .executeTakeFirstOrThrow();

  it("is made once, for everybody, until something is written to a table behind it", async () => {
    const inner = counted("a count", async () => ({ deep: [await many()] }));
    const outer = counted("a count of counts", () => inner.ask());
    // What is known already is behind what is made of it, too.
    const another = counted("another", () => inner.ask());
    const first = await outer.ask();
    expect([await outer.ask(), await inner.ask(), outer.times(), inner.times()]).toEqual([first, first, 1, 1]);
    expect(await outer.ask()).toBe(first);
    expect(() => first.deep.push({ many: 0 })).toThrow(TypeError);
    expect(await another.ask()).toBe(first);
    await on().insertInto("berths").values({ id: 900, name: "x", quay: null }).execute();
    expect([await outer.ask(), await another.ask()]).toEqual([first, first]);
    expect(another.times()).toBe(1);
    await on().insertInto("tolls").values({ id: 900, quay: 1 }).execute();
    for (const { ask } of [another, outer]) expect((await ask()).deep[0].many).toBe(first.deep[0].many + 1);
    expect([outer.times(), inner.times()]).toEqual([2, 2]);
  });

  it("is made again where something was written while it was made", async () => {
    const steps = new EventEmitter();
    const read = once(steps, "read");
    const written = once(steps, "written");
    const slow = counted("slow", async () => {
      const before = await many();
      steps.emit("read");
      await written;
      return before.many;
    });
    const asked = slow.ask();
    await read;
    await on().insertInto("tolls").values({ id: 901, quay: 1 }).execute();
    steps.emit("written");
    const first = await asked;
    expect(await slow.ask()).toBe(first + 1);
  });

  it("is made each time in a transaction, and where it asked something that may change unnoticed", async () => {
    const count = counted("in a transaction", async () => 1);
    const drawn = counted("drawn", () =>
      on().selectFrom("tolls").select(sql<number>`random()`.as("drawn")).limit(1).execute(),
    );
    const written = counted("in words of SQL", () => sql`select count(*) as many from tolls`.execute(db));
    const within = counted("with a transaction", () => db.transaction().execute((tx) => many(tx)));
    const around = counted("around one with a transaction", () => within.ask());
    await db.transaction().execute(async (tx) => {
      await count.ask(tx);
      await count.ask(tx);
    });
    for (const { ask } of [drawn, written, within, around]) for (const _ of [1, 2]) await ask();
    expect([count, drawn, written, within, around].map(({ times }) => times())).toEqual([2, 2, 2, 4, 2]);
  });

  it("is not kept where it could not be made", async () => {
    const fails = counted("fails", async () => {
      await many();
      throw new TakenBack();
    });
    for (const _ of [1, 2]) await expect(fails.ask()).rejects.toThrow(TakenBack);
    expect(fails.times()).toBe(2);
  });

  it("leaves one mark on what is awaited, however many databases are open", async () => {
    const marks = () => Object.getOwnPropertySymbols(new AsyncResource("probe")).length;
    const ask = (of: Database) => madeOnce(of, "once", async () => 1);
    await ask(db);
    const before = marks();
    const others = await Promise.all([1, 2, 3].map((number) => openDatabase(join(folder, `${number}.db`))));
    for (const other of others) await ask(other);
    expect(marks()).toBe(before);
    for (const other of others) await other.destroy();
  });
});
