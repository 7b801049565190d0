import { ulid } from "ulid";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { canonical } from "@/core/doors/ledger/canonical";
import { entryPath, provenEntries, signedText } from "@/core/doors/ledger/ledger";
import type { CommandRequest } from "@/core/review/families/table";
import { standings } from "@/core/review/state";
import { appendLedger, ledgerFiles, ledgerRef } from "@/git/ledger";
import { gitText } from "@/git/run";
import { Clones } from "@/server/testing/clones";
import { serveGitOf } from "@/server/testing/git-server";
import { story } from "@/server/testing/story";
import { eventsOf, forgetStates, loadChangeSet } from "@/store/log";
import { COMMAND_LINE } from "../access/audit";
import { findPerson, setRole } from "../access/people";
import { findRepository, folderOf } from "../access/repositories";
import { carryOut } from "../changes/requests";
import { ledgerProver, readKeys } from "../ledger/brought";
import { addCloneKey, cloneKeysOf, ownKeyId, revokeCloneKey } from "../ledger/clone-keys";
import { takeHanded } from "../ledger/handed";
import { ledgerKey, proverOf } from "../ledger/keys";
import { Ledgers, writeLedger } from "../ledger/ledgers";
import { Bench, reason, value } from "../testing/bench";

const it = story();

/** People review in clones of their own, cut off from the server, and hand in what they said. */
let bench: Bench;
let close: () => Promise<void>;
let stream = "";
let clones: Clones;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "one\ntwo\n" }],
    topic: [{ "a.txt": "one\n2\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "contributor" });
  await bench.person("kit", { quay: "keeper" });
  stream = value(await bench.open("ada", "quay", "topic")).id;
  await writeLedger(bench.app, stream);
  close = await serveGitOf(bench);
  clones = new Clones(bench, "quay");
  for (const name of ["ada", "ben", "kit"]) {
    const { folder } = await clones.add(name);
    // Its owner believes the server.
    await gitText(folder, ["config", "lens.ledgerKey", await ownKeyId(bench.app)]);
    await sync(name);
  }
});
afterAll(async () => {
  await clones.close();
  await close();
  await bench.clear();
});

const sync = (name: string) => clones.sync(name);
const doing = (name: string, request: CommandRequest) =>
  clones.as(name, async (app, owner) => void value(await carryOut(app, owner, "quay", 1, request)));
const claims = async (name: string, clone = name, as = name) =>
  addCloneKey(
    bench.app,
    bench.people.get(name)!,
    { line: await clones.line(clone, as), label: "laptop" },
    COMMAND_LINE,
  );
const onServer = async () => {
  forgetStates();
  return (await loadChangeSet(bench.app.db, stream))!;
};
const folderHere = async () => folderOf(bench.app, (await findRepository(bench.app.db, "quay"))!);
const review = (verdict: "approve" | "request-changes" | "none", remark: string) =>
  ({ kind: "send-review", verdict, revision: 1, remark }) as const;
const said = async () => (await onServer()).reviews.map(({ by, remark, verdict }) => [by, verdict, remark]);

describe("what was said in a clone", () => {
  it("waits until it is known whose clone it is, and is theirs from then on", async () => {
    await doing("ben", review("request-changes", "Written in the tunnel."));
    await sync("ben");
    expect(await said()).toEqual([]);
    value(await claims("ben"));
    expect(await said()).toEqual([[bench.people.get("ben")!.id, "request-changes", "Written in the tunnel."]]);
    expect((await cloneKeysOf(bench.app, bench.people.get("ben")!))[0].usedAt).not.toBeNull();
  });

  it("counts at the gate of the server as what they say there does, and comes once", async () => {
    await doing("ben", review("approve", "Better now."));
    await sync("ben");
    await sync("ben");
    expect((await said()).length).toBe(2);
    expect(standings(await onServer())).toEqual([
      expect.objectContaining({ person: bench.people.get("ben")!.id, verdict: "approve" }),
    ]);
  });

  it("is read as theirs in other clones that believe the server alone", async () => {
    expect(await sync("kit")).toContain("2 entries came");
    const kit = await loadChangeSet(clones.of("kit").app.db, stream);
    forgetStates();
    expect(kit!.reviews.map(({ by }) => by)).toEqual(Array(2).fill(bench.people.get("ben")!.id));
  });

  it("is decided again by the roles and rules of the server", async () => {
    value(await claims("ada"));
    await doing("ada", review("none", "My own word on it."));
    await sync("ada");
    expect((await said()).length).toBe(3);
    await doing("kit", review("approve", "Fine."));
    value(await setRole(bench.app, "kit", "quay", "reader"));
    value(await claims("kit"));
    // A reader's approval is refused there, whatever the clone thinks of its owner; and taken when they may give it.
    expect((await said()).length).toBe(3);
    value(await setRole(bench.app, "kit", "quay", "keeper"));
    await sync("kit");
    expect((await said()).at(-1)).toEqual([bench.people.get("kit")!.id, "approve", "Fine."]);
  });
});

