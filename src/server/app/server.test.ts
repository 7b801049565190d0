import { existsSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect } from "vitest";
import type { FileView } from "@/core/diff/view";
import { layRows } from "@/core/reading/rows";
import type { CommandRequest } from "@/core/review/families/table";
import type { Unsent } from "@/core/views/api";
import { story } from "@/server/testing/story";
import { rebuild } from "@/store/log";
import { addRepository, fetchRepository } from "../access/repositories";
import { desk } from "../changes/desk";
import { dropUnsent, keepUnsent, unsentOf } from "../changes/unsent";
import { filesBetween } from "../reading/files-between";
import { markRead } from "../reading/read-marks";
import { fileView, followReading, readingFor } from "../reading/reading";
import { statesOf } from "../reading/states";
import { setRule } from "../rules/rules";
import { Bench, reason, value } from "../testing/bench";
import { readSettings } from "./settings";

const it = story();

const approve = (revision: number): CommandRequest => ({
  kind: "send-review",
  revision,
  verdict: "approve",
  remark: "",
});
const merge = (revision: number, message = "Merge it"): CommandRequest => ({ kind: "merge", revision, message });

let bench: Bench;
let work: string;

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", {
    main: [{ "a.txt": "one\ntwo\nthree\n", "b.txt": "b\n" }],
    topic: [{ "a.txt": "one\n2\nthree\nfour\n", "new/file.ts": "export const x = 1;\n" }],
    other: [{ "c.txt": "c\n" }],
    clash: [{ "a.txt": "one\nTWO\nthree\n" }],
    same: [],
  });
  await bench.takeIn("quay", work);
  for (const [name, role] of [
    ["ada", "contributor"],
    ["ben", "contributor"],
    ["kit", "keeper"],
    ["rea", "reader"],
  ] as const) {
    await bench.person(name, { quay: role });
  }
  await bench.person("out");
});
afterAll(() => bench.clear());

describe("taking a repository in", () => {
  const add = async (name: string, path: string) =>
    reason(await addRepository(bench.app, name, { kind: "folder", path }));

  it("says what is wrong, each in its own words, and changes nothing", async () => {
    const before = readdirSync(join(bench.folder, "data/repositories"));
    expect(await add("x", join(bench.folder, "nowhere"))).toMatch(/There is nothing at/);
    expect(await add("x", join(work, "a.txt"))).toMatch(/is a file/);
    expect(await add("x", join(bench.folder, "data"))).toMatch(/is not a git repository/);
    expect(await add("x", join(work, "new", "..", ".git", "objects"))).toMatch(/is not a git repository/);
    const empty = await bench.repository("empty", {});
    expect(await add("x", empty)).toMatch(/is empty/);
    expect(await add("quay", work)).toMatch(/already/);
    for (const name of ["", "Quay", "../x", "a/b", "-x", "x.git", "a..b", " "])
      expect(await add(name, work)).toMatch(/cannot be the name/);
    expect(readdirSync(join(bench.folder, "data/repositories"))).toEqual(before);
  });

  it("takes bare ones too, with all branches and tags", async () => {
    const bare = join(bench.folder, "work", "bare.git");
    await bench.git(work, "tag", "v1", "main");
    await bench.git(bench.folder, "clone", "--quiet", "--bare", work, bare);
    const { repository, branches } = value(await addRepository(bench.app, "bare", { kind: "folder", path: bare }));
    expect(branches).toBe(5);
    const folder = join(bench.folder, "data/repositories", `${repository.id}.git`);
    expect(await bench.git(folder, "rev-parse", "refs/tags/v1")).toBe(await bench.git(work, "rev-parse", "main"));
    expect(existsSync(join(folder, "objects/info/alternates"))).toBe(false);
  });
});

