import { createServer } from "node:http";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { canonical } from "@/core/doors/ledger/canonical";
import { entryPath, signedText } from "@/core/doors/ledger/ledger";
import { evaluateGate } from "@/core/rules/gate";
import { appendLedger, ledgerRef, rememberLedger } from "@/git/ledger";
import { gitText } from "@/git/run";
import { forgetStates, loadChangeSet } from "@/store/log";
import { COMMAND_LINE } from "../access/audit";
import { namesOf } from "../access/people";
import { findRepository, folderOf } from "../access/repositories";
import { makeToken } from "../access/tokens";
import { changeParts } from "../changes/views";
import { factsFor } from "../rules/facts";
import { Bench, reason, value } from "../testing/bench";
import { serveGitOf } from "../testing/git-server";
import { story } from "../testing/story";
import { ownKeyId } from "./clone-keys";
import { joinPeople } from "./joined";
import { ledgerKey } from "./keys";
import { writeLedger } from "./ledgers";
import { dropNeighbour, exchangeWith, heard, keepNeighbour, Neighbours, neighboursOf } from "./neighbours";

const it = story();

/** Two servers that were given the same repository, each with people of its own. */
type Name = "north" | "south";
const benches = {} as Record<Name, Bench>;
const closing: (() => Promise<void>)[] = [];
let stream = "";

const other = (name: Name): Name => (name === "north" ? "south" : "north");
const repositoryOf = async (name: Name) => (await findRepository(benches[name].app.db, "quay"))!;
const folderAt = async (name: Name) => folderOf(benches[name].app, await repositoryOf(name));

beforeAll(async () => {
  for (const name of ["north", "south"] as const) {
    const bench = await Bench.set();
    benches[name] = bench;
    const work = await bench.repository("quay", {
      main: [{ "a.txt": "one\ntwo\n" }],
      topic: [{ "a.txt": "one\n2\n" }],
    });
    await bench.takeIn("quay", work);
    closing.push(await serveGitOf(bench));
  }
  await benches.north.person("ada", { quay: "contributor" });
  await benches.north.person("kit", { quay: "keeper" });
  await benches.south.person("ben", { quay: "contributor" });
  await benches.south.person("sue", { quay: "keeper" });
  for (const name of ["north", "south"] as const) {
    const reader = await benches[other(name)].person(`for-${name}`, { quay: "reader" }, { machine: true });
    const token = value(
      await makeToken(benches[other(name)].app, reader.name, { label: "x", scopes: ["git"] }, COMMAND_LINE),
    );
    value(
      await keepNeighbour(benches[name].app, await repositoryOf(name), {
        ...{ name: other(name), key: await ownKeyId(benches[other(name)].app), every: 5 },
        address: `http://127.0.0.1:${benches[other(name)].app.settings.port}/git/quay.git`,
        ...{ account: reader.name, secret: token, bell: "whsec_c2VjcmV0LW9mLXRoZS1iZWxsLWhlcmU=" },
      }),
    );
  }
  stream = value(await benches.north.open("ada", "quay", "topic")).id;
});
afterAll(async () => {
  for (const close of closing) await close();
  for (const bench of Object.values(benches)) await bench.clear();
});

/** What a server fetches of the other, as it does by itself; gives why entries were left out. */
async function asks(name: Name): Promise<string[]> {
  const bench = benches[other(name)];
  for (const { id } of await bench.app.db.selectFrom("change_sets").select("id").execute()) {
    forgetStates();
    await writeLedger(bench.app, id);
  }
  forgetStates();
  const [neighbour] = await neighboursOf(benches[name].app, await repositoryOf(name));
  const taken = value(await exchangeWith(benches[name].app, neighbour));
  forgetStates();
  return taken.notTaken.map(({ why }) => why);
}

async function seen(name: Name, id = stream) {
  forgetStates();
  const change = await loadChangeSet(benches[name].app.db, id);
  return change && { ...change, repository: "" };
}

async function doing(name: Name, by: string, request: Parameters<Bench["do"]>[3], number = 1) {
  forgetStates();
  const outcome = await benches[name].do(by, "quay", number, request);
  forgetStates();
  return outcome;
}
const review = (verdict: "approve" | "request-changes" | "none", remark: string) =>
  ({ kind: "send-review", verdict, revision: 1, remark }) as const;