describe("whose a clone is", () => {
  it("is said by who has its key, for themselves, and once", async () => {
    expect(reason(await claims("ada", "ben", "ben"))).toMatch(/not for you/);
    expect(reason(await claims("kit", "ben", "kit"))).toMatch(/somebody else’s/);
    expect(reason(await claims("ben"))).toMatch(/yours already/);
    const broken = { line: "lens-key what ever", label: "x" };
    expect(reason(await addCloneKey(bench.app, bench.people.get("ben")!, broken, COMMAND_LINE))).toMatch(/no line of/);
    const machine = await bench.person("gauge", { quay: "contributor" }, { machine: true });
    expect(reason(await addCloneKey(bench.app, machine, { line: "", label: "x" }, COMMAND_LINE))).toMatch(/machine/);
  });

  it("ends when the key is revoked: nothing that it signs later is taken in, and it is nobody’s again", async () => {
    const ben = bench.people.get("ben")!;
    const [{ key }] = await cloneKeysOf(bench.app, ben);
    expect(reason(await revokeCloneKey(bench.app, bench.people.get("ada")!, key, COMMAND_LINE))).toMatch(/no such/);
    value(await revokeCloneKey(bench.app, ben, key, COMMAND_LINE));
    // Said by who writes the ledgers, whenever they come to it.
    const ledgers = new Ledgers(bench.app);
    await ledgers.step();
    const before = await said();
    await doing("ben", review("none", "From a stolen clone."));
    await sync("ben");
    expect(await said()).toEqual(before);
    expect(reason(await claims("ben"))).toMatch(/revoked/);
  });

  it("is told in the ledger: elsewhere, too, what it had signed by then counts on, and nothing else, whatever time it says", async () => {
    const [{ key }] = await cloneKeysOf(bench.app, bench.people.get("ben")!);
    const own = await ownKeyId(bench.app);
    const here = folderOf(bench.app, (await findRepository(bench.app.db, "quay"))!);
    const files = await ledgerFiles(here, stream);
    const log = new Set((await eventsOf(bench.app.db, stream)).map(({ id }) => id));
    const events = [...files].filter(([path]) => path.startsWith("events/"));
    const signed = (proves: Parameters<typeof provenEntries>[2]) =>
      provenEntries(stream, events, proves).proven.flatMap(({ event, signature }) =>
        signature.key === key ? [event.id] : [],
      );
    const all = signed(proverOf([...readKeys(files).values()]));
    const counting = signed(ledgerProver(files, new Set([own])).proves);
    expect(counting.length).toBeGreaterThan(0);
    expect(counting).toEqual(all.filter((id) => log.has(id)));
    expect(all.length).toBeGreaterThan(counting.length);
    // In the clone of somebody who believes the server the stolen one is not heard.
    await sync("kit");
    const { app } = clones.of("kit");
    forgetStates();
    const remarks = (await loadChangeSet(app.db, stream))!.reviews.map(({ remark }) => remark);
    forgetStates();
    expect(remarks).not.toContain("From a stolen clone.");
    // A file of somebody who has not the server's key revokes nothing.
    const forgery = { key: own, entries: [], signature: { key, value: "" } };
    const more = new Map([...files, [`revoked/${own}.${key}.0.json`, canonical(forgery)]]);
    expect(signed(ledgerProver(more, new Set([own])).proves)).toEqual(counting);
  });
});

