import { execFileSync } from "node:child_process";
import { createHash, createPublicKey, generateKeyPairSync, sign, verify } from "node:crypto";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { canonical } from "@/core/doors/ledger/canonical";
import { readLedger, signedText } from "@/core/doors/ledger/ledger";
import { appendLedger, ledgerFiles } from "@/git/ledger";
import { story } from "@/server/testing/story";
import { loadChangeSet, rebuild } from "@/store/log";
import { keepUnsent } from "../changes/unsent";
import { Bench, value } from "../testing/bench";
import { keyId, proverOf } from "./keys";
import { Ledgers, writeLedger } from "./ledgers";

const it = story();

let bench: Bench;
let ledgers: Ledgers;
let stream: string;
let folder: string;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", { main: [{ "a.txt": "one\n" }], topic: [{ "a.txt": "two\n" }] });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  ledgers = new Ledgers(bench.app);
  await ledgers.step();
  value(await bench.open("ada", "quay", "topic"));
  const found = await bench.change("quay", 1);
  stream = found.change.id;
  folder = found.folder;
});
afterAll(() => bench.clear());

const git = (...args: string[]) => execFileSync("git", ["--git-dir", folder, ...args]).toString();
const read = async (keys?: string[]) => {
  const files = await ledgerFiles(folder, stream);
  const known = [...files]
    .filter(([path]) => path.startsWith("keys/"))
    .map(([, text]) => JSON.parse(text).public as string);
  return readLedger(
    stream,
    [...files].filter(([path]) => path.startsWith("events/")),
    proverOf(keys ?? known),
  );
};

async function remark(body: string): Promise<string> {
  const { change } = await bench.change("quay", 1);
  const blob = git("rev-parse", `${change.revisions[0].head}:a.txt`).trim();
  const anchor = { kind: "lines" as const, revision: 1, blob, side: "new" as const, path: "a.txt", start: 1, end: 1 };
  const id = bench.app.newId();
  const note = { kind: "remark" as const, anchor, body, weight: "settle" as const, suggestions: [] };
  value(await keepUnsent(bench.app, bench.people.get("ben")!, change, folder, id, note));
  value(await bench.do("ben", "quay", 1, { kind: "send-review", revision: 1, verdict: "request-changes", remark: "" }));
  return id;
}