describe("two servers with the same repository", () => {
  it("show the same after hours apart, with the people of the other by its name", async () => {
    expect(await asks("south")).toEqual([]);
    // The commits of its revisions stay in the south, whatever becomes of the branch.
    const revisions = ["for-each-ref", "--format=%(refname)", `refs/lens/${stream}`];
    expect(await gitText(await folderAt("south"), revisions)).toContain("/r1/head");
    value(await doing("north", "kit", review("none", "Said in the north.")));
    value(await doing("south", "ben", review("approve", "Said in the south.")));
    value(await doing("south", "sue", review("none", "And again.")));
    for (const name of ["north", "south", "north"] as const) expect(await asks(name)).toEqual([]);
    const [north, south] = [await seen("north"), await seen("south")];
    expect(north).toEqual(south);
    expect(north!.reviews.map(({ remark }) => remark).sort()).toEqual([
      ...["And again.", "Said in the north.", "Said in the south."],
    ]);
    const ben = await benches.north.app.db
      .selectFrom("people")
      .select("full_name")
      .where("id", "=", benches.south.people.get("ben")!.id)
      .executeTakeFirst();
    expect(ben?.full_name).toBe("ben Example at south");
  });

  it("count the verdicts of their own people alone", async () => {
    const { app, people } = benches.north;
    forgetStates();
    const change = (await loadChangeSet(app.db, stream))!;
    const { rule, gate } = await factsFor(app, app.db, change, people.get("kit")!);
    const approvals = evaluateGate(change, rule, gate).conditions.find(({ says }) => /approv/i.test(says));
    expect(approvals).toMatchObject({ met: false });
  });

  it("show somebody of the other as who they are here, once that is said; what they say there counts no more for it", async () => {
    const { app, people } = benches.north;
    const id = benches.south.people.get("ben")!.id;
    const accountOf = async (of: string) =>
      (await app.db.selectFrom("people").select("name").where("id", "=", of).executeTakeFirstOrThrow()).name;
    const [ben, sue] = [await accountOf(id), await accountOf(benches.south.people.get("sue")!.id)];
    const join = (elsewhere: string, person: string | null) => joinPeople(app, elsewhere, person, COMMAND_LINE);
    expect(reason(await join("kit", "ada"))).toMatch(/Nobody of another installation/);
    expect(reason(await join(ben, "nobody"))).toMatch(/no account/);
    expect(reason(await join(ben, sue))).toMatch(/of another installation, too/);
    value(await join(ben, "kit"));
    const shown = async () => {
      forgetStates();
      const change = (await loadChangeSet(app.db, stream))!;
      const repository = (await findRepository(app.db, "quay"))!;
      const view = await changeParts(app, people.get("kit")!, repository, change);
      return { name: view.around.people[id].fullName, gate: view.gate.gate, listed: (await namesOf(app.db)).get(id) };
    };
    const joined = await shown();
    expect(joined).toMatchObject({ name: "kit Example", listed: "kit Example" });
    expect(joined.gate.conditions.find(({ says }) => /approv/i.test(says))).toMatchObject({ met: false });
    value(await join(ben, null));
    expect(await shown()).toMatchObject({ name: "ben Example at south" });
  });

  it("decide each on what began with it: nobody merges, settles or withdraws what began there", async () => {
    const there = /began on another server/;
    expect(reason(await doing("south", "sue", { kind: "withdraw" }))).toMatch(there);
    expect(reason(await doing("south", "sue", { kind: "merge", message: "x", how: "merge" } as never))).toMatch(there);
    expect(reason(await doing("south", "sue", { kind: "ready" }))).toMatch(there);
  });

  it("take nothing from the other that is theirs to decide, whoever signed it", async () => {
    const { app } = benches.south;
    const key = await ledgerKey(app);
    const folder = await folderAt("south");
    const [ben, kit] = [benches.south.people.get("ben")!.id, benches.north.people.get("kit")!.id];
    const forge = async (kind: string, by: string, data: object) => {
      const event = { id: app.newId(), stream, kind, version: 1, by, at: app.now(), data };
      const signature = { key: key.id, value: key.sign(signedText(event as never)) };
      const files: [string, string][] = [[entryPath(event.id), `${canonical({ event, signature })}\n`]];
      await appendLedger(folder, stream, [{ files, author: "x", at: event.at, message: "forged\n" }]);
      await rememberLedger(folder, stream);
    };
    await forge("withdrawn", ben, {});
    await forge("reviewed", kit, { revision: 1, verdict: "approve", remark: "", remarks: [] });
    const before = await seen("north");
    expect((await asks("north")).sort()).toEqual([
      "it names somebody of this installation, and another key signed it",
      "what it tells (withdrawn) is decided on this server alone",
    ]);
    expect(await seen("north")).toEqual(before);
  });

  it("bring no ledger that the other had no part in", async () => {
    const unknown = benches.south.app.newId();
    const files: [string, string][] = [["format", "1\n"]];
    await appendLedger(await folderAt("south"), unknown, [{ files, author: "x", at: 1_000, message: "somebody\n" }]);
    await asks("north");
    expect(await gitText(await folderAt("north"), ["for-each-ref", ledgerRef(unknown)])).toBe("");
    expect(await gitText(await folderAt("north"), ["for-each-ref", ledgerRef(stream)])).not.toBe("");
  });

  it("say what is wrong while the other is away, and go on when it is back", async () => {
    const { app } = benches.north;
    const repository = await repositoryOf("north");
    const [neighbour] = await neighboursOf(app, repository);
    const away = { ...neighbour, address: "http://127.0.0.1:1/git/quay.git" };
    expect(reason(await exchangeWith(app, away))).toMatch(/\w/);
    expect((await neighboursOf(app, repository))[0].problem).not.toBe("");
    benches.north.pass(10 * 60_000);
    await new Neighbours(app).step();
    expect((await neighboursOf(app, repository))[0].problem).toBe("");
  });

  it("hold up neither each other nor who ends the server while one of them hangs", async () => {
    const { app } = benches.north;
    const hanging = createServer(() => undefined);
    const asked = new Promise((resolve) => hanging.once("request", resolve));
    await new Promise<void>((resolve) => hanging.listen(0, "127.0.0.1", resolve));
    const { port } = hanging.address() as { port: number };
    const repository = await repositoryOf("north");
    const [{ repository: _, asked_at: __, problem: ___, ...known }] = await neighboursOf(app, repository);
    const east = { ...known, name: "east", key: "0".repeat(32), address: `http://127.0.0.1:${port}/git/quay.git` };
    value(await keepNeighbour(app, repository, east));
    value(await keepNeighbour(app, repository, known));
    const south = async () => (await neighboursOf(app, repository)).find(({ name }) => name === "south")!;
    const neighbours = new Neighbours(app);
    const step = neighbours.step();
    await asked;
    await expect.poll(async () => (await south()).asked_at).not.toBeNull();
    await neighbours.stop();
    await step;
    const problems = (await neighboursOf(app, repository)).map(({ name, problem }) => [name, problem]);
    expect(problems).toEqual([
      ["east", expect.stringMatching(/ended while it asked/)],
      ["south", ""],
    ]);
    hanging.closeAllConnections();
    await new Promise((resolve) => hanging.close(resolve));
    value(await dropNeighbour(app, repository, "east"));
  });

  it("listen to a webhook that is signed, and to no other", async () => {
    const { app } = benches.north;
    const { bell } = (await neighboursOf(app, await repositoryOf("north")))[0];
    const [id, now, body] = ["msg_1", new Date(), '{"type":"reviewed"}'];
    const signed = {
      ...{ "webhook-id": id, "webhook-timestamp": String(Math.floor(now.getTime() / 1000)) },
      "webhook-signature": new Webhook(bell).sign(id, now, body),
    };
    value(await heard(app, "quay", "south", body, signed));
    expect(reason(await heard(app, "quay", "south", `${body} `, signed))).toMatch(/not its signature/);
    expect(reason(await heard(app, "quay", "east", body, signed))).toMatch(/no such neighbour/);
    // It is asked in the background: let that end.
    await app.inTurn(`bell ${(await repositoryOf("north")).id} south`, async () => undefined);
  });

  it("are named by whoever keeps the installation, and refused where they cannot be one", async () => {
    const { app } = benches.south;
    const repository = await repositoryOf("south");
    const [known] = await neighboursOf(app, repository);
    const keep = (more: object) => keepNeighbour(app, repository, { ...known, ...more } as never);
    expect(reason(await keep({ name: "No Name" }))).toMatch(/lower-case/);
    expect(reason(await keep({ key: "short" }))).toMatch(/32 hex/);
    expect(reason(await keep({ every: 0 }))).toMatch(/minutes/);
    expect(reason(await keep({ address: "ftp://x" }))).toMatch(/https/);
    expect(reason(await keep({ name: "twin" }))).toMatch(/same server/);
    expect(await gitText(await folderAt("south"), ["for-each-ref", ledgerRef(stream)])).not.toBe("");
    value(await dropNeighbour(app, repository, "north"));
    expect(reason(await dropNeighbour(app, repository, "north"))).toMatch(/no neighbour/);
  });
});
