import { chmodSync, existsSync, mkdirSync, rmSync, writeFileSync } from "node:fs";
import { connect, createServer, type Server } from "node:net";
import { delimiter, join } from "node:path";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { ledgerFiles, ledgerRef } from "@/git/ledger";
import { gitText } from "@/git/run";
import { Clones } from "@/server/testing/clones";
import { serveGitOf } from "@/server/testing/git-server";
import { eventsOf } from "@/store/log";
import { COMMAND_LINE } from "../access/audit";
import { findRepository, folderOf } from "../access/repositories";
import { carryOut } from "../changes/requests";
import { Bench, value } from "../testing/bench";
import { addCloneKey, ownKeyId } from "./clone-keys";
import { writeLedger } from "./ledgers";

/** What happens to ledgers when a disk is full or a wire is cut. */
let bench: Bench;
let close: () => Promise<void>;
let clones: Clones;
let stream = "";
let there = "";
/** While this file is there, no git writes anything anywhere. */
let full = "";

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", { main: [{ "a.txt": "one\n" }], topic: [{ "a.txt": "two\n" }] });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  stream = value(await bench.open("ada", "quay", "topic")).id;
  there = folderOf(bench.app, (await findRepository(bench.app.db, "quay"))!);
  await writeLedger(bench.app, stream);
  close = await serveGitOf(bench);
  clones = new Clones(bench, "quay");
  await clones.add("ben");
  await gitText(clones.of("ben").folder, ["config", "lens.ledgerKey", await ownKeyId(bench.app)]);
  value(
    await addCloneKey(
      bench.app,
      bench.people.get("ben")!,
      { line: await clones.line("ben"), label: "laptop" },
      COMMAND_LINE,
    ),
  );
  const bin = join(bench.folder, "bin");
  full = join(bin, "full");
  mkdirSync(bin);
  const git = (process.env.PATH ?? "")
    .split(delimiter)
    .map((place) => join(place, "git"))
    .find((at) => existsSync(at))!;
  // A file that grows beyond nothing is an error of writing, as on a disk without room.
  writeFileSync(
    join(bin, "git"),
    `#!/bin/sh\n[ -e "${full}" ] && { trap "" XFSZ; ulimit -f 0; }\nexec "${git}" "$@"\n`,
  );
  chmodSync(join(bin, "git"), 0o755);
  vi.stubEnv("PATH", `${bin}${delimiter}${process.env.PATH}`);
});
afterAll(async () => {
  vi.unstubAllEnvs();
  await clones.close();
  await close();
  await bench.clear();
});

async function whileFull<T>(action: () => Promise<T>): Promise<T> {
  writeFileSync(full, "");
  try {
    return await action();
  } finally {
    rmSync(full);
  }
}

const remark = (words: string) => ({ kind: "send-review", verdict: "none", revision: 1, remark: words }) as const;
const says = (words: string) => bench.do("ada", "quay", 1, remark(words));
const saysAlone = (words: string) =>
  clones.as("ben", async (app, owner) => void value(await carryOut(app, owner, "quay", 1, remark(words))));
const tip = () => gitText(there, ["rev-parse", ledgerRef(stream)]);
const isWhole = async (folder: string) => {
  expect(await gitText(folder, ["fsck", "--no-dangling", "--no-progress"])).toBe("");
};
/** All of the log is in the ledger, and all of the ledger can be read. */
async function isInStep(): Promise<void> {
  await writeLedger(bench.app, stream);
  const ids = (await eventsOf(bench.app.db, stream)).map(({ id }) => `events/${id}.json`);
  const files = await ledgerFiles(there, stream);
  expect([...files.keys()].filter((path) => path.startsWith("events/")).sort()).toEqual(ids.sort());
  for (const [path, text] of files) if (path.endsWith(".json")) expect(() => JSON.parse(text)).not.toThrow();
  await isWhole(there);
}

describe("on a full disk", () => {
  it("a ledger stays as it was, and has all of it once there is room", async () => {
    await isInStep();
    const before = await tip();
    value(await says("Written on a full disk."));
    await whileFull(() => expect(writeLedger(bench.app, stream)).rejects.toThrow(/fast-import/));
    expect(await tip()).toBe(before);
    expect(existsSync(full)).toBe(false);
    await isInStep();
    expect(await tip()).not.toBe(before);
  });

  it("an exchange is refused in words, changes nothing, and can be made again", async () => {
    await clones.sync("ben");
    await saysAlone("From the clone.");
    const before = await tip();
    const mine = () => gitText(clones.of("ben").folder, ["rev-parse", ledgerRef(stream)], { answers: [128] });
    const had = await mine();
    await whileFull(() => expect(clones.sync("ben")).rejects.toThrow());
    expect([await tip(), await mine()]).toEqual([before, had]);
    await clones.sync("ben");
    const log = await eventsOf(bench.app.db, stream);
    expect(log.filter(({ data }) => JSON.stringify(data).includes("From the clone."))).toHaveLength(1);
    await isInStep();
    await isWhole(clones.of("ben").folder);
  });
});

describe("over a wire that is cut", () => {
  let proxy: Server;
  /** How many bytes go to the server before it is cut; none while it is whole. */
  let most: number | null = null;
  beforeAll(async () => {
    proxy = createServer((here) => {
      const far = connect(bench.app.settings.port, "127.0.0.1");
      let gone = 0;
      const end = () => {
        here.destroy();
        far.destroy();
      };
      here.on("data", (bytes) => {
        gone += bytes.length;
        const over = most === null ? 0 : gone - most;
        far.write(over > 0 ? bytes.subarray(0, Math.max(0, bytes.length - over)) : bytes);
        if (over > 0) setTimeout(end, 20);
      });
      far.on("data", (bytes) => here.write(bytes));
      for (const one of [here, far]) one.on("error", end).on("close", end);
    });
    await new Promise<void>((resolve) => proxy.listen(0, "127.0.0.1", resolve));
    const { folder } = clones.of("ben");
    const url = new URL((await gitText(folder, ["remote", "get-url", "origin"])).trim());
    url.port = String((proxy.address() as { port: number }).port);
    await gitText(folder, ["remote", "set-url", "origin", url.href]);
  });
  afterAll(() => new Promise((resolve) => proxy.close(resolve)));

  it("what is handed in comes whole or not at all, wherever it is cut, and once", async () => {
    await clones.sync("ben");
    const ref = ledgerRef(stream);
    let failed = 0;
    for (const [n, at] of [400, 900, 1_600].entries()) {
      await saysAlone(`In a tunnel, ${n}.`);
      most = at;
      await clones.sync("ben").catch((error) => {
        expect(String(error)).toMatch(/origin (?:cannot be fetched from|does not take the reviews)/);
        failed++;
      });
      most = null;
      const files = await ledgerFiles(there, stream);
      for (const text of files.values()) if (text.startsWith("{")) expect(() => JSON.parse(text)).not.toThrow();
      await isWhole(there);
    }
    expect(failed).toBeGreaterThan(0);
    await clones.sync("ben");
    const log = (await eventsOf(bench.app.db, stream)).map(({ data }) => JSON.stringify(data));
    for (let n = 0; n < 3; n++) expect(log.filter((data) => data.includes(`In a tunnel, ${n}.`))).toHaveLength(1);
    await isInStep();
    expect(await gitText(clones.of("ben").folder, ["rev-parse", ref])).not.toBe("");
  });
});