describe("settings", () => {
  it("stop with a sentence that names the wrong value", () => {
    expect(value(readSettings({ LENS_DATA: "/tmp/x", PORT: "80" }))).toMatchObject({ data: "/tmp/x", port: 80 });
    for (const PORT of ["", "0", "65536", "http", "8e3", "-1"])
      expect(reason(readSettings({ PORT }))).toMatch(/^PORT /);
    expect(reason(readSettings({ LENS_DATA: " " }))).toMatch(/LENS_DATA is empty/);
    expect(reason(readSettings({ LENS_MAIL: "mail.example" }))).toMatch(/LENS_MAIL .* It is “mail.example”/);
    for (const name of ["LENS_MAIL", "LENS_MAIL_FETCH"])
      expect(reason(readSettings({ [name]: "smtp//lens:harbour-word@mail.example" }))).not.toContain("harbour-word");
    expect(reason(readSettings({ LENS_DATA: join(work, "a.txt") }))).toMatch(/LENS_DATA names a file/);
    expect(reason(readSettings({ LENS_ADDRESS: "lens" }))).toMatch(/LENS_ADDRESS is not an address/);
  });
});

describe("a change set", () => {
  it("is refused with the reason, or opened as r1 and kept alive", async () => {
    expect(reason(await bench.open("rea", "quay", "topic"))).toMatch(/Only contributors/);
    expect(reason(await bench.open("out", "quay", "topic"))).toMatch(/no repository “quay” that you may see/);
    expect(reason(await bench.open("ada", "quay", "same"))).toMatch(/no difference/);
    for (const odd of ["nowhere", "--upload-pack=x", "a b", "..", "topic\0", "HEAD", ""]) {
      expect(reason(await bench.open("ada", "quay", odd))).toMatch(/There is no branch/);
    }
    const change = value(await bench.open("ada", "quay", "topic"));
    expect(change).toMatchObject({ number: 1, state: "open", revisions: [{ number: 1 }] });
    expect(reason(await bench.open("ben", "quay", "topic"))).toMatch(/Change set 1 is already open/);
    const { folder } = await bench.change("quay", 1);
    await bench.git(folder, "update-ref", "-d", "refs/heads/topic");
    await bench.git(folder, "gc", "--prune=now", "--quiet");
    expect(await bench.git(folder, "cat-file", "-t", change.revisions[0].head)).toBe("commit");
    await bench.git(folder, "update-ref", "refs/heads/topic", change.revisions[0].head);
  });

  it("is read: files, counts as they come, one file with its text, marks that stay until the file changes", async () => {
    const { change, folder } = await bench.change("quay", 1);
    const ben = bench.people.get("ben")!;
    const ada = bench.people.get("ada")!;
    const name = { from: "base", to: "r1" };
    const points = value(await statesOf(bench.app, ben, change, folder, "base", "r1"));
    const files = await filesBetween(bench.app, folder, points);
    expect(files.map(({ path }) => path)).toEqual(["a.txt", "new/file.ts"]);
    const told = new Map<string, number[]>();
    // Back again: that is not read beforehand, as what was pushed is, perhaps by now.
    const back = { ...points, from: points.to, to: points.from };
    for await (const line of followReading(bench.app, folder, back, new AbortController().signal)) {
      for (const { path, counts } of line) told.set(path, counts);
    }
    expect(told).toEqual(
      new Map([
        ["a.txt", [1, 2]],
        ["new/file.ts", [0, 1]],
      ]),
    );
    const readingOf = (who: typeof ben) => readingFor(bench.app, who, change, folder, name, points, { whole: true });
    const reading = await readingOf(ben);
    expect(reading.files.map(({ path, counts, toRead }) => ({ path, counts, toRead }))).toEqual([
      { path: "a.txt", counts: [2, 1], toRead: 3 },
      { path: "new/file.ts", counts: [1, 0], toRead: 1 },
    ]);
    const [file] = reading.files;
    const view: FileView = JSON.parse(await fileView(bench.app, folder, file.oldId, file.newId));
    expect(view).toMatchObject({ text: "one\n2\nthree\nfour", removed: "two" });
    expect(layRows(view.comparison.hunks, view.comparison.newLines, []).count).toBe(5);
    const mark = { path: "a.txt", oldId: file.oldId, newId: file.newId, revision: 1, read: true };
    await markRead(bench.app, ben, change, folder, mark);
    expect((await readingOf(ben)).files[0].read).toBe("read");
    expect((await readingOf(ada)).files[0].read).toBe("unread");
    const { head, base } = change.revisions[0];
    expect(value(await statesOf(bench.app, ben, change, folder, `before:${head}`, `at:${head}`))).toMatchObject({
      from: base,
      to: head,
    });
    for (const [from, to] of [
      ["base", "r9"],
      [`before:${base}`, `at:${base}`],
      [`before:${head}`, "r1"],
      ["before:x", "at:x"],
    ]) {
      expect(reason(await statesOf(bench.app, ben, change, folder, from, to))).toMatch(/nothing to compare/);
    }
  });
});

