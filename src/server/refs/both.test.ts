import { execFileSync } from "node:child_process";
import { sql } from "kysely";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { newest } from "@/core/review/state";
import { branchCommit } from "@/git/repository";
import { story } from "@/server/testing/story";
import { append, forgetStates, loadChangeSet, loadChangeSets, rebuild } from "@/store/log";
import { folderOf } from "../access/repositories";
import { stamp } from "../changes/deciding";
import { Bench, reason, value } from "../testing/bench";
import { recordAndMove, settleIntents } from "./both";
import { catchUp } from "./catch-up";
import { announceMoves } from "./moves";

const it = story();

let bench: Bench;
let work: string;

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", {
    main: [{ "a.txt": "a\n" }],
    topic: [{ "b.txt": "b\n" }],
    other: [{ "c.txt": "c\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "contributor" });
  await bench.person("kit", { quay: "keeper" });
  for (const branch of ["topic", "other"]) value(await bench.open("ada", "quay", branch));
});
afterAll(() => bench.clear());

const merge = { kind: "merge" as const, revision: 1, message: "Merge it" };
const intents = () => bench.app.db.selectFrom("ref_intents").selectAll().execute();
const approve = (number: number, revision = 1) =>
  bench.do("ben", "quay", number, { kind: "send-review", revision, verdict: "approve", remark: "" });

/** Merges by hand, so that what belongs to it can be made to fail. */
async function carried(number: number, to: string, also: Parameters<typeof recordAndMove>[1]["also"]) {
  const { change, folder } = await bench.change("quay", number);
  const from = (await branchCommit(folder, "main"))!;
  const person = bench.people.get("kit")!;
  return recordAndMove(bench.app, {
    ...{ change, person, branch: "main", from, to, way: "merge", words: "a merge" },
    command: { ...merge, commit: to, target: from },
    also,
  });
}

describe("a branch and its record", () => {
  it("are both as they were when the database fails at the very end, and go on when it is well again", async () => {
    value(await approve(1));
    const { change, folder } = await bench.change("quay", 1);
    const before = await branchCommit(folder, "main");
    const failed = await carried(1, newest(change).head, async (tx) => {
      // Told of at COMMIT only: the branch has been moved by then.
      await sql`pragma defer_foreign_keys = on`.execute(tx);
      await tx
        .insertInto("looks")
        .values({ change_set: "nowhere", person: "nobody", path: "x", revision: 1, at: 0 })
        .execute();
    });
    expect(reason(failed)).toMatch(/database could not be written, so nothing was changed/);
    expect(await branchCommit(folder, "main")).toBe(before);
    expect(await bench.git(folder, "reflog", "show", "main")).toMatch(/taken back, it could not be recorded/);
    expect(await intents()).toEqual([]);
    expect((await bench.change("quay", 1)).change.state).toBe("open");
    value(await bench.do("kit", "quay", 1, merge));
    expect((await bench.change("quay", 1)).change.state).toBe("merged");
  });

  it("are settled later where the branch has gone on meanwhile and cannot be moved back", async () => {
    value(await approve(2));
    const { change, folder } = await bench.change("quay", 2);
    const { head } = newest(change);
    const failed = await carried(2, head, async (tx) => {
      await sql`pragma defer_foreign_keys = on`.execute(tx);
      await tx
        .insertInto("looks")
        .values({ change_set: "nowhere", person: "nobody", path: "x", revision: 1, at: 0 })
        .execute();
      await bench.git(folder, "config", "core.logAllRefUpdates", "always");
      // Whoever pushes at that moment: the hook of git runs when the branch is moved.
      const next = await bench.git(folder, "commit-tree", `${head}^{tree}`, "-p", head, "-m", "went on");
      const { writeFileSync } = await import("node:fs");
      const script = `#!/bin/sh\n[ "$1" = committed ] && printf ${next} > "$GIT_DIR/refs/heads/main"\nexit 0\n`;
      writeFileSync(`${folder}/hooks/reference-transaction`, script, { mode: 0o755 });
    });
    expect(reason(failed)).toMatch(/main has moved on since. What was done is recorded as soon as there is room/);
    (await import("node:fs")).rmSync(`${folder}/hooks/reference-transaction`);
    expect(await intents()).toHaveLength(1);
    expect(await settleIntents(bench.app)).toBe(0);
    expect(await intents()).toEqual([]);
    expect((await bench.change("quay", 2)).change).toMatchObject({ state: "merged", settled: { commit: head } });
  });
});

