import { rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { claimOf, readKeyLine } from "@/core/doors/ledger/key-line";
import type { ChangeSet } from "@/core/review/state";
import { newest } from "@/core/review/state";
import { appendLedger, ledgerFiles, ledgerRef } from "@/git/ledger";
import { gitText } from "@/git/run";
import { commitOfWork } from "@/git/work";
import { findChange } from "@/server/changes/changes";
import { readingOwn, readingWork } from "@/server/changes/reading-own";
import { carryOut } from "@/server/changes/requests";
import { commentsIn, keptHere } from "@/server/ledger/kept-here";
import { keyId, proverOf } from "@/server/ledger/keys";
import { writeLedger } from "@/server/ledger/ledgers";
import { value } from "@/server/testing/bench";
import { story } from "@/server/testing/story";
import { loadChangeSet } from "@/store/log";
import { Clones, type Name } from "./testing/clones";

const it = story();

const clones = new Clones();
const { bare, at, git, sync, lens, within, keyOf, idOf, forge, commit } = clones;
const doing = (name: Name, request: Parameters<typeof carryOut>[4]) =>
  within(name, async ({ app, person }) => value(await carryOut(app, person, "quay", 1, request)));
let stream = "";
/** A change set as a clone has it, but for what is its own: which repository it lies in there. */
async function seen(name: Name): Promise<ChangeSet> {
  const change = await within(name, ({ app }) => loadChangeSet(app.db, stream));
  return { ...change!, repository: "" };
}
const review = (verdict: "approve" | "request-changes" | "none", revision: number, remark: string) =>
  ({ kind: "send-review", verdict, revision, remark }) as const;
const offered = () =>
  within("ann", ({ app, person, repository }) => readingOwn(app, person, repository as never, "topic", "main"));

beforeAll(async () => {
  await clones.make();
  await git("ann", "checkout", "--quiet", "-b", "topic");
  await commit("ann", "a.txt", "one\n2\n", "Say it in figures");
  await offered();
  await doing("ann", { kind: "ready" });
  stream = await within("ann", async ({ app }) => {
    const row = await app.db.selectFrom("change_sets").select("id").executeTakeFirstOrThrow();
    return row.id;
  });
});
afterAll(() => clones.clear());

describe("reviews between clones, without a server", () => {
  it("are given, and believed only once somebody has said whose key that is", async () => {
    expect(await sync("ann")).toMatch(/In step with origin/);
    const said = await sync("ben");
    const key = await keyOf("ann");
    expect(said).toContain(`Not believed: 2 entries of ann Example, signed by ${key}`);
    expect(await within("ben", ({ app }) => loadChangeSet(app.db, stream))).toBeNull();
    expect(await sync("ben", "--accept", "nonsense")).toMatch(/is no key/);
    expect(await sync("ben", "--accept", key)).toMatch(/Change set 1, “topic”: 2 entries came/);
    expect(await seen("ben")).toEqual(await seen("ann"));
  });

  it("go back and forth over two rounds, both offline in between", async () => {
    await doing("ben", review("request-changes", 1, "Say which figures."));
    await sync("ben");
    expect(await sync("ann")).toContain(`signed by ${await keyOf("ben")}`);
    await sync("ann", "--accept", await keyOf("ben"));
    expect((await seen("ann")).reviews).toMatchObject([{ verdict: "request-changes", by: await idOf("ben") }]);
    await commit("ann", "a.txt", "one\n2 (metres)\n", "Say in what");
    await offered();
    await sync("ann");
    expect(await sync("ben")).toMatch(/“topic”: 1 entry came/);
    await doing("ben", review("approve", 2, "Good."));
    await sync("ben");
    await sync("ann");
    await sync("cy", "--accept", await keyOf("ann"), await keyOf("ben"));
    const states = [await seen("ann"), await seen("ben"), await seen("cy")];
    expect(states[1]).toEqual(states[0]);
    expect(states[2]).toEqual(states[0]);
    expect(states[0]).toMatchObject({ state: "open", revisions: [{}, {}], reviews: [{}, { verdict: "approve" }] });
    // The commits came along, though the branch is nobody else’s.
    expect(await git("cy", "cat-file", "-t", newest(states[2]).head)).toMatch(/commit/);
  });

  it("says what nobody else was given yet, until it is", async () => {
    const kept = () =>
      within("ann", async ({ app }) => (await keptHere(app, [(await loadChangeSet(app.db, stream))!]))!.get(stream)!);
    expect(await kept()).toEqual([]);
    await doing("ann", { kind: "describe", title: "Say it in figures", description: "They are shorter." });
    expect((await kept()).map(({ kind }) => kind)).toEqual(["described"]);
    await sync("ann");
    expect(await kept()).toEqual([]);
    const said = { threads: [{ comment: "c1", body: "a" }], answers: { one: { comment: "c2" } }, comment: 3 };
    expect(commentsIn([{ data: said }, { data: "c4" }] as never)).toEqual(["c1", "c2"]);
  });

  it("come to the same where both went on without each other, and what cannot have happened is kept with its reason", async () => {
    await doing("ann", { kind: "withdraw" });
    await doing("ben", review("none", 2, "One more thing."));
    await doing("cy", { kind: "withdraw" });
    for (const name of ["ann", "ben"] as const) await sync(name, "--accept", await keyOf("cy"));
    for (const name of ["ann", "ben", "cy", "ann", "ben", "cy"] as const) await sync(name);
    const ann = await seen("ann");
    expect(ann.state).toBe("withdrawn");
    expect(ann.reviews).toHaveLength(3);
    for (const name of ["ben", "cy"] as const) expect(await seen(name)).toEqual(ann);
    // Two withdrew it, neither knowing of the other: one of them does not count.
    expect(ann.leftOut).toMatchObject([{ kind: "withdrawn", why: "it withdraws what was settled already" }]);
    // Any number of times, it stays as it is.
    expect(await sync("ann")).not.toMatch(/came/);
    await doing("ann", { kind: "open-again" });
    await sync("ann");
  });

  it("are merged in a clone, and elsewhere once the commit has come", async () => {
    await sync("ben");
    await sync("cy");
    await doing("ben", review("approve", 2, ""));
    await doing("ben", { kind: "merge", revision: 2, message: "Say it in figures" });
    expect((await seen("ben")).state).toBe("merged");
    await sync("ben");
    expect(await sync("ann")).toMatch(/Left out .*: its commit .* is not here/);
    expect((await seen("ann")).state).toBe("open");
    await git("ben", "push", "--quiet", "origin", "main");
    await git("ann", "fetch", "--quiet", "origin");
    await sync("ann");
    const { settled } = await seen("ann");
    expect(settled?.commit).toBe((await git("ann", "rev-parse", "origin/main")).trim());
    // What somebody says who did not know of it is there, and counts for nothing.
    await doing("cy", review("request-changes", 2, "Wait."));
    await sync("cy");
    await sync("ann");
    await git("cy", "fetch", "--quiet", "origin");
    await sync("cy");
    expect((await seen("ann")).leftOut.at(-1)).toMatchObject({ why: "it reviews what was merged already" });
    expect(await seen("cy")).toEqual(await seen("ann"));
  });

  it("believe a key for the people whom it spoke for first alone", async () => {
    const data = { revision: 2, verdict: "approve", remark: "As ben.", remarks: [], tasks: [] };
    const forged = await forge("cy", { kind: "reviewed", stream, by: await idOf("ben"), data });
    await sync("cy");
    const said = await sync("ann");
    expect(said).toContain(`Left out ${forged}: another key speaks for whom it names.`);
    // Nor for those who belong to this clone.
    expect(await sync("ben")).toMatch(new RegExp(`Left out ${forged}: it names somebody of this installation`));
    expect((await seen("ann")).reviews.map(({ remark }) => remark)).not.toContain("As ben.");
  });

  it("names whom a key speaks for so that nobody passes for another", async () => {
    // Cy says that they are ben.
    await within("cy", async ({ app, person }) => {
      await app.db.updateTable("people").set({ full_name: "ben Example" }).where("id", "=", person.id).execute();
    });
    const names = await within("ann", ({ app }) => app.db.selectFrom("people").select("full_name").execute());
    const [ben, cy] = [(await keyOf("ben")).slice(0, 8), (await keyOf("cy")).slice(0, 8)];
    expect(names.map(({ full_name }) => full_name).sort()).toEqual([
      ...["ann Example", `ben Example (${ben})`, `cy Example (${cy})`],
    ]);
  });

  it("lose nothing where the ref elsewhere was rewritten, or an entry changed under its name", async () => {
    const place = join(at("ann"), ".git");
    const before = await ledgerFiles(place, stream);
    const [path] = [...before.keys()].filter((name) => name.startsWith("events/"));
    await gitText(bare, ["update-ref", "-d", ledgerRef(stream)]);
    await appendLedger(bare, stream, [
      {
        files: [
          ["format", "1\n"],
          [path, "{}\n"],
        ],
        author: "x",
        at: 0,
        message: "Nothing\n",
      },
    ]);
    expect(await sync("ann")).toMatch(/In step/);
    const after = await ledgerFiles(place, stream);
    for (const [name, text] of before) expect([name, after.get(name)]).toEqual([name, text]);
    expect(await ledgerFiles(bare, stream)).toEqual(after);
    expect(await sync("ben")).toMatch(/In step/);
    expect(await seen("ben")).toEqual(await seen("ann"));
  });

  it("leaves a ledger of another format alone, on both sides, and names it", async () => {
    const tip = await gitText(bare, ["rev-parse", ledgerRef(stream)]);
    const tree = (await gitText(bare, ["ls-tree", tip])).replace(
      /(\t| )\w{40}\tformat/,
      `$1${await gitText(bare, ["hash-object", "-w", "--stdin"], { input: "2\n" })}\tformat`,
    );
    const changed = await gitText(bare, ["mktree"], { input: `${tree}\n` });
    const who = { GIT_AUTHOR_NAME: "x", GIT_AUTHOR_EMAIL: "x@x", GIT_COMMITTER_NAME: "x", GIT_COMMITTER_EMAIL: "x@x" };
    const newer = await gitText(bare, ["commit-tree", changed, "-p", tip, "-m", "newer"], { env: who });
    await gitText(bare, ["update-ref", ledgerRef(stream), newer]);
    const before = await seen("ann");
    await doing("ann", { kind: "describe", title: "Said meanwhile", description: "" });
    const said = await sync("ann");
    expect(said).toMatch(/Left the ledger \w+ alone: it is of format 2, which is newer/);
    expect(said).toContain("In step with origin.");
    expect(await gitText(bare, ["rev-parse", ledgerRef(stream)])).toBe(newer);
    expect((await seen("ann")).title).toBe("Said meanwhile");
    // Back in a format that is read, nothing was lost.
    await gitText(bare, ["update-ref", ledgerRef(stream), tip]);
    expect(await sync("ann")).toContain("In step with origin.");
    expect(await sync("ben")).toContain("1 entry came");
    expect(before.title).not.toBe("Said meanwhile");
  });

  it("keeps what is not committed to its reader: it is in no ledger, and handed over to nobody", async () => {
    writeFileSync(join(at("ann"), "b.txt"), "new\n");
    writeFileSync(join(at("ann"), ".git", "info", "exclude"), "secret.txt\n");
    writeFileSync(join(at("ann"), "secret.txt"), "hush\n");
    const status = await git("ann", "status", "--porcelain");
    const who = { fullName: "ann Example", email: "ann@x.example" };
    const head = (await commitOfWork(at("ann"), who))!;
    expect(await git("ann", "show", "--format=", "--name-only", head)).toBe("b.txt");
    expect(await git("ann", "status", "--porcelain")).toBe(status);
    const read = (commit: string) =>
      within("ann", async ({ app, person, repository }) => {
        const about = { branch: "topic", target: "main", head: commit };
        const page = value(await readingWork(app, person, repository as never, about));
        return value(await findChange(app, person, "quay", Number(page.split("/").at(-1)))).change;
      });
    const first = await read(head);
    expect(first).toMatchObject({ state: "draft", source: "topic, not committed yet", revisions: [{ head }] });
    // The same work read again is the same; what was done since is its next revision.
    expect((await read((await commitOfWork(at("ann"), who))!)).revisions).toHaveLength(1);
    writeFileSync(join(at("ann"), "b.txt"), "newer\n");
    const second = await read((await commitOfWork(at("ann"), who))!);
    expect(second.revisions).toHaveLength(2);
    await sync("ann");
    await within("ann", ({ app }) => writeLedger(app, first.id));
    const refs = await gitText(bare, ["for-each-ref", "--format=%(refname)"]);
    expect(refs).not.toContain(first.id);
    expect(await gitText(bare, ["cat-file", "-t", head], { answers: [128] })).toBe("");
    expect(await git("ann", "for-each-ref", `refs/lens/ledger/${first.id}`)).toBe("");
    rmSync(join(at("ann"), "b.txt"));
    expect(await commitOfWork(at("ann"), who)).toBeNull();
  });

  it("stands under a number that is free where two began under the same", async () => {
    await git("ben", "checkout", "--quiet", "-b", "words");
    await commit("ben", "b.txt", "b\n", "Words");
    await within("ben", ({ app, person, repository }) => readingOwn(app, person, repository as never, "words", "main"));
    await git("ann", "checkout", "--quiet", "-B", "tides", "main");
    await commit("ann", "c.txt", "c\n", "Tides");
    await within("ann", ({ app, person, repository }) => readingOwn(app, person, repository as never, "tides", "main"));
    await sync("ben");
    expect(await sync("ann")).toMatch(/Change set 4, “words”: 1 entry came/);
    expect(await sync("ben")).toMatch(/Change set 3, “tides”: 1 entry came/);
  });

  it("say to a server whose they are, by their key, and by another one when they are told to", async () => {
    const lineOf = (said: string) => readKeyLine(said.split("\n").find((line) => line.startsWith("lens-key"))!)!;
    const idIn = (line: { public: string }) => keyId(Buffer.from(line.public, "base64"));
    const line = lineOf(await lens("cy", "key", "cyrus"));
    expect(idIn(line)).toBe(await keyOf("cy"));
    const proves = (name: string) => proverOf([line.public])(idIn(line), claimOf(name), line.signature);
    expect([proves("cyrus"), proves("ann")]).toEqual([true, false]);
    const fresh = lineOf(await lens("cy", "key", "cyrus", "--new"));
    expect(idIn(fresh)).not.toBe(idIn(line));
    expect(idIn(fresh)).toBe(await keyOf("cy"));
    expect(await lens("cy", "key", "no name")).toMatch(/not the name of an account/);
  });
});