describe("unsent remarks", () => {
  it("are their writer's alone, hold the lines as they are, and are sent as one", async () => {
    const { change, folder } = await bench.change("quay", 1);
    const [ben, kit] = [bench.people.get("ben")!, bench.people.get("kit")!];
    const [file] = await filesBetween(bench.app, folder, {
      from: change.revisions[0].base,
      to: change.revisions[0].head,
    });
    const anchor = { revision: 1, blob: file.newId!, side: "new" as "old" | "new", path: "a.txt", start: 2, end: 2 };
    const keep = (who: typeof ben, id: string, part: Partial<typeof anchor>, body = "Why a digit?") =>
      keepUnsent(bench.app, who, change, folder, id, {
        ...{ kind: "remark", weight: "settle", suggestions: [], body },
        anchor: { kind: "lines", ...anchor, ...part },
      });
    const textOf = (note: Unsent) => (note.kind === "remark" && note.anchor.kind === "lines" ? note.anchor.text : []);
    expect(textOf(value(await keep(ben, "note-0000001", {})))).toEqual(["2"]);
    expect(reason(await keep(ben, "note-0000002", { start: 5, end: 5 }))).toMatch(/has 4 lines/);
    expect(reason(await keep(ben, "note-0000002", { start: 3, end: 2 }))).toMatch(/one line or on several/);
    expect(reason(await keep(ben, "note-0000002", { path: "b.txt" }))).toMatch(/not in r1 in that state/);
    expect(reason(await keep(ben, "note-0000002", { revision: 7 }))).toMatch(/no revision r7/);
    expect(reason(await keep(ben, "note-0000002", {}, "x".repeat(200_000)))).toMatch(/at most 100,000/);
    expect(reason(await keep(kit, "note-0000001", {}, "mine"))).toMatch(/no such note of yours/);
    expect(reason(await dropUnsent(bench.app, kit, change, "note-0000001"))).toMatch(/no such note of yours/);
    expect(await unsentOf(bench.app.db, kit, change.id)).toEqual([]);
    const old = { blob: file.oldId!, side: "old" as const };
    expect(textOf(value(await keep(ben, "note-0000003", old, "And here?")))).toEqual(["two"]);
    const sent = value(
      await bench.do("ben", "quay", 1, { kind: "send-review", revision: 1, verdict: "request-changes", remark: "" }),
    );
    expect(sent.threads.map(({ comments }) => comments[0].body)).toEqual(["Why a digit?", "And here?"]);
    expect(await unsentOf(bench.app.db, ben, change.id)).toEqual([]);
  });
});

