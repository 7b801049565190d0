import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { sql } from "kysely";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { hasHiddenSigns, wrongName } from "@/core/plain/names";
import { story } from "@/server/testing/story";
import { rebuild } from "@/store/log";
import { auditEntries, COMMAND_LINE } from "../access/audit";
import { personOfSession, signIn } from "../access/sessions";
import { bearerOf, makeToken } from "../access/tokens";
import { openApp } from "../app/context";
import { holdFolder } from "../app/serving-lock";
import { bareSettings } from "../app/settings";
import { settleIntents } from "../refs/both";
import { catchUp } from "../refs/catch-up";
import { Bench, reason, value } from "../testing/bench";
import { accounts, addAccount, changeAccount } from "./accounts";
import { backUp, restore } from "./backup";
import { checkAll } from "./check";
import { tidyRepositories } from "./tidying";

const it = story();

let bench: Bench;
let work: string;
const place = mkdtempSync(join(tmpdir(), "lens-keeping-"));

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", { main: [{ "a.txt": "a\n" }] });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  await bench.person("kit", { quay: "keeper" });
});
afterAll(async () => {
  rmSync(place, { recursive: true, force: true });
  await bench.clear();
});

/** Pushes, opens, approves and merges one change set. */
async function round(name: string): Promise<void> {
  await bench.git(work, "checkout", "--quiet", "-B", name, "main");
  await bench.commit(work, name, { [`${name}.txt`]: `${name}\n` });
  await bench.push("ada", "quay", name, `refs/heads/${name}`);
  const { number } = value(await bench.open("ada", "quay", name));
  value(await bench.do("ben", "quay", number, { kind: "send-review", revision: 1, verdict: "approve", remark: "" }));
  value(await bench.do("kit", "quay", number, { kind: "merge", revision: 1, message: `Merge ${name}` }));
}

describe("a backup", () => {
  it("taken during a storm of writes is one moment of it, and everything in it fits together", async () => {
    await round("first");
    let storm = true;
    const writing = (async () => {
      for (let i = 0; storm && i < 40; i++) await round(`r${i}`);
    })();
    const folders = [];
    for (let i = 0; i < 3; i++) {
      const folder = join(place, `backup-${i}`);
      value(await backUp(bench.app, COMMAND_LINE, folder));
      folders.push(folder);
    }
    storm = false;
    await writing;
    for (const [i, folder] of folders.entries()) {
      const data = join(place, `data-${i}`);
      value(await restore(folder, data));
      const app = await openApp(bareSettings(data, process.env.LENS_ROOT ?? process.cwd()));
      await settleIntents(app);
      await catchUp(app);
      expect((await checkAll(app)).filter(({ kind }) => kind === "wrong")).toEqual([]);
      const merged = await app.db.selectFrom("change_sets").select("id").where("state", "=", "merged").execute();
      expect(merged.length).toBeGreaterThan(0);
      await app.close();
    }
    expect(reason(await backUp(bench.app, COMMAND_LINE, folders[0]))).toMatch(/is not empty/);
    expect(reason(await restore(folders[0], join(place, "data-0")))).toMatch(/is not empty/);
    expect(reason(await restore(place, join(place, "none")))).toMatch(/is no backup/);
  });
});

describe("checking", () => {
  it("finds what does not fit together, and says what to do", async () => {
    expect(await checkAll(bench.app)).toEqual([]);
    const { db } = bench.app;
    const { change, folder } = await bench.change("quay", 1);
    await db.updateTable("change_sets").set({ title: "Otherwise" }).where("id", "=", change.id).execute();
    await bench.git(folder, "update-ref", "-d", `refs/lens/${change.id}/r1/head`);
    writeFileSync(join(folder, "refs/heads/main.lock"), "");
    const { utimesSync } = await import("node:fs");
    utimesSync(join(folder, "refs/heads/main.lock"), 1, 1);
    const found = (await checkAll(bench.app)).map(({ where, what, todo }) => `${where}: ${what}. ${todo}`);
    expect(found.join("\n")).toMatch(/change set 1: the lists tell it otherwise than the log. Run “lens rebuild”/);
    expect(found.join("\n")).toMatch(/the commit of r1 is not kept/);
    expect(found.join("\n")).toMatch(/a lock of git was left: refs\/heads\/main\.lock/);
    rmSync(join(folder, "refs/heads/main.lock"));
    // Making the lists again mends them: the words that searching goes by, too, under the number that they had.
    await db.transaction().execute(rebuild);
    const lists = async () => (await checkAll(bench.app)).filter(({ what }) => what.includes("lists"));
    expect(await lists()).toEqual([]);
    await db.updateTable("change_words").set({ title: "Otherwise" }).where("rowid", "=", 1).execute();
    expect(await lists()).toHaveLength(1);
    await db.transaction().execute(rebuild);
    expect(await lists()).toEqual([]);
    // An entry that can be read and does not say what its kind says.
    const spoil = (to: string) =>
      sql`update events set data = json_set(data, '$.verdict', ${to}) where kind = 'reviewed'`.execute(db);
    await spoil("perhaps");
    expect((await checkAll(bench.app)).map(({ where, what }) => `${where}: ${what}`).join("\n")).toMatch(
      /change set 1: entry \S+: verdict: /,
    );
    await spoil("approve");
  });
});

