import { afterAll, beforeAll, describe, expect } from "vitest";
import { canonical } from "@/core/doors/ledger/canonical";
import { entryPath, signedText } from "@/core/doors/ledger/ledger";
import type { CommandRequest } from "@/core/review/families/table";
import { newest } from "@/core/review/state";
import { appendLedger, ledgerFiles, ledgerRef, rememberNew } from "@/git/ledger";
import { gitText } from "@/git/run";
import { Clones } from "@/server/testing/clones";
import { serveGitOf } from "@/server/testing/git-server";
import { story } from "@/server/testing/story";
import { eventsOf, forgetStates, loadChangeSet } from "@/store/log";
import { COMMAND_LINE } from "../access/audit";
import { findPerson, setRole } from "../access/people";
import { findRepository, folderOf } from "../access/repositories";
import { carryOut } from "../changes/requests";
import { openChange } from "../changes/revisions/opening";
import { addCloneKey, ownKeyId } from "../ledger/clone-keys";
import { ledgerKey } from "../ledger/keys";
import { writeLedger } from "../ledger/ledgers";
import { Bench, reason, value } from "../testing/bench";

const it = story();

/** Change sets begin in a clone, without the server, and are offered to it. */
let bench: Bench;
let close: () => Promise<void>;
let clones: Clones;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", { main: [{ "a.txt": "one\ntwo\n" }] });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  close = await serveGitOf(bench);
  clones = new Clones(bench, "quay");
  for (const name of ["ada", "ben"]) await clones.add(name);
});
afterAll(async () => {
  await clones.close();
  await close();
  await bench.clear();
});

/** Their clone is known to the server as theirs. */
async function claim(name: string): Promise<void> {
  const asked = { line: await clones.line(name), label: "laptop" };
  value(await addCloneKey(bench.app, bench.people.get(name)!, asked, COMMAND_LINE));
}

const sync = (name: string, offer = false) => clones.sync(name, offer);

/** A branch with a commit more, in their clone. */
async function commit(name: string, branch: string, files: Record<string, string>): Promise<string> {
  const { top } = clones.of(name);
  const has = (await gitText(null, ["-C", top, "branch", "--list", branch])) !== "";
  await gitText(null, ["-C", top, "checkout", "--quiet", ...(has ? [branch] : ["-b", branch, "origin/main"])]);
  await bench.commit(top, `more of ${branch}`, files);
  return (await gitText(null, ["-C", top, "rev-parse", "HEAD"])).trim();
}

/** Opens what a branch offers, in a clone alone; gives the id of the change set. */
const begin = (name: string, branch: string) =>
  clones.as(name, async (app, owner) => {
    const request = { title: `Take ${branch}`, description: "Written on the train.", source: branch, target: "main" };
    return value(await openChange(app, owner, "quay", request)).id;
  });

const doing = (name: string, stream: string, request: CommandRequest) =>
  clones.as(name, async (app, owner) => {
    const { number } = (await loadChangeSet(app.db, stream))!;
    value(await carryOut(app, owner, "quay", number, request));
  });

const onServer = async (stream: string) => {
  forgetStates();
  const change = await loadChangeSet(bench.app.db, stream);
  forgetStates();
  return change;
};
const ledgerThere = async (stream: string) =>
  gitText(folderOf(bench.app, (await findRepository(bench.app.db, "quay"))!), ["for-each-ref", ledgerRef(stream)]);
const idOf = (name: string) => bench.people.get(name)!.id;

