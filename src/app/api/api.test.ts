import { generateKeyPairSync, sign } from "node:crypto";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { Secret, TOTP } from "otpauth";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { claimOf, keyLine } from "@/core/doors/ledger/key-line";
import { newest } from "@/core/review/state";
import { wordFor } from "@/server/access/here-word";
import { findRepository } from "@/server/access/repositories";
import { startProviderStandIn } from "@/server/access/signing-in/provider-standin";
import { keepNeighbour } from "@/server/ledger/neighbours";
import { startStandIn } from "@/server/news/mail-standin";
import { type Bench, value } from "@/server/testing/bench";
import { story } from "@/server/testing/story";
import { Api, DOCUMENT, FOLDER, NAMES, PNG } from "../testing/api";

const it = story();

/** The table of endpoints, the handlers, the document and the real answers are held against each other. */

let api: Api;
let bench: Bench;
const ask: Api["ask"] = (...given) => api.ask(...given);
const send: Api["send"] = (...given) => api.send(...given);
const refusal: Api["refusal"] = (...given) => api.refusal(...given);

beforeAll(async () => {
  api = await Api.set();
  bench = api.bench;
});
afterAll(() => api.clear());

describe("the table of endpoints", () => {
  it("has every handler in it, and a handler for each of its rows", () => {
    expect([...api.routes.keys()].sort()).toEqual([...NAMES].sort());
    const direct = NAMES.map((name) => name.split(" ")[1]).filter((path) => path !== "/api/health");
    for (const path of new Set(direct)) {
      const file = join(FOLDER, path.slice("/api/".length).replace(/\{(\w+)\}/g, "[$1]"), "route.ts");
      expect(readFileSync(file, "utf8")).toContain(`${path}"`);
    }
  });

  it("is a document that says of each what it does, who may and what it answers", () => {
    expect(DOCUMENT.openapi).toBe("3.1.0");
    const ids = new Set<string>();
    for (const operations of Object.values(DOCUMENT.paths))
      for (const { operationId, summary, responses, parameters } of Object.values(operations)) {
        ids.add(operationId);
        expect(summary).toMatch(/\.$/);
        expect(Object.keys(responses)).toEqual(expect.arrayContaining(["500", "503"]));
        for (const { schema } of parameters) expect(schema).toBeTypeOf("object");
      }
    expect(ids.size).toBe(NAMES.length);
  });
});

