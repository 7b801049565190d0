import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import * as v from "valibot";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { type Endpoint, isContent } from "@/core/endpoints/endpoint";
import { openApi } from "@/core/endpoints/openapi";
import { refusalAnswer } from "@/core/endpoints/shapes";
import { type Answer, type AskOf, ENDPOINTS, type EndpointName } from "@/core/endpoints/table";
import { newest } from "@/core/review/state";
import { COMMAND_LINE } from "@/server/access/audit";
import { firstWord } from "@/server/access/first-start";
import { wordFor } from "@/server/access/here-word";
import { COOKIE, signIn } from "@/server/access/sessions";
import { makeToken } from "@/server/access/tokens";
import type { Route } from "@/server/app/serve";
import { startStandIn } from "@/server/news/mail-standin";
import { story } from "@/server/story";
import { Bench, value } from "@/server/test-bench";

const it = story();

/** The table of endpoints, the handlers, the document and the real answers are held against each other. */

const FOLDER = join(import.meta.dirname);
const SHARED = globalThis as { [key: symbol]: unknown };
const NAMES = Object.keys(ENDPOINTS) as EndpointName[];
const DOCUMENT = openApi("1.0.0");

let bench: Bench;
const routes = new Map<string, Route>();
const headersOf = new Map<string, Record<string, string>>();
const heard = new Map<EndpointName, Set<number>>();

beforeAll(async () => {
  for (const file of readdirSync(FOLDER, { recursive: true, encoding: "utf8" })) {
    if (!file.endsWith("route.ts")) continue;
    const path = `/api/${file.slice(0, -"/route.ts".length).replace(/\[(\w+)\]/g, "{$1}")}`;
    const module: Record<string, Route> = await import(join(FOLDER, file));
    for (const method of ["GET", "POST", "PUT", "DELETE", "PATCH", "HEAD", "OPTIONS"])
      if (module[method]) routes.set(`${method} ${path}`, module[method]);
  }
  bench = await Bench.set();
  SHARED[Symbol.for("earnest-lens")] = Promise.resolve(bench.app);
  const text = (last: string) => `export const depth = 1;\n\nexport function fits() {\n  return ${last};\n}\n`;
  const folder = await bench.repository("quay", {
    main: [{ "a.ts": text("true"), "b.txt": "one\n", "dot.png": PNG }],
    pier: [{ "a.ts": text("depth > 2"), "dot.png": Buffer.concat([PNG, Buffer.from([0])]) }],
    jetty: [{ "b.txt": "two\n" }],
    mole: [{ "c.txt": "three\n" }],
  });
  await bench.takeIn("quay", folder);
  headersOf.set("nobody", {});
  const word = (await firstWord(bench.app)) ?? "";
  const admin = { word, name: "root", fullName: "Root", email: "r@x.example", password: "long enough" };
  await ask("POST /api/first-start", "nobody", { body: admin });
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "keeper" });
  await bench.person("out");
  for (const name of ["ada", "ben", "out", "root"]) {
    const session = value(await signIn(bench.app, name, "long enough", { address: "10.0.0.1", agent: "test" }));
    headersOf.set(name, { cookie: `${COOKIE}=${session}` });
  }
  const token = value(await makeToken(bench.app, "ben", { label: "x", scopes: ["read"] }, COMMAND_LINE));
  headersOf.set("a reading token", { authorization: `Bearer ${token}` });
});
afterAll(async () => {
  delete SHARED[Symbol.for("earnest-lens")];
  await bench.clear();
});

const PNG = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==",
  "base64",
);

interface Given {
  parts?: Record<string, string>;
  query?: Record<string, string>;
  body?: unknown;
}

async function send(name: EndpointName, as: string, { parts = {}, query = {}, body }: Given, headers = {}) {
  const [method, path] = name.split(" ");
  const address = path.replace(/\{(\w+)\}/g, (_, part) => encodeURIComponent(parts[part] ?? "1"));
  const json = body !== undefined && !(body instanceof Uint8Array) && !(body instanceof Blob);
  const request = new Request(`http://lens.example${address}?${new URLSearchParams(query)}`, {
    method,
    headers: { ...headersOf.get(as), ...(json ? { "content-type": "application/json" } : {}), ...headers },
    ...(body === undefined ? {} : { body: json ? JSON.stringify(body) : (body as Blob | Uint8Array<ArrayBuffer>) }),
  });
  const response = await routes.get(name)!(request, { params: Promise.resolve({ ...parts }) });
  const operation = DOCUMENT.paths[path][method.toLowerCase()];
  // Whatever is answered, the document knows of it.
  expect([name, Object.keys(operation.responses)]).toEqual([name, expect.arrayContaining([String(response.status)])]);
  return response;
}

/** Asks and gives the answer, which has the shape that the table says: all of it, and nothing more. */
async function ask<K extends EndpointName>(name: K, as: string, given: AskOf<K>): Promise<Answer<K>> {
  const response = await send(name, as, given as Given);
  heard.set(name, (heard.get(name) ?? new Set()).add(response.status));
  const { answer, status }: Endpoint = ENDPOINTS[name];
  const text = isContent(answer ?? v.null()) ? "" : await response.text();
  expect([name, response.status, response.ok ? "" : text]).toEqual([name, status ?? (answer === null ? 204 : 200), ""]);
  if (answer === null) return null as Answer<K>;
  if (isContent(answer)) {
    await response.body?.cancel();
    expect(response.headers.get("content-type")).toMatch(
      new RegExp(answer.type.replace("*", ".*").replace("+", "\\+")),
    );
    return undefined as unknown as Answer<K>;
  }
  const json: unknown = JSON.parse(text);
  const parsed = v.safeParse(answer, json);
  expect([name, parsed.issues?.map((issue) => `${v.getDotPath(issue)}: ${issue.message}`)]).toEqual([name, undefined]);
  expect(parsed.output).toEqual(json);
  return json as Answer<K>;
}

