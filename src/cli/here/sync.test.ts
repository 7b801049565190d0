import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, vi } from "vitest";
import { canonical } from "@/core/doors/ledger/canonical";
import { claimOf, readKeyLine } from "@/core/doors/ledger/key-line";
import { entryPath, signedText } from "@/core/doors/ledger/ledger";
import type { ChangeSet } from "@/core/review/state";
import { newest } from "@/core/review/state";
import { appendLedger, ledgerFiles, ledgerRef } from "@/git/ledger";
import { gitText } from "@/git/run";
import { commitOfWork } from "@/git/work";
import { findPerson } from "@/server/access/people";
import type { Person } from "@/server/access/person";
import { findRepository } from "@/server/access/repositories";
import { type AppContext, openApp } from "@/server/app/context";
import { readSettings } from "@/server/app/settings";
import { findChange } from "@/server/changes/changes";
import { readingOwn, readingWork } from "@/server/changes/reading-own";
import { carryOut } from "@/server/changes/requests";
import { adoptClone } from "@/server/keeping/adopt";
import { commentsIn, keptHere } from "@/server/ledger/kept-here";
import { keyId, ledgerKey, proverOf } from "@/server/ledger/keys";
import { writeLedger } from "@/server/ledger/ledgers";
import { value } from "@/server/testing/bench";
import { story } from "@/server/testing/story";
import { forgetStates, loadChangeSet } from "@/store/log";
import { main } from "../main";

const it = story();

/** Clones of one bare repository, without any server: each has its own person and its own key. */
const folder = mkdtempSync(join(tmpdir(), "lens-sync-"));
const bare = join(folder, "bare.git");
type Name = "ann" | "ben" | "cy";
const at = (name: Name) => join(folder, name, "quay");
const git = (name: Name, ...args: string[]) => gitText(null, ["-C", at(name), ...args]);

const sync = (name: Name, ...args: string[]) => lens(name, "sync", "origin", ...args);

/** Runs a command in a clone, and gives all that it says. */
async function lens(name: Name, ...args: string[]): Promise<string> {
  vi.stubEnv("INIT_CWD", at(name));
  forgetStates();
  let said = "";
  const hear = (words: string | Uint8Array, done?: unknown) => {
    said += Buffer.from(words as Uint8Array).toString();
    if (typeof done === "function") done();
    return true;
  };
  vi.spyOn(process.stdout, "write").mockImplementation(hear as typeof process.stdout.write);
  vi.spyOn(process.stderr, "write").mockImplementation(hear as typeof process.stderr.write);
  try {
    const code = await main(args);
    if (code !== 0) said += `\nended with ${code}`;
    return said;
  } finally {
    vi.restoreAllMocks();
  }
}

interface Here {
  app: AppContext;
  person: Person;
  repository: { id: string; name: string; defaultBranch: string };
}

/** Does something in a clone, as its workspace would. */
async function within<T>(name: Name, action: (here: Here) => Promise<T>): Promise<T> {
  const data = join(at(name), ".git", "lens", "here");
  const settings = { ...value(readSettings({ LENS_DATA: data, LENS_ROOT: process.cwd() })), alone: true };
  // One process for all of them: what it remembers of a change set is that of another clone.
  forgetStates();
  const app = await openApp(settings);
  try {
    const owner = { name, fullName: `${name} Example`, email: `${name}@x.example` };
    const clone = { folder: join(at(name), ".git"), name: "quay", defaultBranch: "main" };
    value(await adoptClone(app, clone, owner));
    const [person, repository] = [await findPerson(app.db, name), await findRepository(app.db, "quay")];
    return await action({ app, person: person!, repository: repository! });
  } finally {
    await app.close();
  }
}

const keyOf = (name: Name) => within(name, async ({ app }) => (await ledgerKey(app)).id);
const idOf = (name: Name) => within(name, async ({ person }) => person.id);
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

/** An entry that a clone signs without having decided anything, in its own ledger; gives its id. */
const forge = (
  name: Name,
  said: { kind: string; stream: string; id?: string; by?: string; data: Record<string, unknown> },
) =>
  within(name, async ({ app, person, repository }) => {
    const key = await ledgerKey(app);
    const event = { id: app.newId(), version: 1, by: person.id, at: Date.now(), ...said };
    const entry = { event, signature: { key: key.id, value: key.sign(signedText(event)) } };
    const { id, fullName } = person;
    const files: [string, string][] = [
      ["format", "1\n"],
      [`keys/${key.id}.json`, `${canonical({ kind: "ed25519", public: key.public })}\n`],
      [`people/${id}.json`, `${canonical({ id, name, fullName })}\n`],
      [entryPath(event.id), `${canonical(entry)}\n`],
    ];
    const place = join(app.settings.data, "repositories", `${repository.id}.git`);
    await appendLedger(place, said.stream, [{ files, author: name, at: Date.now(), message: "forged\n" }]);
    return event.id;
  });

async function commit(name: Name, file: string, text: string, message: string): Promise<void> {
  writeFileSync(join(at(name), file), text);
  await git(name, "add", "--all");
  await git(name, "commit", "--quiet", "-m", message);
}
const offered = () =>
  within("ann", ({ app, person, repository }) => readingOwn(app, person, repository as never, "topic", "main"));