describe("what is asked", () => {
  it("is answered as the document says, every row of it", async () => {
    const repo = "quay";
    const quay = { parts: { repo } };
    const { revision } = await ask("GET /api/repos/{repo}/preview", "ada", {
      ...quay,
      query: { source: "pier", target: "main" },
    });
    await ask("POST /api/repos/{repo}/changes", "ada", {
      ...quay,
      body: { title: "Deeper", description: "Refs: 101", source: "pier", target: "main" },
    });
    const parts = { repo, number: "1" };
    const at = "/api/repos/{repo}/changes/{number}" as const;
    const first = await ask(`GET ${at}`, "ben", { parts });
    expect(first.change?.revisions).toHaveLength(1);
    const same = await ask(`GET ${at}`, "ben", { parts, query: { have: first.change!.last } });
    expect(same).toEqual({ ...first, change: null });
    const { folder, change } = await bench.change("quay", 1);
    const blob = await bench.git(folder, "rev-parse", "pier:a.ts");
    const image = await bench.git(folder, "rev-parse", "pier:dot.png");
    const { files } = await ask(`GET ${at}/reading`, "ben", { parts, query: { whole: "" } });
    const file = files.find(({ path }) => path === "a.ts")!;
    await ask(`GET ${at}/counts`, "ben", { parts });
    await ask(`GET ${at}/classes`, "ben", { parts, query: { path: "a.ts" } });
    expect((await ask(`GET ${at}/origins`, "ben", { parts, query: { path: "a.ts" } })).commits).toHaveLength(1);
    const sought = { parts, query: { words: "depth", where: "changed" as const } };
    await ask(`GET ${at}/search`, "ben", sought);
    const told = (await (await send(`GET ${at}/search`, "ben", sought)).text()).trimEnd().split("\n");
    expect(told.map((line) => JSON.parse(line))).toEqual([
      [expect.objectContaining({ path: "a.ts", line: 4 })],
      { more: false, searched: 2 },
    ]);
    const open = { ...sought.query, words: "((", as: "expression" as const };
    expect(await refusal(`GET ${at}/search`, "ben", { parts, query: open })).toBe("invalid");
    await ask(`GET ${at}/commits`, "ben", { parts, query: { revision: "r1" } });
    await ask("GET /api/repos/{repo}/files", "ben", { ...quay, query: { old: file.oldId!, new: blob } });
    await ask("GET /api/repos/{repo}/colours", "ben", { ...quay, query: { new: blob, path: "a.ts" } });
    expect(
      await ask("GET /api/repos/{repo}/definitions", "ben", { ...quay, query: { id: blob, path: "a.ts" } }),
    ).toEqual(expect.any(Array));
    const line = { side: "new" as const, path: "a.ts", line: "1" };
    expect(await ask(`GET ${at}/names`, "ben", { parts, query: { ...line, name: "depth" } })).toMatchObject({
      name: "depth",
    });
    expect(await refusal(`GET ${at}/names`, "ben", { parts, query: { ...line, line: "0", name: "depth" } })).toBe(
      "invalid",
    );
    expect((await ask(`GET ${at}/line-history`, "ben", { parts, query: line })).steps.length).toBeGreaterThan(0);
    expect((await ask("GET /api/changes", "ben", { query: { query: "state:open sort:age" } })).lines).not.toEqual([]);
    expect(await refusal("GET /api/changes", "ben", { query: { query: "state:x" } })).toBe("invalid");
    expect(await ask("GET /api/rules/waiting", "ben", {})).toEqual([]);
    expect((await ask("GET /api/find", "ben", { query: { words: "quay" } }))[0]).toMatchObject({ kind: "repository" });
    expect(await ask("GET /api/notices", "ben", {})).toMatchObject({ more: false });
    expect(await ask("GET /api/notices/count", "ben", {})).toEqual({ unread: 0 });
    const of = { repository: "quay", number: 1 };
    expect(await ask("PUT /api/notices", "ben", { body: { events: [], of, read: true } })).toEqual({ unread: 0 });
    expect(await refusal("PUT /api/notices", "out", { body: { of, read: true } })).toBe("missing");
    const list = await ask("PUT /api/lists", "ben", { body: { name: "Open", query: "state:open" } });
    expect((await ask("GET /api/lists", "ben", {})).map(({ name }) => name)).toContain("Open");
    await ask("DELETE /api/lists/{id}", "ben", { parts: { id: list.id } });
    const ofFile = { side: "new" as const, path: "a.ts" };
    const { steps } = await ask(`GET ${at}/file-history`, "ben", { parts, query: ofFile });
    expect(steps[0]).toMatchObject({ path: "a.ts", newId: blob, change: null });
    expect((await ask(`GET ${at}/blame`, "ben", { parts, query: ofFile })).runs.length).toBeGreaterThan(0);
    expect(await ask(`GET ${at}/left-alone`, "ben", { parts, query: {} })).toMatchObject({ more: false });
    await ask("GET /api/repos/{repo}/tree", "ben", { ...quay, query: { at: newest(change).head } });
    await ask("GET /api/repos/{repo}/image", "ben", { ...quay, query: { id: image } });

    const id = "01KE6JQ8VG16XRKGJSK0X7ZKC0";
    const lines = { kind: "lines" as const, revision: 1, blob, side: "new" as const, path: "a.ts", start: 4, end: 4 };
    const suggestion = { id: "s1", start: 4, end: 4, lines: ["  return depth > 3;"] };
    const remark = { kind: "remark" as const, anchor: lines, body: "Deeper.", suggestions: [suggestion] };
    await ask(`PUT ${at}/unsent/{id}`, "ben", { parts: { ...parts, id }, body: remark });
    const other = { ...parts, id: `${id.slice(0, -1)}1` };
    await ask(`PUT ${at}/unsent/{id}`, "ben", { parts: other, body: { kind: "closing", body: "So." } });
    await ask(`DELETE ${at}/unsent/{id}`, "ben", { parts: other });
    await ask(`PUT ${at}/read-marks`, "ben", { parts, body: { ...file, revision: 1, read: true } });
    await ask(`PUT ${at}/read-marks`, "ben", { parts, body: { paths: ["a.ts", "b.txt"], revision: 1, looked: true } });
    await ask(`PUT ${at}/follow`, "ben", { parts, body: { follow: false } });
    await ask(`GET ${at}/gate`, "ben", { parts, query: { verdict: "approve" } });
    const review = { kind: "send-review" as const, revision: 1, verdict: "approve" as const, remark: "" };
    const sent = await ask(`POST ${at}`, "ben", { parts, body: { key: "k1", ...review } });
    const [thread] = sent.change!.threads;
    await ask(`POST ${at}`, "ada", { parts, body: { kind: "reply", thread: thread.id, body: "Why?" } });
    const sid = thread.suggestions[0].id;
    await ask(`PUT ${at}/picks`, "ada", { parts, body: { thread: thread.id, suggestion: sid, picked: true } });
    await ask(`POST ${at}`, "ada", { parts, body: { kind: "take", message: "Deeper" } });
    const taken = await ask(`GET ${at}`, "ada", { parts });
    expect(taken.change!.revisions).toHaveLength(2);
    await ask(`GET ${at}/progress`, "ben", { parts });
    await ask(`GET ${at}/sizes`, "ben", { parts });
    const stop = await ask(`GET ${at}/events`, "ben", { parts });
    expect(stop).toBeUndefined();
    expect(await ask(`GET ${at}/wordings`, "ben", { parts })).toHaveLength(taken.change!.wordings);
    expect(await ask("GET /api/desk/events", "ben", {})).toBeUndefined();

    const head = taken.change!.revisions[1].head;
    const checked = { parts: { repo, commit: head }, body: { name: "build", state: "passed" as const } };
    expect((await ask("POST /api/repos/{repo}/commits/{commit}/checks", "ben", checked)).changes).toEqual([1]);
    const report = `<testsuite name="s"><testcase name="t" classname="c"><failure message="no"/></testcase></testsuite>`;
    const reported = { parts: { repo, commit: head, name: "tests" }, body: Buffer.from(report) as unknown as Blob };
    expect((await ask("POST /api/repos/{repo}/commits/{commit}/reports/{name}", "ben", reported)).changes).toEqual([1]);
    expect(await ask(`GET ${at}/findings`, "ben", { parts })).toHaveLength(1);
    const log = { ...reported, query: { part: "40" }, body: Buffer.from("one\ntwo\n") as unknown as Blob };
    await ask("PUT /api/repos/{repo}/commits/{commit}/logs/{name}", "ben", log);
    const [wrote] = await ask(`GET ${at}/logs`, "ada", { parts });
    expect(wrote).toMatchObject({ name: "tests", part: 0.4, last: "two" });
    const asked = { parts, query: { check: wrote.name, by: wrote.by } };
    expect(await ask(`GET ${at}/log`, "ada", asked)).toEqual({ tail: "one\ntwo\n" });
    await ask("POST /api/repos/{repo}/work", "ada", { ...quay, body: { kind: "new", title: "Silt" } });
    expect(await ask("GET /api/repos/{repo}/work", "ada", { ...quay, query: { words: "silt" } })).toHaveLength(1);
    await ask(`GET ${at}/yardstick`, "ada", { parts });
    const kept = await ask("POST /api/repos/{repo}/images", "ada", { ...quay, body: PNG as unknown as Blob });
    const imageId = kept.address.split("/").at(-1)!;
    await ask("GET /api/repos/{repo}/images/{id}", "ben", { parts: { repo, id: imageId } });

    const rules = await ask("GET /api/repos/{repo}/rules", "ben", quay);
    await ask("POST /api/repos/{repo}/rules/try", "ben", { ...quay, body: { rules } });
    await ask("PUT /api/repos/{repo}/rules", "ben", { ...quay, body: { rules, note: "As it was" } });
    for (const note of ["Takes two", "And back"])
      await ask("PUT /api/repos/{repo}/rules", "ben", { ...quay, body: { rules: { ...rules, seconded: true }, note } });
    const [{ version, state }] = await ask("GET /api/repos/{repo}/rules/history", "ben", quay);
    const edition = { repo, version: String(version) };
    const settling = { parts: edition, body: { agrees: false } };
    expect(state).toBe("waits");
    expect((await ask("POST /api/repos/{repo}/rules/history/{version}", "ben", settling)).state).toBe("dropped");

    await bench.do("ben", "quay", 1, { ...review, revision: 2 });
    await bench.do("ben", "quay", 1, { kind: "resolve", thread: thread.id });
    await ask(`GET ${at}/text`, "ben", { parts });
    const form = "verdict: none\nA word.\n";
    const written = await ask(`POST ${at}/text`, "ben", { parts, body: new Blob([form]) });
    expect(written).toEqual({ says: ["Sent: your word."], problems: [] });
    const { commits } = await ask(`GET ${at}/merge`, "ben", { parts, query: { how: "merge" } });
    expect(commits.length).toBeGreaterThan(1);
    const merged = await ask(`POST ${at}`, "ben", { parts, body: { kind: "merge", revision: 2, message: "Merge it" } });
    expect(merged.change?.state).toBe("merged");
    const settled = await ask(`GET ${at}`, "ada", { parts });
    expect(settled.around.branchLeft).toBe(true);
    await ask(`DELETE ${at}/source`, "ada", { parts });
    expect((await ask(`GET ${at}`, "ada", { parts })).around.branchLeft).toBe(false);
    expect(await ask(`POST ${at}/revert`, "ben", { parts })).toEqual({ number: 2 });
    expect(revision.base).toMatch(/^[0-9a-f]{40}$/);
  });

  it("drops what a yardstick has already, in a new revision", async () => {
    await bench.push("ada", "quay", "jetty", "refs/heads/jetty");
    const work = join(bench.folder, "work", "quay");
    await bench.git(work, "checkout", "--quiet", "mole");
    await bench.commit(work, "both", { "b.txt": "two\n" });
    await bench.push("ada", "quay", "mole", "refs/heads/mole");
    const made = value(await bench.open("ada", "quay", "mole"));
    const parts = { repo: "quay", number: String(made.number) };
    const at = "/api/repos/{repo}/changes/{number}/yardstick" as const;
    const { files } = await ask(`GET ${at}`, "ada", { parts, query: { name: "jetty" } });
    expect(files.find(({ path }) => path === "b.txt")?.state).toBe("same");
    expect(await ask(`POST ${at}`, "ada", { parts, body: { name: "jetty" } })).toEqual({ revision: 2 });
  });

  it("is answered to who comes in, and to those who keep the installation", async () => {
    await ask("GET /api/health", "nobody", {});
    await ask("GET /api/openapi.json", "nobody", {});
    await ask("GET /api/client.ts", "nobody", {});
    await ask("POST /api/sign-in", "nobody", { body: { name: "out", password: "long enough" } });
    const { tokens } = await ask("POST /api/tokens", "out", { body: { label: "x" } });
    await ask("DELETE /api/tokens/{id}", "out", { parts: { id: tokens[0].id } });
    const { token: feed } = await ask("POST /api/tokens", "out", { body: { label: "x", scopes: ["feed"] } });
    await ask("GET /api/feed", "nobody", { query: { token: feed } });
    expect(await refusal("GET /api/feed", "nobody", { query: { token: "lens-x" } })).toBe("unauthenticated");
    expect(await ask("GET /api/clone-keys", "out", {})).toEqual([]);
    const pair = generateKeyPairSync("ed25519");
    const claim = sign(null, Buffer.from(claimOf("out")), pair.privateKey).toString("base64");
    const spki = pair.publicKey.export({ type: "spki", format: "der" }).toString("base64");
    const line = keyLine({ public: spki, signature: claim });
    const [{ key }] = await ask("POST /api/clone-keys", "out", { body: { line, label: "laptop" } });
    expect(await refusal("DELETE /api/clone-keys/{key}", "ada", { parts: { key } })).toBe("missing");
    expect((await ask("DELETE /api/clone-keys/{key}", "out", { parts: { key } }))[0].revokedAt).not.toBeNull();
    await ask("DELETE /api/sessions/{id}", "out", { parts: { id: "others" } });
    const person = { name: "new", fullName: "New", email: "n@x.example", password: "long enough" };
    expect(await ask("POST /api/keeping/people", "root", { body: person })).toHaveLength(5);
    await ask("POST /api/keeping/people/{name}", "root", { parts: { name: "new" }, body: { kind: "disable" } });
    const entries = await ask("GET /api/keeping/audit", "root", {});
    expect(entries.length).toBeGreaterThan(5);
    const older = await ask("GET /api/keeping/audit", "root", { query: { before: entries[0].id } });
    expect(older[0]).toEqual(entries[1]);
    await ask("POST /api/password", "out", { body: { old: "long enough", password: "longer still" } });
    expect(await refusal("POST /api/sign-out", "out")).toBe("unauthenticated");
    await ask("POST /api/sign-out", "ada", {});
    expect(await refusal("POST /api/sign-out", "ada")).toBe("unauthenticated");
  });

  it("is answered to who says what they want to hear", async () => {
    const wishes = await ask("GET /api/notices/wishes", "ben", {});
    const body = { ...wishes, digest: "08:00", people: ["ada"], paths: [{ repository: "quay", pattern: "*.ts" }] };
    expect(await ask("PUT /api/notices/wishes", "ben", { body })).toEqual(body);
    expect(await refusal("PUT /api/notices/wishes", "ben", { body: { ...body, people: ["nobody"] } })).toBe("missing");
  });

  it("is answered about labels, other ways of signing in, and other clones", async () => {
    const parts = { repo: "quay" };
    const { folder } = await bench.change("quay", 1);
    expect(await ask("GET /api/second-step", "ben", {})).toEqual({ onSince: null, wordsLeft: 0 });
    const begun = await ask("POST /api/second-step", "ben", {});
    const code = new TOTP({ secret: Secret.fromBase32(begun.secret) }).generate({ timestamp: bench.app.now() });
    const { words } = await ask("PUT /api/second-step", "ben", { body: { code } });
    await ask("POST /api/second-step/end", "ben", { body: { code: words[0] } });
    const standIn = await startProviderStandIn({ id: "lens", secret: "hush" });
    bench.app.settings.provider = { issuer: standIn.issuer, client: "lens", secret: "hush", name: "the harbour" };
    await ask("GET /api/sign-in/provider", "nobody", { query: {} });
    await ask("GET /api/sign-in/provider/back", "nobody", {});
    await standIn.close();
    bench.app.settings.provider = null;
    expect(await refusal("GET /api/sign-in/provider", "nobody")).toBe("missing");
    expect(await refusal("GET /api/repos/{repo}/sync", "ben", { parts })).toBe("missing");
    bench.app.settings.alone = true;
    await bench.git(folder, "init", "--quiet", "--bare", `${folder}-other`);
    await bench.git(folder, "remote", "add", "elsewhere", `${folder}-other`);
    expect(await ask("GET /api/repos/{repo}/sync", "ben", { parts })).toEqual({ remotes: ["elsewhere"] });
    await ask("POST /api/repos/{repo}/sync", "ben", { parts, body: { remote: "elsewhere" } });
    expect(await refusal("POST /api/repos/{repo}/sync", "ben", { parts, body: { remote: "--upload-pack=x" } })).toBe(
      "missing",
    );
    bench.app.settings.alone = false;
    const bell = "whsec_c2VjcmV0LW9mLXRoZS1iZWxsLWhlcmU=";
    value(
      await keepNeighbour(bench.app, (await findRepository(bench.app.db, "quay"))!, {
        ...{ name: "south", key: "0".repeat(32), address: "http://127.0.0.1:1/git/quay.git" },
        ...{ account: "", secret: "", bell, every: 5 },
      }),
    );
    const told = "POST /api/repos/{repo}/neighbours/{name}/told" as const;
    const to = { parts: { repo: "quay", name: "south" }, body: new Blob(["{}"]) };
    expect(await refusal(told, "nobody", to)).toBe("missing");
    const signed = {
      ...{ "webhook-id": "m1", "webhook-timestamp": String(Math.floor(Date.now() / 1000)) },
      "webhook-signature": new Webhook(bell).sign("m1", new Date(), "{}"),
    };
    expect((await api.send(told, "nobody", to, signed)).status).toBe(204);
    api.heard.add(told);
    await ask("GET /api/events", "ben", { query: {} });
    expect(await refusal("GET /api/events", "ben", { query: { after: "nothing-like-it" } })).toBe("missing");
    const machine = { name: "gauge-2", fullName: "Gauge", email: "", machine: true };
    await ask("POST /api/keeping/people", "root", { body: machine as never });
    const named = { parts: { name: "gauge-2" }, body: { label: "ci" } };
    expect((await ask("POST /api/keeping/people/{name}/tokens", "root", named)).token).toMatch(/^lens-/);
    const person = { ...named, parts: { name: "ada" } };
    expect(await refusal("POST /api/keeping/people/{name}/tokens", "root", person)).toBe("forbidden");
    expect((await ask("POST /api/keeping/backups", "root", {})).making).toMatch(/\S/);
    while ((await ask("GET /api/keeping/backups", "root", {})).making !== null)
      await new Promise((resolve) => setTimeout(resolve, 20));
    const { backups, problem } = await ask("GET /api/keeping/backups", "root", {});
    expect([problem, backups]).toMatchObject(["", [{ repositories: 1 }]]);
    expect(await refusal("DELETE /api/keeping/backups/{name}", "root", { parts: { name: "../lens.db" } })).toBe(
      "missing",
    );
    const { name } = backups[0];
    expect((await ask("DELETE /api/keeping/backups/{name}", "root", { parts: { name } })).backups).toEqual([]);
    expect(await ask("PUT /api/portrait", "ben", { body: { hue: 3 } })).toEqual({ hue: 3, picture: null });
    const picture = new Blob([PNG], { type: "image/png" });
    expect((await ask("POST /api/portrait/picture", "ben", { body: picture })).picture).toMatch(/people\/ben\/picture/);
    await ask("GET /api/people/{name}/picture", "root", { parts: { name: "ben" } });
    const notOne = { body: new Blob(["hello"]) as never };
    expect(await refusal("POST /api/portrait/picture", "ben", notOne)).toBe("invalid");
    expect((await ask("DELETE /api/portrait/picture", "ben", {})).picture).toBeNull();
    const crew = { name: "crew", members: ["ben"], roles: { quay: "keeper" as const } };
    expect(await ask("PUT /api/keeping/groups", "root", { body: crew })).toMatchObject([{ members: ["ben"] }]);
    expect(await ask("GET /api/keeping/groups", "root", {})).toHaveLength(1);
    expect(await ask("DELETE /api/keeping/groups/{name}", "root", { parts: { name: "crew" } })).toEqual([]);
    const label = { name: "tides", flag: "pale" as const, about: "", paths: ["*.md"] };
    expect(await ask("PUT /api/repos/{repo}/labels", "ben", { parts, body: label })).toEqual([label]);
    expect(await ask("GET /api/repos/{repo}/labels", "ben", { parts })).toEqual([label]);
    expect(await ask("DELETE /api/repos/{repo}/labels/{name}", "ben", { parts: { ...parts, name: "tides" } })).toEqual(
      [],
    );
  });

  it("is answered to who lets other systems hear of it", async () => {
    const parts = { repo: "quay" };
    const body = { url: "https://hooks.example/x", kinds: [] };
    const { hooks } = await ask("POST /api/repos/{repo}/hooks", "ben", { parts, body });
    expect(await ask("GET /api/repos/{repo}/hooks", "ben", { parts })).toEqual(hooks);
    const one = { ...parts, id: hooks[0].id };
    const row = { hook: one.id, change_set: "c", event: "e", kind: "merged", body: "{}", at: 1, tries: 1, answer: "" };
    await bench.app.db
      .insertInto("deliveries")
      .values({ id: "d", due_at: null, done_at: null, ...row })
      .execute();
    expect(await ask("GET /api/repos/{repo}/hooks/{id}/deliveries", "ben", { parts: one })).toHaveLength(1);
    await ask("POST /api/repos/{repo}/hooks/{id}/deliveries", "ben", { parts: one, body: { delivery: "d" } });
    await ask("DELETE /api/repos/{repo}/hooks/{id}", "ben", { parts: one });
    const all = (await ask("POST /api/keeping/hooks", "root", { body })).hooks;
    expect(await ask("GET /api/keeping/hooks", "root", {})).toEqual(all);
    const { id } = all[0];
    await bench.app.db
      .insertInto("deliveries")
      .values({ id: "f", due_at: null, done_at: null, ...row, hook: id })
      .execute();
    expect(await ask("GET /api/keeping/hooks/{id}/deliveries", "root", { parts: { id } })).toHaveLength(1);
    await ask("POST /api/keeping/hooks/{id}/deliveries", "root", { parts: { id }, body: { delivery: "f" } });
    // Those of all are no repository's, and the other way round.
    expect(await refusal("DELETE /api/repos/{repo}/hooks/{id}", "ben", { parts: { ...parts, id } })).toBe("missing");
    expect(await refusal("GET /api/keeping/hooks", "ben")).toBe("missing");
    await ask("DELETE /api/keeping/hooks/{id}", "root", { parts: { id } });
  });

  it("is answered about other servers to who keeps the installation", async () => {
    const body = {
      repository: "quay",
      name: "south",
      address: "http://127.0.0.1:1/git/quay.git",
      account: "",
      every: 5,
    };
    const south = { ...body, key: "0".repeat(32), secret: "word-of-the-south", bell: "whsec_c291dGg=" };
    const parts = { repo: "quay", name: "south" };
    const [kept] = (await ask("POST /api/keeping/neighbours", "root", { body: south })).neighbours;
    expect(kept).toMatchObject({ ...body, askedAt: null, problem: "", isHeard: true });
    // Where it cannot be reached, that is said beside its name.
    const asked = await ask("POST /api/keeping/neighbours/{repo}/{name}/asks", "root", { parts });
    expect(asked.neighbours[0].problem).not.toBe("");
    expect(JSON.stringify(await ask("GET /api/keeping/neighbours", "root", {}))).not.toContain("word-of-the-south");
    expect(await refusal("GET /api/keeping/neighbours", "ben")).toBe("missing");
    expect(await refusal("POST /api/keeping/neighbours", "root", { body: { ...south, key: "x" } })).toBe("invalid");
    const joined = { elsewhere: "ben", person: "root" };
    expect(await refusal("POST /api/keeping/joined", "root", { body: joined })).toBe("missing");
    const far = await bench.person("far", {});
    await bench.app.db.insertInto("ledger_people").values({ person: far.id, key: south.key, joined: null }).execute();
    for (const person of ["ben", null])
      expect((await ask("POST /api/keeping/joined", "root", { body: { elsewhere: "far", person } })).strangers).toEqual(
        [{ name: "far", fullName: far.fullName, joined: person }],
      );
    expect((await ask("DELETE /api/keeping/neighbours/{repo}/{name}", "root", { parts })).neighbours).toEqual([]);
    expect(await refusal("DELETE /api/keeping/neighbours/{repo}/{name}", "root", { parts })).toBe("missing");
  });

  it("is answered to who sets it up", async () => {
    const from = { kind: "nothing" as const, branch: "main" };
    const { id } = await ask("POST /api/keeping/takings", "root", { body: { name: "empty", from } });
    const bundle = join(bench.folder, "quay.bundle");
    await bench.git(join(bench.folder, "work", "quay"), "bundle", "create", "--quiet", bundle, "--all");
    const parts = { name: "copy" };
    const body = new Blob([Uint8Array.from(readFileSync(bundle))]);
    const taken = await ask("POST /api/keeping/takings/{name}", "root", { parts, body });
    expect(taken).toMatchObject({ state: "taken", says: expect.stringContaining("branches") });
    const told = await ask("GET /api/keeping/takings", "root", {});
    expect(told.map(({ name, state }) => [name, state])).toEqual([
      ["copy", "taken"],
      ["empty", "taken"],
    ]);
    await ask("DELETE /api/keeping/takings/{name}", "root", { parts: { name: id } });
    const kept = await ask("GET /api/keeping/repositories", "root", {});
    expect(kept.map(({ name, branches }) => [name, branches.length > 0])).toEqual([
      ["copy", true],
      ["empty", false],
      ["quay", true],
    ]);
    await ask("POST /api/keeping/repositories/{name}", "root", { parts, body: { kind: "archive" } });
    bench.app.settings.keepersMake = "harbour-*";
    await ask("POST /api/repos", "ben", { body: { name: "harbour-pilots" } });
    expect(await refusal("POST /api/repos", "ben", { body: { name: "mine" } })).toBe("forbidden");
    const here = await wordFor(bench.app, bench.people.get("ben")!.id);
    await ask("POST /api/here", "nobody", { body: { word: here } });
    expect(await refusal("POST /api/here", "nobody", { body: { word: here } })).toBe("forbidden");
    const made = await ask("POST /api/keeping/invites", "root", { body: { label: "x", roles: { quay: "reader" } } });
    const again = await ask("POST /api/keeping/invites", "root", { body: { label: "y", roles: {} } });
    await ask("DELETE /api/keeping/invites/{id}", "root", { parts: { id: again.invites[0].id } });
    expect(await ask("GET /api/keeping/invites", "root", {})).toEqual(made.invites);
    const own = { word: made.word, name: "guest", fullName: "Guest", email: "g@x.example", password: "long enough" };
    await ask("POST /api/join", "nobody", { body: own });
    expect(await refusal("POST /api/keeping/mail", "root")).toBe("conflict");
    const standIn = await startStandIn(join(bench.folder, "mail"), 0);
    bench.app.settings.mail = standIn.server;
    expect(await ask("POST /api/keeping/mail", "root", {})).toEqual({ to: "r@x.example" });
    bench.app.settings.mail = null;
    await standIn.close();
  });

  it("was asked in full: what is not in these tests is not held by them", () => {
    // Only where the demo runs has this one an answer.
    const rest = NAMES.filter((name) => !api.heard.has(name) && name !== "POST /api/sign-in/demo");
    expect(rest).toEqual([]);
  });
});