describe("what began in a clone", () => {
  let stream = "";

  it("is not opened for somebody whose clone nobody knows, nor without its branch, and nothing of it stays", async () => {
    await commit("ada", "topic", { "a.txt": "one\n2\n" });
    stream = await begin("ada", "topic");
    await doing("ada", stream, { kind: "send-review", verdict: "none", revision: 1, remark: "Look at line 2." });
    await sync("ada", true);
    expect(await onServer(stream)).toBeNull();
    await gitText(null, ["-C", clones.of("ada").top, "push", "--quiet", "origin", ":topic"]);
    await claim("ada");
    await sync("ada");
    expect(await onServer(stream)).toBeNull();
    expect(await ledgerThere(stream)).toBe("");
  });

  it("is opened on the server when its branch comes along: under its own id, as theirs, with all that was said", async () => {
    await sync("ada", true);
    const change = (await onServer(stream))!;
    expect(change).toMatchObject({ id: stream, title: "Take topic", number: 1, author: idOf("ada"), state: "open" });
    expect(change.revisions).toHaveLength(1);
    expect(newest(change).pusher).toBe(idOf("ada"));
    expect(change.reviews.map(({ by, remark }) => [by, remark])).toEqual([[idOf("ada"), "Look at line 2."]]);
    // Its entries stay as its author signed them.
    await writeLedger(bench.app, stream);
    const files = await ledgerFiles(folderOf(bench.app, (await findRepository(bench.app.db, "quay"))!), stream);
    const [first] = await eventsOf(bench.app.db, stream);
    expect(files.get(entryPath(first.id))).toContain((await ledgerKey(clones.of("ada").app)).id);
    expect(
      await bench.do("ada", "quay", 1, { kind: "send-review", verdict: "approve", revision: 1, remark: "" }),
    ).toEqual(expect.objectContaining({ ok: false }));
  });

  it("goes on on both sides, and each revision is one", async () => {
    value(
      await bench.do("ben", "quay", 1, { kind: "send-review", verdict: "none", revision: 1, remark: "And line 1?" }),
    );
    await writeLedger(bench.app, stream);
    const head = await commit("ada", "topic", { "a.txt": "1\n2\n" });
    await doing("ada", stream, { kind: "revise" });
    await sync("ada", true);
    expect((await onServer(stream))!.revisions.map(({ head: at }) => at).slice(1)).toEqual([head]);
    // Pushed first, recorded there, and told of by the clone afterwards: it is one all the same.
    const third = await commit("ada", "topic", { "a.txt": "1\n2\n3\n" });
    await gitText(null, ["-C", clones.of("ada").top, "push", "--quiet", "origin", "topic"]);
    await doing("ada", stream, { kind: "revise" });
    await writeLedger(bench.app, stream);
    await sync("ada", true);
    expect((await onServer(stream))!.revisions.map(({ head: at }) => at).slice(1)).toEqual([head, third]);
    const { app } = clones.of("ada");
    const here = (await loadChangeSet(app.db, stream))!;
    forgetStates();
    expect(here.revisions.map(({ head: at }) => at).slice(1)).toEqual([head, third]);
    expect(here.leftOut).toEqual([]);
  });

  it("has no suggestions carried out by the clone’s word alone", async () => {
    const head = await commit("ada", "topic", { "a.txt": "1\n2\n3\n4\n" });
    const { app, folder } = clones.of("ada");
    const base = (await gitText(folder, ["rev-parse", "origin/main"])).trim();
    const taken = [{ thread: bench.app.newId(), suggestion: bench.app.newId() }];
    const data = { revision: { head, base, target: base }, taken };
    const key = await ledgerKey(app);
    const by = (await findPerson(app.db, "ada"))!.id;
    const event = { id: bench.app.newId(), stream, version: 1, at: bench.app.now(), by, kind: "revised", data };
    const signature = { key: key.id, value: key.sign(signedText(event)) };
    const files: [string, string][] = [[entryPath(event.id), `${canonical({ event, signature })}\n`]];
    await appendLedger(folder, stream, [{ files, author: "ada", at: event.at, message: "revised\n" }]);
    const ref = ledgerRef(stream);
    await gitText(folder, ["push", "--quiet", "origin", `${ref}:${ref}`, "topic"]);
    expect(newest((await onServer(stream))!)).toMatchObject({ number: 4, head, pusher: idOf("ada") });
    const entry = (await eventsOf(bench.app.db, stream)).find(({ id }) => id === event.id)!;
    expect(entry.data).not.toHaveProperty("taken");
    await sync("ada");
  });

  it("is looked at in another clone only as long as something comes, and nothing is missed by that", async () => {
    const { app, folder } = clones.of("ben");
    await gitText(folder, ["config", "lens.ledgerKey", await ownKeyId(bench.app)]);
    const stands = () => app.db.selectFrom("settled_ledgers").selectAll().execute();
    const remarks = async () => {
      forgetStates();
      const change = await loadChangeSet(app.db, stream);
      forgetStates();
      return change!.reviews.map(({ remark }) => remark);
    };
    await writeLedger(bench.app, stream);
    await sync("ben");
    await sync("ben");
    const before = await stands();
    expect(before.map((one) => one.stream)).toEqual([stream]);
    await sync("ben");
    expect(await stands()).toEqual(before);
    value(await bench.do("ben", "quay", 1, { kind: "send-review", verdict: "none", revision: 3, remark: "Later." }));
    await writeLedger(bench.app, stream);
    await sync("ben");
    expect(await remarks()).toContain("Later.");
    // What is said here goes out, too.
    await doing("ben", stream, { kind: "send-review", verdict: "none", revision: 3, remark: "From the clone." });
    await sync("ben");
    const there = await ledgerFiles(folderOf(bench.app, (await findRepository(bench.app.db, "quay"))!), stream);
    expect([...there.values()].filter((text) => text.includes("From the clone."))).toHaveLength(1);
  });

  it("is opened once, also where the plug was pulled after its ledger had come", async () => {
    await commit("ben", "other", { "b.txt": "new\n" });
    await claim("ben");
    const other = await begin("ben", "other");
    await sync("ben");
    const { folder } = clones.of("ben");
    const there = folderOf(bench.app, (await findRepository(bench.app.db, "quay"))!);
    await gitText(there, ["fetch", "--quiet", folder, `${ledgerRef(other)}:refs/came`]);
    await rememberNew(there, other, "refs/came");
    await sync("ben", true);
    await sync("ben", true);
    expect((await onServer(other))!.number).toBe(2);
    expect(await eventsOf(bench.app.db, other)).toHaveLength(1);
  });

  it("brings what was read of it before a rebase along, which its branch does not hold", async () => {
    const { top } = clones.of("ada");
    const first = await commit("ada", "moved", { "m.txt": "one\n" });
    const moved = await begin("ada", "moved");
    await doing("ada", moved, { kind: "send-review", verdict: "none", revision: 1, remark: "Read before." });
    const heads = [first];
    for (const text of ["two\n", "three\n"]) {
      await gitText(null, ["-C", top, "reset", "--quiet", "--hard", "origin/main"]);
      heads.push(await commit("ada", "moved", { "m.txt": text }));
      await doing("ada", moved, { kind: "revise" });
    }
    const said = await sync("ada", true);
    expect(said).toMatch(/Change set \d+, “Take moved”, is offered here/);
    expect(said).not.toContain("Left out");
    const change = (await onServer(moved))!;
    expect(change.revisions.map(({ head, pusher }) => [head, pusher])).toEqual(
      heads.map((head) => [head, idOf("ada")]),
    );
    expect(change.reviews.map(({ revision, remark }) => [revision, remark])).toEqual([[1, "Read before."]]);
    // What was handed over is kept as revisions are, and as nothing else.
    const there = folderOf(bench.app, (await findRepository(bench.app.db, "quay"))!);
    expect(await gitText(there, ["for-each-ref", "refs/lens/handed"])).toBe("");
    expect(await gitText(there, ["rev-parse", `refs/lens/${moved}/r1/head`])).toBe(first);
  });
});