describe("a disk that is full", () => {
  it("leaves no merge that is in the branch and not in the log, and no dead end, wherever it strikes", async () => {
    const numbers: number[] = [];
    for (let i = 0; i < 14; i++) {
      await bench.git(work, "checkout", "--quiet", "-B", `full-${i}`, "main");
      await bench.commit(work, `full ${i}`, { [`full-${i}.txt`]: `${i}\n` });
      await bench.push("ada", "quay", `full-${i}`, `refs/heads/full-${i}`);
      const { number } = value(await bench.open("ada", "quay", `full-${i}`));
      value(await approve(number));
      numbers.push(number);
    }
    const { folder } = await bench.change("quay", numbers[0]);
    const limit = (bytes: number | "unlimited") =>
      execFileSync("prlimit", ["--pid", String(process.pid), `--fsize=${bytes}:unlimited`]);
    const outcomes: string[] = [];
    // What failed may hold the log of the database still, as it did once; a new start lets go of it.
    const empty = () => sql`pragma wal_checkpoint(truncate)`.execute(bench.app.db);
    const emptyLog = () =>
      empty().catch(async () => {
        await bench.app.close();
        await bench.start();
        await empty();
      });
    for (const [i, number] of numbers.entries()) {
      await emptyLog();
      const before = await branchCommit(folder, "main");
      // A few pages more of the log of the database each time: so it strikes at one step after the other.
      limit(9_000 * (i + 1));
      const merged = await bench.do("kit", "quay", number, merge).then(
        (outcome) => (outcome.ok ? "merged" : "refused"),
        () => "failed",
      );
      limit("unlimited");
      outcomes.push(merged);
      const { change } = await bench.change("quay", number);
      const after = await branchCommit(folder, "main");
      expect([merged, change.state]).toEqual([merged, after === before ? "open" : "merged"]);
    }
    // It was met on its way at least once before the branch was moved, and at least once after it.
    expect(outcomes).toContain("failed");
    expect(outcomes).toContain("merged");
    expect(await bench.git(folder, "reflog", "show", "main")).toMatch(/taken back, it could not be recorded/);
    expect(await settleIntents(bench.app)).toBe(0);
    for (const number of numbers)
      if ((await bench.change("quay", number)).change.state === "open")
        value(await bench.do("kit", "quay", number, merge));
    expect(await intents()).toEqual([]);
  });
});

describe("a push that landed just before the server was killed", () => {
  it("is recorded at the next start, as the push of who pushed it", async () => {
    await bench.git(work, "checkout", "--quiet", "-B", "late", "main");
    await bench.commit(work, "one", { "l.txt": "1\n" });
    await bench.push("ada", "quay", "late", "refs/heads/late");
    const { number } = value(await bench.open("ada", "quay", "late"));
    const { change, folder } = await bench.change("quay", number);
    await bench.commit(work, "two", { "l.txt": "2\n" });
    const next = await bench.git(work, "rev-parse", "late");
    const ben = bench.people.get("ben")!.id;
    await announceMoves(bench.app, change.repository, ben, [
      { ref: "refs/heads/late", old: newest(change).head, next },
    ]);
    await bench.git(folderOf(bench.app, { id: change.repository }), "fetch", "--quiet", work, "+late:late");
    expect(folder).toBe(folderOf(bench.app, { id: change.repository }));
    await bench.app.close();
    await bench.start();
    expect(await catchUp(bench.app)).toBe(1);
    expect(newest((await bench.change("quay", number)).change)).toMatchObject({ number: 2, pusher: ben, head: next });
    expect(await catchUp(bench.app)).toBe(0);
    // What nobody is known to have pushed is for a person to record.
    await bench.commit(work, "three", { "l.txt": "3\n" });
    await bench.git(folder, "fetch", "--quiet", work, "+late:late");
    expect(await catchUp(bench.app)).toBe(0);
  });
});

describe("taking back that was cut short", () => {
  it("leaves no branch that nothing offers", async () => {
    const { change, folder } = await bench.change("quay", 2);
    const next = (await branchCommit(folder, "main"))!;
    const move = { ref: "refs/heads/take-back-2", old: "0".repeat(40), next };
    await announceMoves(bench.app, change.repository, bench.people.get("ada")!.id, [move], "take-back");
    await bench.git(folder, "branch", "take-back-2", next);
    await catchUp(bench.app);
    // It may be under way still.
    expect(await branchCommit(folder, "take-back-2")).toBe(next);
    bench.pass(120_000);
    await catchUp(bench.app);
    expect(await branchCommit(folder, "take-back-2")).toBeNull();
  });
});