describe("accounts", () => {
  it("are disabled at once, everywhere, and what they said stays", async () => {
    const session = value(
      await signIn(bench.app, { name: "ben", password: "long enough" }, { address: "10.0.0.9", agent: "x" }),
    );
    const token = value(await makeToken(bench.app, "ben", { label: "x" }, COMMAND_LINE));
    expect((await bearerOf(bench.app, `Bearer ${token}`))?.scopes).toEqual(["read", "write", "git"]);
    value(await changeAccount(bench.app, COMMAND_LINE, "ben", { kind: "disable" }));
    expect(await personOfSession(bench.app, session)).toBeNull();
    expect(await bearerOf(bench.app, `Bearer ${token}`)).toBeNull();
    expect(
      reason(await signIn(bench.app, { name: "ben", password: "long enough" }, { address: "10.0.0.9", agent: "x" })),
    ).toMatch(/do not match/);
    expect((await bench.change("quay", 2)).change.reviews).toHaveLength(1);
    value(await changeAccount(bench.app, COMMAND_LINE, "ben", { kind: "enable" }));
    value(await signIn(bench.app, { name: "ben", password: "long enough" }, { address: "10.0.0.9", agent: "x" }));
    const told = (await auditEntries(bench.app, { most: 50 })).map(({ what, address }) => `${what} ${address}`);
    for (const entry of ["signed-in 10.0.0.9", "sign-in-refused 10.0.0.9", "person-disabled command line"])
      expect(told).toContain(entry);
  });

  it("are never left without an administrator, and their names hide nothing", async () => {
    value(
      await addAccount(bench.app, COMMAND_LINE, {
        ...{ name: "root", fullName: "Root", email: "r@x.example", password: "long enough", administrator: true },
      }),
    );
    expect(reason(await changeAccount(bench.app, COMMAND_LINE, "root", { kind: "disable" }))).toMatch(
      /only administrator/,
    );
    expect(reason(await changeAccount(bench.app, COMMAND_LINE, "root", { kind: "administrator", on: false }))).toMatch(
      /only administrator/,
    );
    value(await changeAccount(bench.app, COMMAND_LINE, "kit", { kind: "administrator", on: true }));
    value(await changeAccount(bench.app, COMMAND_LINE, "root", { kind: "administrator", on: false }));
    const describe = { kind: "describe" as const, fullName: "Kit\u202e", email: "" };
    expect(reason(await changeAccount(bench.app, COMMAND_LINE, "kit", describe))).toMatch(/cannot be seen/);
    expect((await accounts(bench.app)).find(({ name }) => name === "kit")).toMatchObject({ administrator: true });
    for (const [text, hidden] of [
      ["Hold a berth", false],
      ["a\tb", true],
      ["a\x1b[2J", true],
      ["a\nb", true],
      ["Zoë Ølmø 船", false],
      ["👩\u200d🚀", false],
      ["a\u202eb", true],
    ] as [string, boolean][])
      expect([text, hasHiddenSigns(text)]).toEqual([text, hidden]);
    expect(wrongName(" ")).toMatch(/needs a full name/);
  });

  it("sign in by tokens that end, and do what they may and no more", async () => {
    const token = value(await makeToken(bench.app, "ada", { label: "x", scopes: ["read"], days: 7 }, COMMAND_LINE));
    expect((await bearerOf(bench.app, `Bearer ${token}`))?.scopes).toEqual(["read"]);
    bench.pass(7 * 86_400_000);
    expect(await bearerOf(bench.app, `Bearer ${token}`)).toBeNull();
    const other = value(await makeToken(bench.app, "ada", { label: "x" }, COMMAND_LINE));
    value(await changeAccount(bench.app, COMMAND_LINE, "ada", { kind: "password", password: "another one" }));
    expect(await bearerOf(bench.app, `Bearer ${other}`)).toBeNull();
  });
});

describe("tidying", () => {
  it("packs once a day when it is quiet, and keeps every revision and what is new", async () => {
    const { folder } = await bench.change("quay", 2);
    expect(await tidyRepositories(bench.app, () => false)).toBe(0);
    expect(await tidyRepositories(bench.app, () => true)).toBe(1);
    expect(await tidyRepositories(bench.app, () => true)).toBe(0);
    bench.pass(2 * 86_400_000);
    expect(await tidyRepositories(bench.app, () => true)).toBe(1);
    expect(await bench.git(folder, "count-objects")).toMatch(/^0 objects/);
    const { change } = await bench.change("quay", 2);
    expect(await bench.git(folder, "cat-file", "-t", change.revisions[0].head)).toBe("commit");
  });
});

describe("a data folder", () => {
  it("is held by one server, and the second one says by whom", () => {
    const first = value(holdFolder(place, 4310));
    expect(reason(holdFolder(place, 4311))).toMatch(
      new RegExp(`being served already: by process ${process.pid} on .*port 4310`),
    );
    first.release();
    value(holdFolder(place, 4312)).release();
  });
});