describe("an opening that is handed in", () => {
  type Said = [data: Record<string, unknown>, more?: Record<string, unknown>];

  /** Openings as somebody’s clone signs them, saying what they like, all handed in by one push; what each has become on the server. */
  async function handed(name: string, ...openings: Said[]) {
    const streams: string[] = [];
    for (const said of openings) streams.push(await forged(name, ...said));
    const refs = streams.map((stream) => `${ledgerRef(stream)}:${ledgerRef(stream)}`);
    await gitText(clones.of(name).folder, ["push", "--quiet", "origin", ...refs]);
    return Promise.all(streams.map(onServer));
  }

  async function forged(name: string, data: Said[0], more: Said[1] = {}): Promise<string> {
    const { app, folder } = clones.of(name);
    const key = await ledgerKey(app);
    const stream = bench.app.newId();
    const by = (await findPerson(app.db, name))!.id;
    const event = { id: bench.app.newId(), stream, version: 1, at: bench.app.now(), by, kind: "opened", data, ...more };
    const signature = { key: key.id, value: key.sign(signedText(event as never)) };
    const files: [string, string][] = [[entryPath(event.id), `${canonical({ event, signature })}\n`]];
    await appendLedger(folder, stream, [{ files, author: name, at: event.at, message: "forged\n" }]);
    return stream;
  }
  const opening = async (name: string, branch: string) => {
    const { folder } = clones.of(name);
    const at = async (what: string) => (await gitText(folder, ["rev-parse", what])).trim();
    const [head, base] = [await at(branch), await at("origin/main")];
    const revision = { head, base, target: base };
    return {
      repository: "elsewhere",
      number: 99,
      title: "Mine",
      description: "",
      source: branch,
      target: "main",
      revision,
    };
  };
  const pushed = (name: string, branch: string) =>
    gitText(null, ["-C", clones.of(name).top, "push", "--quiet", "origin", branch]);

  it("is held to the commits that its branch has here, and to no others", async () => {
    const head = await commit("ben", "third", { "c.txt": "new\n" });
    await pushed("ben", "third");
    const good = await opening("ben", "third");
    const wrong = [
      { ...good, source: "nowhere" },
      { ...good, source: "main" },
      { ...good, target: "none" },
      { ...good, author: idOf("ada") },
      { ...good, revision: { ...good.revision, base: head } },
      { ...good, revision: { ...good.revision, target: head } },
      { ...good, revision: { ...good.revision, head: "0".repeat(40) } },
      { ...good, revision: { ...good.revision, head: "--all" } },
      { ...good, title: " " },
    ];
    const [known] = await eventsOf(
      bench.app.db,
      (await bench.app.db.selectFrom("change_sets").selectAll().executeTakeFirstOrThrow()).id,
    );
    const refused = await handed(
      "ben",
      ...wrong.map((data): Said => [data]),
      [good, { id: known.id }],
      [good, { at: bench.app.now() + 365 * 86_400_000 }],
      [good, { by: idOf("ada") }],
    );
    expect(refused).toEqual(refused.map(() => null));
    const there = folderOf(bench.app, (await findRepository(bench.app.db, "quay"))!);
    const changes = (await bench.app.db.selectFrom("change_sets").select("id").execute()).map(({ id }) => id);
    const kept = await gitText(there, ["for-each-ref", "--format=%(refname)", "refs/lens"]);
    const streams = kept.split("\n").flatMap((ref) => /[0-9A-Z]{26}/.exec(ref)?.[0] ?? []);
    expect(streams.filter((one) => !changes.includes(one))).toEqual([]);
    // What is as it says is opened, and once from one branch into another.
    const opened = await handed("ben", [good], [good]);
    expect(opened.filter((one) => one !== null)).toEqual([expect.objectContaining({ number: 4, author: idOf("ben") })]);
  });

  it("is not held to be what its branch has for a commit that is only handed along", async () => {
    const { folder } = clones.of("ben");
    await commit("ben", "hidden", { "h.txt": "seen\n" });
    const seen = await opening("ben", "hidden");
    await pushed("ben", "hidden");
    await gitText(null, ["-C", clones.of("ben").top, "reset", "--quiet", "--hard", "origin/main"]);
    const head = await commit("ben", "hidden", { "h.txt": "never seen\n" });
    const stream = await forged("ben", { ...seen, revision: { ...seen.revision, head } });
    const there = folderOf(bench.app, (await findRepository(bench.app.db, "quay"))!);
    const push = (...refs: string[]) => gitText(folder, ["push", "--quiet", "origin", ...refs]);
    await push(`${head}:refs/lens/handed/${stream}/r1`, `${ledgerRef(stream)}:${ledgerRef(stream)}`);
    expect(await onServer(stream)).toBeNull();
    // Alone, it is of no use to anyone; nor is it taken by another name.
    await push(`${head}:refs/lens/handed/${stream}/r2`);
    expect(await gitText(there, ["for-each-ref", "refs/lens/handed", `refs/lens/${stream}`])).toBe("");
    for (const ref of [`handed/${stream}`, `handed/${stream}/r0`, "handed/x/r1", `handed/${stream}/r1/head`])
      await expect(push(`${head}:refs/lens/${ref}`)).rejects.toThrow(/reviews are in refs\/lens\/ledger|declined/);
  });

  it("merges nothing that was only handed along: where its next revision is none, the branch stands elsewhere", async () => {
    const { app, folder } = clones.of("ben");
    await commit("ben", "swapped", { "s.txt": "seen\n" });
    await pushed("ben", "swapped");
    const seen = await opening("ben", "swapped");
    await gitText(null, ["-C", clones.of("ben").top, "reset", "--quiet", "--hard", "origin/main"]);
    const head = await commit("ben", "swapped", { "s.txt": "never in the branch\n" });
    const stream = await forged("ben", { ...seen, revision: { ...seen.revision, head } });
    // A revision that makes the handed one an earlier one, of a commit that is not there, either.
    const next = await commit("ben", "swapped", { "s.txt": "nor this\n" });
    const key = await ledgerKey(app);
    const by = (await findPerson(app.db, "ben"))!.id;
    const data = { revision: { ...seen.revision, head: next } };
    const event = { id: bench.app.newId(), stream, version: 2, at: bench.app.now(), by, kind: "revised", data };
    const signature = { key: key.id, value: key.sign(signedText(event)) };
    const files: [string, string][] = [[entryPath(event.id), `${canonical({ event, signature })}\n`]];
    await appendLedger(folder, stream, [{ files, author: "ben", at: event.at, message: "revised\n" }]);
    const refs = [`${head}:refs/lens/handed/${stream}/r1`, `${ledgerRef(stream)}:${ledgerRef(stream)}`];
    await gitText(folder, ["push", "--quiet", "origin", ...refs]);
    const change = (await onServer(stream))!;
    expect(change.revisions.map((one) => one.head)).toEqual([head]);
    const approve = { kind: "send-review", verdict: "approve", revision: 1, remark: "" } as const;
    value(await bench.do("ada", "quay", change.number, approve));
    await bench.person("kit", { quay: "keeper" });
    const merge = await bench.do("kit", "quay", change.number, {
      kind: "merge",
      revision: 1,
      how: "merge",
      message: "Take it.",
    });
    expect(reason(merge)).toMatch(/The branch has moved on/);
    value(await bench.do("ben", "quay", change.number, { kind: "withdraw" }));
  });

  it("never makes what another pushed one's own: who pushed it cannot approve it", async () => {
    await commit("ben", "fourth", { "d.txt": "one\n" });
    await commit("ben", "fourth", { "d.txt": "one\ntwo\n" });
    await pushed("ben", "fourth");
    await gitText(null, ["-C", clones.of("ada").top, "fetch", "--quiet", "origin", "fourth:fourth"]);
    for (const branch of ["fourth", "fourth~1"]) {
      const data = { ...(await opening("ada", branch)), source: "fourth", pusher: idOf("ada") };
      const change = (await handed("ada", [data]))[0]!;
      expect(change.author).toBe(idOf("ada"));
      expect(newest(change).pusher).toBe(idOf("ben"));
      value(await bench.do("ada", "quay", change.number, { kind: "withdraw" }));
    }
  });

  it("needs the role that opening needs there", async () => {
    await commit("ada", "fifth", { "e.txt": "new\n" });
    await pushed("ada", "fifth");
    const data = await opening("ada", "fifth");
    value(await setRole(bench.app, "ada", "quay", "reader"));
    await expect(handed("ada", [data])).rejects.toThrow(/contributor/);
    value(await setRole(bench.app, "ada", "quay", "contributor"));
    expect((await handed("ada", [data]))[0]!.author).toBe(idOf("ada"));
  });
});