describe("merging", () => {
  it("is refused as long as the gate is not met, and to those who may not", async () => {
    expect(reason(await bench.do("kit", "quay", 1, merge(1)))).toMatch(
      /gate is not met.*0 of 1 approval.*request for changes/,
    );
    expect(reason(await bench.do("ada", "quay", 1, approve(1)))).toMatch(/your own change set/);
    expect(reason(await bench.do("rea", "quay", 1, approve(1)))).toMatch(/As a reader/);
    expect(reason(await bench.do("out", "quay", 1, approve(1)))).toMatch(/no repository/);
    value(await bench.do("ben", "quay", 1, approve(1)));
    expect(reason(await bench.do("kit", "quay", 1, merge(1)))).toMatch(/2 threads have to be settled/);
    for (const { id } of (await bench.change("quay", 1)).change.threads)
      value(await bench.do("ada", "quay", 1, { kind: "resolve", thread: id }));
    expect(reason(await bench.do("rea", "quay", 1, merge(1)))).toMatch(/Only a keeper/);
    expect(reason(await bench.do("ben", "quay", 1, merge(1)))).toMatch(/Only a keeper/);
    expect(reason(await bench.do("kit", "quay", 1, merge(1, " ")))).toMatch(/message of the commit is empty/);
    expect(reason(await bench.do("kit", "quay", 1, merge(2)))).toBe("There is no r2: the newest is r1.");
  });

  it("merges by a commit that a clone shows, once", async () => {
    const { folder } = await bench.change("quay", 1);
    const before = await bench.git(folder, "rev-parse", "main");
    const results = await Promise.all(
      [1, 2, 3].map(() => bench.do("kit", "quay", 1, merge(1, "Merge topic\n\nReviewed."))),
    );
    expect(results.filter(({ ok }) => ok)).toHaveLength(1);
    const merged = await bench.change("quay", 1);
    const commit = merged.change.settled?.commit ?? "";
    const clone = join(bench.folder, "clone");
    await bench.git(bench.folder, "clone", "--quiet", folder, clone);
    expect(await bench.git(clone, "log", "-1", "--format=%H %P %an%n%B")).toBe(
      `${commit} ${before} ${merged.change.revisions[0].head} kit Example\nMerge topic\n\nReviewed.`,
    );
    expect(await bench.git(clone, "show", "HEAD:a.txt")).toBe("one\n2\nthree\nfour");
    expect(await bench.git(folder, "fsck", "--no-dangling")).toBe("");
    expect(await bench.app.db.selectFrom("ref_intents").selectAll().execute()).toEqual([]);
    expect(reason(await bench.do("ben", "quay", 1, approve(1)))).toMatch(/merged already/);
  });

  it("names the files of a conflict and changes nothing", async () => {
    value(await bench.open("ada", "quay", "clash"));
    value(await bench.do("ben", "quay", 2, approve(1)));
    const { folder } = await bench.change("quay", 2);
    const before = await bench.git(folder, "for-each-ref");
    expect(reason(await bench.do("kit", "quay", 2, merge(1)))).toMatch(/conflicts with main in 1 file: a\.txt/);
    expect(await bench.git(folder, "for-each-ref")).toBe(before);
    expect((await bench.change("quay", 2)).change.state).toBe("open");
  });

  it("refuses when the target moved under the merge", async () => {
    value(await bench.open("ada", "quay", "other"));
    value(await bench.do("ben", "quay", 3, approve(1)));
    const { folder } = await bench.change("quay", 3);
    const hook = join(folder, "hooks/reference-transaction");
    const before = await bench.git(folder, "rev-parse", "main");
    const away = await bench.git(folder, "rev-parse", "other");
    // Moves main away at the very moment at which the merge is about to move it.
    const script = `#!/bin/sh\nif [ "$1" = prepared ]; then printf ${away} > "$GIT_DIR/refs/heads/main"; exit 1; fi\n`;
    writeFileSync(hook, script, { mode: 0o755 });
    expect(reason(await bench.do("kit", "quay", 3, merge(1)))).toMatch(/main has moved just now. Nothing was changed/);
    writeFileSync(hook, "#!/bin/sh\nexit 0\n", { mode: 0o755 });
    await bench.git(folder, "update-ref", "refs/heads/main", before);
    // A lock that was left is called one, and nothing else.
    const lock = join(folder, "refs/heads/main.lock");
    writeFileSync(lock, "");
    expect(reason(await bench.do("kit", "quay", 3, merge(1)))).toMatch(/the lock refs\/heads\/main\.lock is there/);
    rmSync(lock);
    expect(await bench.git(folder, "rev-parse", "main")).toBe(before);
    expect((await bench.change("quay", 3)).change.state).toBe("open");
    expect(await bench.app.db.selectFrom("ref_intents").selectAll().execute()).toEqual([]);
  });

  it("settles after a crash what was begun: done if the branch was moved, forgotten if not", async () => {
    const { change, folder } = await bench.change("quay", 3);
    const main = await bench.git(folder, "rev-parse", "main");
    const intend = (to: string) =>
      bench.app.db
        .insertInto("ref_intents")
        .values({
          id: bench.app.newId(),
          change_set: change.id,
          by: bench.people.get("kit")!.id,
          at: Date.UTC(2026, 5, 1),
          branch: "main",
          from_commit: main,
          to_commit: to,
          event: JSON.stringify({
            kind: "merged",
            data: { revision: 1, commit: to, target: main, message: "m", kind: "merge" },
          }),
        })
        .execute();
    await intend(change.revisions[0].head);
    await bench.app.close();
    await bench.start();
    expect((await bench.change("quay", 3)).change.state).toBe("open");
    await intend(main);
    await bench.app.close();
    await bench.start();
    expect((await bench.change("quay", 3)).change).toMatchObject({ state: "merged", settled: { commit: main } });
    expect(await bench.app.db.selectFrom("ref_intents").selectAll().execute()).toEqual([]);
  });
});