async function refusal(name: EndpointName, as: string, given: Given = {}, headers = {}): Promise<string> {
  const answer = v.parse(refusalAnswer, await (await send(name, as, given, headers)).json());
  expect(answer.refusal.reason).toMatch(/\S/);
  return answer.refusal.code;
}

describe("the table of endpoints", () => {
  it("has every handler in it, and a handler for each of its rows", () => {
    expect([...routes.keys()].sort()).toEqual([...NAMES].sort());
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
    const found = await ask(`GET ${at}/search`, "ben", { parts, query: { words: "depth", where: "changed" } });
    expect(found.places).toHaveLength(1);
    await ask(`GET ${at}/commits`, "ben", { parts, query: { revision: "r1" } });
    await ask("GET /api/repos/{repo}/files", "ben", { ...quay, query: { old: file.oldId!, new: blob } });
    await ask("GET /api/repos/{repo}/colours", "ben", { ...quay, query: { id: blob, path: "a.ts" } });
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
    await ask("POST /api/repos/{repo}/work", "ada", { ...quay, body: { kind: "new", title: "Silt" } });
    expect(await ask("GET /api/repos/{repo}/work", "ada", { ...quay, query: { words: "silt" } })).toHaveLength(1);
    await ask(`GET ${at}/yardstick`, "ada", { parts });
    const kept = await ask("POST /api/repos/{repo}/images", "ada", { ...quay, body: PNG as unknown as Blob });
    const imageId = kept.address.split("/").at(-1)!;
    await ask("GET /api/repos/{repo}/images/{id}", "ben", { parts: { repo, id: imageId } });

    const rules = await ask("GET /api/repos/{repo}/rules", "ben", quay);
    await ask("POST /api/repos/{repo}/rules/try", "ben", { ...quay, body: { rules } });
    await ask("PUT /api/repos/{repo}/rules", "ben", { ...quay, body: { rules, note: "As it was" } });
    expect((await ask("GET /api/repos/{repo}/rules/history", "ben", quay)).length).toBeGreaterThan(0);

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
    await ask("POST /api/sign-in", "nobody", { body: { name: "out", password: "long enough" } });
    const { tokens } = await ask("POST /api/tokens", "out", { body: { label: "x" } });
    await ask("DELETE /api/tokens/{id}", "out", { parts: { id: tokens[0].id } });
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
    const rest = NAMES.filter((name) => !heard.has(name) && name !== "POST /api/sign-in/demo");
    expect(rest).toEqual([]);
  });
});

describe("what is refused", () => {
  it("is refused to who is not signed in, before anything else is said", async () => {
    for (const name of NAMES) {
      if ((ENDPOINTS[name] as Endpoint).who === "everyone") continue;
      expect([name, await refusal(name, "nobody", { body: name.startsWith("GET") ? undefined : "not JSON" })]).toEqual([
        name,
        "unauthenticated",
      ]);
    }
  });

  it("is refused to those who may not see it, as if it did not exist", async () => {
    const session = value(await signIn(bench.app, "ben", "long enough", { address: "10.0.0.1", agent: "test" }));
    headersOf.set("ben", { cookie: `${COOKIE}=${session}` });
    await bench.person("far");
    const other = value(await signIn(bench.app, "far", "long enough", { address: "10.0.0.1", agent: "test" }));
    headersOf.set("far", { cookie: `${COOKIE}=${other}` });
    for (const name of NAMES) {
      const { who, body, query } = ENDPOINTS[name] as Endpoint;
      if (who === "administrators") expect([name, await refusal(name, "ben")]).toEqual([name, "missing"]);
      // What has to be given is asked for first where it has to be: the others go as far as the repository.
      if (!name.includes("{repo}") || (body && !isContent(body)) || query) continue;
      expect([name, await refusal(name, "far", { parts: { repo: "quay", number: "1", commit: "x" } })]).toEqual([
        name,
        "missing",
      ]);
    }
  });

  it("is refused to a token that may not, and to pages of other sites", async () => {
    for (const name of NAMES) {
      const { who } = ENDPOINTS[name] as Endpoint;
      if (who === "everyone") continue;
      const reads = name.startsWith("GET ") && who === "signed-in";
      if (!reads) expect([name, await refusal(name, "a reading token")]).toEqual([name, "forbidden"]);
      if (!name.startsWith("GET "))
        expect([name, await refusal(name, "ben", {}, { origin: "http://evil.example" })]).toEqual([name, "forbidden"]);
    }
  });

  it("says what is wrong with what has the wrong shape", async () => {
    for (const name of NAMES) {
      const { who, body } = ENDPOINTS[name] as Endpoint;
      if (!body || isContent(body)) continue;
      const as = who === "administrators" ? "root" : "ben";
      const parts = { repo: "quay", number: "1", commit: "x", id: "y", name: "z" };
      expect([name, await refusal(name, as, { parts, body: { kind: "nonsense", name: 7 } })]).toEqual([
        name,
        "invalid",
      ]);
    }
  });
});