describe("a push into a ledger", () => {
  /** An entry that is signed by the clone of somebody, but says what it likes. */
  async function forged(name: string, entry: Record<string, unknown>, id: string): Promise<void> {
    const { app, folder } = clones.of(name);
    const key = await ledgerKey(app);
    const event = { id, stream, version: 1, at: bench.app.now(), ...entry };
    const signature = { key: key.id, value: key.sign(signedText(event as never)) };
    const files: [string, string][] = [[entryPath(id), `${canonical({ event, signature })}\n`]];
    await appendLedger(folder, stream, [{ files, author: name, at: event.at, message: "forged\n" }]);
  }
  const tip = async () => gitText(await folderHere(), ["rev-parse", ledgerRef(stream)]);

  it("says nothing for others, and nothing that only the server decides", async () => {
    const before = await onServer();
    const ben = bench.people.get("ben")!.id;
    await forged(
      "ada",
      { kind: "reviewed", by: ben, data: { revision: 1, verdict: "approve", remark: "", remarks: [] } },
      bench.app.newId(),
    );
    const ada = (await findPerson(clones.of("ada").app.db, "ada"))!.id;
    await forged(
      "ada",
      { kind: "merged", by: ada, data: { commit: "0".repeat(40), kind: "merge" } },
      bench.app.newId(),
    );
    await forged(
      "ada",
      { kind: "reviewed", by: ada, data: { revision: 1, verdict: "approve", remark: "mine", remarks: [] } },
      bench.app.newId(),
    );
    // With an id of next year it would have the last word until then.
    const later = ulid(bench.app.now() + 365 * 86_400_000);
    await forged(
      "ada",
      { kind: "reviewed", by: ada, data: { revision: 1, verdict: "none", remark: "last word", remarks: [] } },
      later,
    );
    await sync("ada");
    const after = await onServer();
    expect(after.reviews).toEqual(before.reviews);
    expect(after.state).toBe("open");
  });

  it("neither takes away nor changes what was there", async () => {
    const { folder } = clones.of("ada");
    const files = await ledgerFiles(await folderHere(), stream);
    const [first] = [...files].find(([path]) => path.startsWith("events/"))!;
    // A history of its own, with another text under the name of an entry that is there.
    await gitText(folder, ["update-ref", "-d", ledgerRef(stream)]);
    await appendLedger(folder, stream, [{ files: [[first, "{}\n"]], author: "x", at: 1_000, message: "mine\n" }]);
    const push = gitText(folder, ["push", "--quiet", "--force", "origin", `${ledgerRef(stream)}:${ledgerRef(stream)}`]);
    await push;
    const now = await ledgerFiles(await folderHere(), stream);
    for (const [path, text] of files) expect(now.get(path)).toBe(text);
    expect((await onServer()).title).toBe("Take topic");
  });

  it("is joined, not built upon, however many came before the first was looked at", async () => {
    const { folder } = clones.of("kit");
    const files = await ledgerFiles(await folderHere(), stream);
    const [first] = [...files].find(([path]) => path.startsWith("events/"))!;
    await gitText(folder, ["update-ref", "-d", ledgerRef(stream)]);
    await appendLedger(folder, stream, [{ files: [[first, "{}\n"]], author: "x", at: 1_000, message: "one\n" }]);
    const one = await gitText(folder, ["rev-parse", ledgerRef(stream)]);
    await appendLedger(folder, stream, [{ files: [["format", "9\n"]], author: "x", at: 2_000, message: "two\n" }]);
    const two = await gitText(folder, ["rev-parse", ledgerRef(stream)]);
    // Both stand in the repository before either hook speaks, and something happens here in between.
    const there = await folderHere();
    await gitText(there, ["fetch", "--quiet", folder, `+${ledgerRef(stream)}:${ledgerRef(stream)}`]);
    value(
      await bench.do("kit", "quay", 1, { kind: "send-review", verdict: "none", revision: 1, remark: "Meanwhile." }),
    );
    await writeLedger(bench.app, stream);
    const repository = (await findRepository(bench.app.db, "quay"))!;
    await takeHanded(bench.app, repository, { stream, old: one, next: two });
    const now = await ledgerFiles(there, stream);
    for (const [path, text] of files) expect(now.get(path)).toBe(text);
    expect([...now.values()].filter((text) => text.includes("Meanwhile."))).toHaveLength(1);
  });

  it("cannot delete a ledger, nor make one of nothing, nor write beside them", async () => {
    const { folder } = clones.of("ada");
    const before = await tip();
    const pushing = (refs: string) => gitText(folder, ["push", "--quiet", "origin", refs]).then(() => "", String);
    expect(await pushing(`:${ledgerRef(stream)}`)).toMatch(/cannot be deleted/);
    expect(await pushing(`${ledgerRef(stream)}:refs/lens/ledger/nothing`)).toMatch(/under the id/);
    expect(await pushing(`HEAD:refs/lens/${stream}/r1/head`)).toMatch(/hidden|denied|rejected/);
    const unknown = bench.app.newId();
    await pushing(`${ledgerRef(stream)}:${ledgerRef(unknown)}`);
    expect(await gitText(await folderHere(), ["for-each-ref", ledgerRef(unknown)])).toBe("");
    expect(await tip()).toBe(before);
  });

  it("is refused where reviews are not kept in the repository", async () => {
    await bench.app.db.updateTable("repositories").set({ ledger: 0 }).execute();
    const { folder } = clones.of("kit");
    const ref = ledgerRef(stream);
    const pushed = await gitText(folder, ["push", "--quiet", "--force", "origin", `${ref}~1:${ref}`]).then(
      () => "",
      String,
    );
    expect(pushed).toMatch(/not kept in the repository/);
    await bench.app.db.updateTable("repositories").set({ ledger: 1 }).execute();
  });
});