describe("the commits of a revision", () => {
  it("are kept, whatever others try at the same moment, and whoever may not", async () => {
    await bench.git(work, "checkout", "--quiet", "-B", "kept", "main");
    await bench.commit(work, "one", { "k.txt": "1\n" });
    await bench.push("ada", "quay", "kept", "refs/heads/kept");
    const { number } = value(await bench.open("ada", "quay", "kept"));
    await bench.commit(work, "two", { "k.txt": "2\n" });
    await bench.push("ben", "quay", "main", "refs/heads/elsewhere");
    const retarget = (by: string) => bench.do(by, "quay", number, { kind: "retarget", target: "elsewhere" });
    const { folder } = await bench.change("quay", number);
    const [, refused] = await Promise.all([bench.push("ada", "quay", "kept", "refs/heads/kept"), retarget("ben")]);
    expect(reason(refused)).toMatch(/Only the author or a keeper/);
    await Promise.all([retarget("ada"), retarget("kit"), bench.do("ben", "quay", number, { kind: "revise" })]);
    const { change } = await bench.change("quay", number);
    for (const revision of change.revisions)
      expect(await bench.git(folder, "rev-parse", `refs/lens/${change.id}/r${revision.number}/head`)).toBe(
        revision.head,
      );
  });

  it("are announced however many come at once", async () => {
    const { change } = await bench.change("quay", 2);
    const moves = Array.from({ length: 5_000 }, (_, i) => ({
      ...{ ref: `refs/heads/many/${i}`, old: "0".repeat(40), next: "a".repeat(40) },
    }));
    await announceMoves(bench.app, change.repository, bench.people.get("ada")!.id, moves);
    await bench.app.db.deleteFrom("ref_moves").where("ref", "like", "refs/heads/many/%").execute();
  });
});

describe("the log", () => {
  it("gives the lists again as they are, also when remarks stream in during merges", async () => {
    for (const branch of ["s1", "s2", "s3"]) {
      await bench.git(work, "checkout", "--quiet", "-B", branch, "main");
      await bench.commit(work, branch, { [`${branch}.txt`]: "x\n" });
      await bench.push("ada", "quay", branch, `refs/heads/${branch}`);
      const { number } = value(await bench.open("ada", "quay", branch));
      value(await approve(number));
      const talk = Array.from({ length: 8 }, (_, i) =>
        bench.do("ben", "quay", number, { kind: "send-review", revision: 1, verdict: "none", remark: `word ${i}` }),
      );
      await Promise.all([...talk.slice(0, 4), bench.do("kit", "quay", number, merge), ...talk.slice(4)]);
    }
    const { db } = bench.app;
    const lists = async () => [
      await db.selectFrom("change_sets").selectAll().orderBy("id").execute(),
      await db.selectFrom("change_set_people").selectAll().orderBy("change_set").orderBy("person").execute(),
    ];
    const before = await lists();
    await db.transaction().execute((tx) => rebuild(tx));
    expect(await lists()).toEqual(before);
  });

  it("is read from the last known entry on, and never from one that a transaction took back", async () => {
    const { change } = await bench.change("quay", 1);
    const { db } = bench.app;
    const titled = (title: string) =>
      stamp(bench.app, change, { id: change.author }, { kind: "described", data: { title, description: "" } });
    const seen = async () => (await loadChangeSet(db, change.id))!;
    const before = await seen();
    const failing = db.transaction().execute(async (tx) => {
      await append(tx, before, titled("Taken back"));
      expect((await loadChangeSet(tx, change.id))?.title).toBe("Taken back");
      throw new Error("stop");
    });
    await expect(failing).rejects.toThrow("stop");
    expect(await seen()).toEqual(before);
    await db.transaction().execute((tx) => append(tx, before, titled("Kept")));
    const grown = await seen();
    expect(grown.title).toBe("Kept");
    // The same by whichever way it is read, from the beginning or on from what was known.
    forgetStates();
    expect(await loadChangeSets(db, [change.id])).toEqual([grown]);
    expect(await seen()).toEqual(grown);
  });

  it("is broken for one change set where one entry is, with a sentence that names it", async () => {
    const { db } = bench.app;
    const { desk } = await import("../changes/desk");
    const settled = async () => (await desk(bench.app, bench.people.get("kit")!)).settled.map(({ number }) => number);
    const [newestOne, next] = await settled();
    const { change } = await bench.change("quay", newestOne);
    const row = await db
      .selectFrom("events")
      .selectAll()
      .where("stream", "=", change.id)
      .limit(1)
      .executeTakeFirstOrThrow();
    await db.updateTable("events").set({ data: "{broken" }).where("id", "=", row.id).execute();
    // As after a restart: what was read before is kept.
    forgetStates();
    await expect(bench.change("quay", newestOne)).rejects.toThrow(new RegExp(`entry ${row.id} cannot be read`));
    expect(await settled()).toContain(next);
    expect(await settled()).not.toContain(newestOne);
    await db.updateTable("events").set({ data: row.data }).where("id", "=", row.id).execute();
  });
});
