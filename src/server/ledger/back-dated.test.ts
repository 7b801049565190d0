import { generateKeyPairSync, sign } from "node:crypto";
import { decodeTime, encodeTime } from "ulid";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { canonical } from "@/core/doors/ledger/canonical";
import { claimOf, keyLine } from "@/core/doors/ledger/key-line";
import { entryPath, signedText } from "@/core/doors/ledger/ledger";
import type { CommandRequest } from "@/core/review/families/table";
import { newest } from "@/core/review/state";
import { approvalsOf } from "@/core/rules/standing";
import { appendLedger, ledgerRef } from "@/git/ledger";
import { gitText } from "@/git/run";
import { story } from "@/server/testing/story";
import { eventsOf } from "@/store/log";
import { COMMAND_LINE } from "../access/audit";
import { folderOf } from "../access/repositories";
import { gateFactsFor } from "../rules/facts";
import { ruleFor } from "../rules/rules";
import { Bench, reason, value } from "../testing/bench";
import { addCloneKey } from "./clone-keys";
import { takeHanded } from "./handed";
import { keyId } from "./keys";
import { writeLedger } from "./ledgers";

const it = story();

/** Ada signs entries in a clone of her own, and may give them whatever id and time she likes: none of it changes what others did. */
let bench: Bench;
let work: string;
function clone() {
  const { privateKey, publicKey } = generateKeyPairSync("ed25519");
  const spki = publicKey.export({ type: "spki", format: "der" });
  return { spki, signed: (text: string) => sign(null, Buffer.from(text), privateKey).toString("base64") };
}
const clones = { ada: clone(), ben: clone() };

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", { main: [{ "a.txt": "a\n" }] });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  await bench.person("kit", { quay: "keeper" });
  for (const [name, { spki, signed }] of Object.entries(clones)) {
    const line = keyLine({ public: spki.toString("base64"), signature: signed(claimOf(name)) });
    value(await addCloneKey(bench.app, bench.people.get(name)!, { line, label: "laptop" }, COMMAND_LINE));
  }
});
afterAll(() => bench.clear());

const id = (name: string) => bench.people.get(name)!.id;
const act = (by: string, number: number, request: CommandRequest) => bench.do(by, "quay", number, request);
const at = async (number: number) => (await bench.change("quay", number)).change;
const log = async (number: number) => eventsOf(bench.app.db, (await at(number)).id);
/** An id that comes just before another. */
const justBefore = (other: string) => encodeTime(decodeTime(other) - 1, 10) + other.slice(10);

async function push(branch: string, files: Record<string, string>): Promise<void> {
  await bench.git(work, "checkout", "--quiet", "-B", branch, branch === "main" ? "main" : `${branch}-is`);
  await bench.commit(work, "more", files);
  await bench.git(work, "branch", "--force", `${branch}-is`);
  await bench.push("ada", "quay", branch, `refs/heads/${branch}`);
}
async function begin(branch: string): Promise<number> {
  await bench.git(work, "branch", "--force", `${branch}-is`, "main");
  await push(branch, { [`${branch}.txt`]: "1\n" });
  return value(await bench.open("ada", "quay", branch)).number;
}
/** Hands an entry in that somebody signed; gives what the terminal says. */
async function hand(
  number: number,
  entry: { id: string; kind: string; data: object },
  by: keyof typeof clones = "ada",
): Promise<string> {
  const { spki, signed } = clones[by];
  const { id: stream, repository } = await at(number);
  const folder = folderOf(bench.app, { id: repository });
  await writeLedger(bench.app, stream);
  const old = await gitText(folder, ["rev-parse", ledgerRef(stream)]);
  const event = { ...entry, stream, version: 1, by: id(by), at: decodeTime(entry.id) };
  const signature = { key: keyId(spki), value: signed(signedText(event as never)) };
  const files: [string, string][] = [[entryPath(entry.id), `${canonical({ event, signature })}\n`]];
  await appendLedger(folder, stream, [{ files, author: by, at: event.at, message: "handed in\n" }]);
  const next = await gitText(folder, ["rev-parse", ledgerRef(stream)]);
  return (await takeHanded(bench.app, { id: repository }, { stream, old, next })).join("\n");
}
const REFUSED = /It would come before what was done here since, and change what that meant/;