describe("a ledger in the repository", () => {
  it("has all that happened, a commit each by who did it, and makes the same state as the log", async () => {
    const thread = await remark("Why <two>?");
    value(await bench.do("ada", "quay", 1, { kind: "reply", thread, body: "So it is." }));
    await ledgers.step();
    const { change, leftOut } = await read();
    expect(leftOut).toEqual([]);
    expect(change).toEqual(await loadChangeSet(bench.app.db, stream));
    const told = git("log", "--format=%an: %s", `refs/lens/ledger/${stream}`);
    expect(told.trim().split("\n").reverse()).toEqual([
      "ada Example: opened by ada Example",
      "ben Example: ben Example asks for changes in r1",
      expect.stringMatching(/^ada Example: .*/),
    ]);
    // Once more is once; made again from the log it is the same.
    const tip = git("rev-parse", `refs/lens/ledger/${stream}`);
    expect(await writeLedger(bench.app, stream)).toBe(0);
    await bench.app.db.transaction().execute((tx) => rebuild(tx));
    expect(git("rev-parse", `refs/lens/ledger/${stream}`)).toBe(tip);
    git("fsck", "--strict");
  });

  it("is read by git and a few lines that share nothing with ours", async () => {
    const script = (await ledgerFiles(folder, stream)) as ReadonlyMap<string, string>;
    const names = git("ls-tree", "-r", "--name-only", `refs/lens/ledger/${stream}`).trim().split("\n");
    expect(names).toEqual([...script.keys()]);
    const sorted = (value: unknown): unknown =>
      Array.isArray(value)
        ? value.map(sorted)
        : value && typeof value === "object"
          ? Object.fromEntries(
              Object.keys(value)
                .sort()
                .map((key) => [key, sorted((value as Record<string, unknown>)[key])]),
            )
          : value;
    let remarks = 0;
    for (const name of names.filter((one) => one.startsWith("events/"))) {
      const { event, signature } = JSON.parse(git("show", `refs/lens/ledger/${stream}:${name}`));
      const { public: key } = JSON.parse(git("show", `refs/lens/ledger/${stream}:keys/${signature.key}.json`));
      const spki = Buffer.from(key, "base64");
      expect(createHash("sha256").update(spki).digest("hex").slice(0, 32)).toBe(signature.key);
      const of = createPublicKey({ key: spki, format: "der", type: "spki" });
      expect(verify(null, Buffer.from(JSON.stringify(sorted(event))), of, Buffer.from(signature.value, "base64"))).toBe(
        true,
      );
      if (event.kind === "reviewed") remarks += event.data.remarks.length;
    }
    expect(remarks).toBe(1);
  });

  it("believes nothing that was forged: edited, signed by another key, or under another's name", async () => {
    const files = await ledgerFiles(folder, stream);
    const before = await read();
    const [path, text] = [...files].findLast(([one]) => one.startsWith("events/"))!;
    const { privateKey, publicKey } = generateKeyPairSync("ed25519");
    const spki = publicKey.export({ type: "spki", format: "der" });
    const entry = JSON.parse(text);
    const approval = {
      ...{ ...entry.event, id: bench.app.newId(), kind: "reviewed", by: bench.people.get("ada")!.id },
      data: { revision: 1, verdict: "approve", remark: "", remarks: [] },
    };
    const forged = (key: string) =>
      canonical({
        event: approval,
        signature: { key, value: sign(null, Buffer.from(signedText(approval)), privateKey).toString("base64") },
      });
    const [known] = [...files.keys()].filter((one) => one.startsWith("keys/")).map((one) => one.slice(5, -5));
    for (const key of [known, keyId(spki)]) {
      await appendLedger(folder, stream, [
        { files: [[`events/${approval.id}.json`, forged(key)]], author: "ada <x>\nEvil", at: 1, message: "x" },
      ]);
      const after = await read();
      expect(after.change).toEqual(before.change);
      expect(after.leftOut).toEqual([{ id: approval.id, why: "it is unproven: no known key signed it" }]);
    }
    await appendLedger(folder, stream, [
      { files: [[path, text.replace("So it is", "So be it")]], author: "x", at: 1, message: "x" },
    ]);
    expect((await read()).leftOut.map(({ why }) => why)).toEqual(
      Array(2).fill("it is unproven: no known key signed it"),
    );
    expect((await read([])).change).toBeNull();
    git("update-ref", "-d", `refs/lens/ledger/${stream}`);
    // One that is gone is there again as this server made it; and where that is gone too, from the log.
    expect(await writeLedger(bench.app, stream)).toBe(0);
    expect((await read()).leftOut).toEqual([]);
    for (const place of ["lens/ledger", "lens-ledger"]) git("update-ref", "-d", `refs/${place}/${stream}`);
    expect(await writeLedger(bench.app, stream)).toBe(3);
    expect((await read()).leftOut).toEqual([]);
  });

  it("is small: a review of 300 remarks packs under 200 kB", async () => {
    git("update-ref", "-d", `refs/lens/ledger/${stream}`);
    const { change } = await bench.change("quay", 1);
    const blob = git("rev-parse", `${change.revisions[0].head}:a.txt`).trim();
    for (let n = 0; n < 300; n++) {
      const anchor = {
        kind: "lines" as const,
        revision: 1,
        blob,
        side: "new" as const,
        path: "a.txt",
        start: 1,
        end: 1,
      };
      const body = `Remark ${n}: this says what one would say of a line, and is as long as that is.`;
      const note = { kind: "remark" as const, anchor, body, weight: "settle" as const, suggestions: [] };
      const id = bench.app.newId();
      value(await keepUnsent(bench.app, bench.people.get("ben")!, change, folder, id, note));
    }
    const verdict = "none" as const;
    value(await bench.do("ben", "quay", 1, { kind: "send-review", revision: 1, verdict, remark: "" }));
    await writeLedger(bench.app, stream);
    const alone = join(bench.folder, "alone.git");
    execFileSync("git", ["init", "--quiet", "--bare", alone]);
    execFileSync("git", ["--git-dir", alone, "fetch", "--quiet", folder, `refs/lens/ledger/${stream}:refs/heads/x`]);
    execFileSync("git", ["--git-dir", alone, "repack", "-adq"]);
    const size = Number(
      /size-pack: (\d+)/.exec(execFileSync("git", ["--git-dir", alone, "count-objects", "-v"]).toString())![1],
    );
    expect(size).toBeLessThan(200);
  });

  it("holds nothing of what was deleted before it came there, and nothing where it is switched off", async () => {
    const thread = await remark("A secret.");
    value(
      await bench.do("ben", "quay", 1, {
        kind: "erase",
        thread,
        comment: (await loadChangeSet(bench.app.db, stream))!.threads.find(({ id }) => id === thread)!.comments[0].id,
      }),
    );
    await writeLedger(bench.app, stream);
    expect([...(await ledgerFiles(folder, stream)).values()].join()).not.toContain("A secret.");
    await bench.app.db.updateTable("repositories").set({ ledger: 0 }).execute();
    value(await bench.do("ada", "quay", 1, { kind: "withdraw" }));
    expect(await writeLedger(bench.app, stream)).toBe(0);
  });
});