beforeAll(async () => {
  vi.stubEnv("LENS_LOG", "silent");
  await gitText(null, ["init", "--quiet", "--bare", "--initial-branch=main", bare]);
  for (const name of ["ann", "ben", "cy"] as const) {
    await gitText(null, ["clone", "--quiet", bare, at(name)]);
    await git(name, "config", "user.name", `${name} Example`);
    await git(name, "config", "user.email", `${name}@x.example`);
    await git(name, "checkout", "--quiet", "-B", "main");
    if (name !== "ann") await git(name, "pull", "--quiet", "origin", "main");
    else {
      await commit(name, "a.txt", "one\ntwo\n", "first");
      await git(name, "push", "--quiet", "origin", "main");
    }
  }
  await git("ann", "checkout", "--quiet", "-b", "topic");
  await commit("ann", "a.txt", "one\n2\n", "Say it in figures");
  await offered();
  await doing("ann", { kind: "ready" });
  stream = await within("ann", async ({ app }) => {
    const row = await app.db.selectFrom("change_sets").select("id").executeTakeFirstOrThrow();
    return row.id;
  });
});
afterAll(() => {
  vi.unstubAllEnvs();
  rmSync(folder, { recursive: true, force: true });
});

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

  it("take no revision that hides what it brings, or passes for the work of the one before", async () => {
    await git("cy", "fetch", "--quiet", "origin");
    await git("cy", "checkout", "--quiet", "-B", "sly", "origin/main");
    const main = (await git("cy", "rev-parse", "origin/main")).trim();
    const made = async (text: string) => {
      await commit("cy", "sly.txt", text, text);
      return (await git("cy", "rev-parse", "HEAD")).trim();
    };
    const [first, second] = [await made("nobody is to see this\n"), await made("harmless\n")];
    await git("cy", "push", "--quiet", "origin", "sly");
    await git("cy", "commit", "--quiet", "--amend", "-m", "the same once more");
    const again = (await git("cy", "rev-parse", "HEAD")).trim();
    await git("cy", "push", "--quiet", "origin", "HEAD:sly-again");
    for (const name of ["ann", "ben"] as const) await git(name, "fetch", "--quiet", "origin");
    const opened = { title: "Sly", description: "", source: "sly", target: "main", number: 9 };
    const offer = async (revision: { head: string; target: string; base: string }, target = "main") => {
      const id = await within("cy", async ({ app }) => app.newId());
      const { repository, answers, draft } = { repository: "r", answers: await idOf("cy"), draft: false };
      const data = { ...opened, target, revision, repository, answers, draft };
      return [id, await forge("cy", { kind: "opened", stream: id, data })];
    };
    const [, above] = await offer({ head: second, target: first, base: first });
    const [, between] = await offer({ head: second, target: main, base: first });
    const [honest] = await offer({ head: first, target: main, base: main });
    // Into a branch that is not here any more: nothing is merged into it here, and on its way into another it is measured anew.
    const [chained] = await offer({ head: second, target: first, base: first }, "gone");
    const on = { target: "main", revision: { head: second, target: first, base: first }, same: true };
    const onward = await forge("cy", { kind: "retargeted", stream: chained, data: on });
    const revised = { revision: { head: second, target: main, base: main } };
    const alike = await forge("cy", { kind: "revised", stream: honest, data: { ...revised, same: true } });
    // Nor as one that does not count: signed for somebody else, or of what was withdrawn.
    const onTop = { revision: { head: again, target: main, base: main }, same: true };
    const [another] = await offer({ head: first, target: main, base: main });
    await forge("cy", { kind: "revised", stream: another, by: await idOf("ben"), data: revised });
    const likeOthers = await forge("cy", { kind: "revised", stream: another, data: onTop });
    const [withdrawn] = await offer({ head: first, target: main, base: main });
    await forge("cy", { kind: "withdrawn", stream: withdrawn, data: {} });
    await forge("cy", { kind: "revised", stream: withdrawn, data: revised });
    await forge("cy", { kind: "opened-again", stream: withdrawn, data: {} });
    const likeNone = await forge("cy", { kind: "revised", stream: withdrawn, data: onTop });
    // What is the same as the one before it may say so.
    const [twice] = await offer({ head: second, target: main, base: main });
    await forge("cy", { kind: "revised", stream: twice, data: onTop });
    await sync("cy");
    const said = await sync("ann");
    for (const id of [likeOthers, likeNone])
      expect(said).toContain(`Left out ${id}: it says that it is the work of the revision before it, and is not`);
    expect((await within("ann", ({ app }) => loadChangeSet(app.db, twice)))!.revisions).toMatchObject([
      { head: second, same: false },
      { head: again, same: true },
    ]);
    expect(said).toContain(`Left out ${above}: main does not hold ${first.slice(0, 12)} here`);
    expect(said).toContain(`Left out ${between}: it says another base than its commits have`);
    expect(said).toContain(`Left out ${alike}: it says that it is the work of the revision before it, and is not`);
    // One that is dated before all of it holds up nothing of what comes after it.
    const morning = { revision: 1, verdict: "none", remark: "Good morning.", remarks: [] };
    const early = await forge("cy", { kind: "reviewed", stream: twice, id: `00${twice.slice(2)}`, data: morning });
    await forge("cy", { kind: "reviewed", stream: twice, data: morning });
    await sync("cy");
    expect(await sync("ann")).toMatch(new RegExp(`1 entry came[^]*Left out ${early}: it comes before`));
    expect(await sync("ben")).toMatch(new RegExp(`Left out ${early}: it comes before the change set was opened`));
    expect((await within("ben", ({ app }) => loadChangeSet(app.db, twice)))!.reviews).toHaveLength(1);
    expect(said).toContain(`Left out ${onward}: main does not hold ${first.slice(0, 12)} here`);
    expect((await within("ann", ({ app }) => loadChangeSet(app.db, chained)))!.target).toBe("gone");
    const change = await within("ann", ({ app }) => loadChangeSet(app.db, honest));
    expect(change!.revisions.map(({ head }) => head)).toEqual([first]);
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