describe("revisions", () => {
  it("record where the branch went, outdate approvals, and are refused when it has not moved", async () => {
    expect(reason(await bench.do("ada", "quay", 2, { kind: "revise" }))).toMatch(/has not moved/);
    await bench.git(work, "checkout", "--quiet", "clash");
    await bench.commit(work, "again", { "d.txt": "d\n" });
    await bench.commit(work, "apart", { "e.txt": "e\n" });
    await bench.git(work, "branch", "-f", "main", "clash~1");
    expect(value(await fetchRepository(bench.app, "quay"))).toEqual([
      { branch: "clash", what: "moved on" },
      { branch: "main", what: "kept" },
    ]);
    await bench.git(work, "commit", "--quiet", "--amend", "-m", "reworded");
    expect(value(await fetchRepository(bench.app, "quay"))).toContainEqual({ branch: "clash", what: "rewritten" });
    expect(reason(await fetchRepository(bench.app, "none"))).toMatch(/no repository/);
    expect(reason(await bench.do("rea", "quay", 2, { kind: "revise" }))).toMatch(/Only contributors/);
    expect(value(await bench.do("ada", "quay", 2, { kind: "revise" })).revisions).toHaveLength(2);
    expect(reason(await bench.do("kit", "quay", 2, merge(2)))).toMatch(
      /1 approval of an earlier revision no longer counts/,
    );
    expect(reason(await bench.do("ben", "quay", 2, approve(1)))).toMatch(/r2 has come since/);
  });
});

describe("the lists", () => {
  it("are the same when they are made again from the log", async () => {
    const { db } = bench.app;
    const tables = async () => ({
      changes: await db.selectFrom("change_sets").selectAll().orderBy("id").execute(),
      people: await db.selectFrom("change_set_people").selectAll().orderBy("change_set").orderBy("person").execute(),
    });
    const before = await tables();
    expect(before.changes).toHaveLength(3);
    expect(before.people.length).toBeGreaterThan(3);
    await db.updateTable("change_sets").set({ title: "spoilt" }).execute();
    expect(await db.transaction().execute((tx) => rebuild(tx))).toBe(3);
    expect(await tables()).toEqual(before);
  });

  it("put each change set on the right part of the desk, and show nothing to strangers", async () => {
    const of = async (name: string) => {
      const view = await desk(bench.app, bench.people.get(name)!);
      return {
        me: view.forMe.map(({ number }) => number),
        them: view.forThem.map(({ number }) => number),
        settled: view.settled.map(({ number }) => number),
      };
    };
    expect(await of("ben")).toEqual({ me: [2], them: [], settled: [3, 1] });
    expect(await of("ada")).toEqual({ me: [], them: [2], settled: [3, 1] });
    expect(await of("out")).toEqual({ me: [], them: [], settled: [] });
  });

  it("follow the rule of the branch", async () => {
    value(await setRule(bench.app, "quay", "main", { approvals: { count: 2 } }));
    value(await bench.do("ben", "quay", 2, approve(2)));
    expect(reason(await bench.do("kit", "quay", 2, merge(2)))).toMatch(/1 of 2 approvals of r2/);
    expect(reason(await setRule(bench.app, "quay", "main", { approvals: { count: 1.5 } }))).toMatch(/Invalid integer/);
    expect(reason(await setRule(bench.app, "quay", "a(b", { approvals: { count: 1 } }))).toMatch(
      /of special signs only/,
    );
  });
});