describe("an entry that is dated back", () => {
  it("takes no revision of others out, so that an approval would be of another one", async () => {
    const number = await begin("topic");
    await push("topic", { "topic.txt": "2\n" });
    value(await act("ben", number, { kind: "send-review", revision: 2, verdict: "approve", remark: "" }));
    await push("topic", { "topic.txt": "evil\n" });
    const [second, third] = (await log(number)).filter(({ kind }) => kind === "revised");
    expect(await hand(number, { id: justBefore(second.id), kind: "withdrawn", data: {} })).toMatch(REFUSED);
    expect(await hand(number, { id: justBefore(third.id), kind: "opened-again", data: {} })).toMatch(/Left out/);
    const change = await at(number);
    expect([change.state, change.revisions.length, change.leftOut]).toEqual(["open", 3, []]);
    const rule = await ruleFor(bench.app.db, change.repository, "main");
    const facts = await gateFactsFor(bench.app, bench.app.db, change, rule);
    expect(approvalsOf(change, rule, facts)).toEqual([{ person: id("ben"), hindrance: "outdated" }]);
    expect(reason(await act("ada", number, { kind: "merge", revision: 3, message: "Mine" }))).toMatch(
      /0 of 1 approval/,
    );
  });

  it("writes nothing into a merge that somebody asked for since", async () => {
    const number = await begin("asked");
    const opened = (await log(number))[0];
    value(await act("kit", number, { kind: "merge-when-open", revision: 1, how: "merge", message: null }));
    const data = { title: "Kit is sorry", description: "" };
    const asked = (await log(number)).find(({ kind }) => kind === "merge-asked")!;
    expect(await hand(number, { id: justBefore(asked.id), kind: "described", data })).toMatch(REFUSED);
    const change = await at(number);
    expect([change.title, change.mergeAsked?.by]).toEqual(["Take asked", id("kit")]);
    expect(justBefore(asked.id) > opened.id).toBe(true);
  });

  it("is taken in where it changes nothing of that, and what comes after one from a clock that is ahead comes after it", async () => {
    const number = await begin("honest");
    const { head, base } = newest(await at(number));
    const said = { revision: 1, read: { head, base }, verdict: "none", remark: "On the train.", remarks: [] };
    value(await act("ben", number, { kind: "send-review", revision: 1, verdict: "approve", remark: "" }));
    const approved = (await log(number)).find(({ kind }) => kind === "reviewed")!;
    expect(await hand(number, { id: justBefore(approved.id), kind: "reviewed", data: said })).toMatch(
      /1 entry taken in/,
    );
    expect((await at(number)).reviews.map(({ by }) => by)).toEqual([id("ada"), id("ben")]);
    const ahead = encodeTime(bench.app.now() + 55_000, 10) + approved.id.slice(10);
    const later = { ...said, remark: "My clock is fast." };
    expect(await hand(number, { id: ahead, kind: "reviewed", data: later })).toMatch(/1 entry taken in/);
    await push("honest", { "honest.txt": "2\n" });
    const events = await log(number);
    expect(events.at(-1)?.kind).toBe("revised");
    expect(newest(await at(number)).number).toBe(2);
  });
});

describe("an approval of a clone", () => {
  it("is of the commits that were read there, whatever else has their number here by then", async () => {
    const number = await begin("shell");
    const { base, target } = newest(await at(number));
    // Ada's ledger has a second revision that the branch does not hold: it is refused, and lies there to be read.
    await bench.git(work, "checkout", "--quiet", "-B", "plain", "shell-is");
    await bench.commit(work, "plain", { "shell.txt": "harmless\n" });
    const plain = await bench.git(work, "rev-parse", "HEAD");
    await bench.push("ada", "quay", "plain", "refs/heads/plain");
    const revision = { head: plain, target, base };
    const made = await hand(number, { id: bench.app.newId(), kind: "revised", data: { revision } });
    expect(made).toMatch(/does not hold/);
    // Ben reads it in his clone, and approves it there.
    const said = { revision: 2, verdict: "approve", remark: "Fine.", remarks: [] };
    const approved = { id: bench.app.newId(), kind: "reviewed", data: { ...said, read: { head: plain, base } } };
    expect(await hand(number, approved, "ben")).toMatch(/Left out/);
    const older = { id: bench.app.newId(), kind: "reviewed", data: said };
    expect(await hand(number, older, "ben")).toMatch(/Left out/);
    // Then she pushes something else, and what waits is decided again.
    await push("shell", { "shell.txt": "evil\n" });
    expect(newest(await at(number)).number).toBe(2);
    const word = { revision: 2, read: { head: newest(await at(number)).head, base }, verdict: "none", remarks: [] };
    const told = await hand(number, {
      id: bench.app.newId(),
      kind: "reviewed",
      data: { ...word, remark: "Look again." },
    });
    expect(told).toMatch(/1 entry taken in/);
    expect(told).toMatch(/What was read as r2 is no revision here/);
    expect((await at(number)).reviews.map(({ by }) => by)).toEqual([id("ada")]);
    expect(reason(await act("ada", number, { kind: "merge", revision: 2, message: "Mine" }))).toMatch(
      /0 of 1 approval/,
    );
  });
});
