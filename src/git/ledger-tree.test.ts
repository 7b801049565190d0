import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { story } from "@/server/testing/story";
import { appendLedger, filesOf, joinLedger, ledgerFiles, ledgerRef } from "./ledger";
import { ledgerTree, sizeOfLedger } from "./ledger-tree";
import { writeCommit } from "./merge";
import { git, gitText } from "./run";

const folder = join(mkdtempSync(join(tmpdir(), "lens-ledger-")), "bare.git");
const stream = "01ARZ3NDEKTSV4RRFFQ69G5FAV";
const files: [string, string][] = [
  ["format", "1\n"],
  ["events/01.json", "{}\n"],
  ["keys/k.json", "k\n"],
];

async function treeOf(entries: readonly string[]): Promise<string> {
  return gitText(folder, ["mktree"], { input: `${entries.join("\n")}\n` });
}
const commitOf = (tree: string, ...parents: string[]) => {
  const by = { name: "Ada", email: "ada@x.example", at: Date.UTC(2026, 0, 5) };
  return writeCommit(folder, { tree, parents, message: "Pushed", by });
};

let blob: string;
beforeAll(async () => {
  await git(null, ["init", "--quiet", "--bare", folder]);
  await appendLedger(folder, stream, [{ files, author: "Ada", at: 0, message: "one\n" }]);
  blob = await gitText(folder, ["hash-object", "-w", "--stdin"], { input: "evil\n" });
});
afterAll(() => rmSync(join(folder, ".."), { recursive: true, force: true }));

const it = story();

describe("the tree of a ledger", () => {
  it("is read by the ref or the commit, and is what was written", async () => {
    const { blobs, mixed } = await ledgerTree(folder, ledgerRef(stream));
    expect([[...blobs.keys()].sort(), mixed]).toEqual([["events/01.json", "format", "keys/k.json"], false]);
    const tip = await gitText(folder, ["rev-parse", ledgerRef(stream)]);
    expect(await filesOf(folder, tip)).toEqual(new Map(files));
    expect(await sizeOfLedger(folder, tip, 10)).toEqual({ files: 3, bytes: 7 });
    expect(await sizeOfLedger(folder, tip, 2)).toEqual({ files: 3, bytes: 0 });
  });

  it("is empty where no commit is: at a blob, a tree, and what is not there", async () => {
    const tree = await gitText(folder, ["rev-parse", `${ledgerRef(stream)}^{tree}`]);
    for (const at of [blob, tree, "0".repeat(40), "refs/lens/ledger/none", "--all", "HEAD"])
      expect(await ledgerTree(folder, at)).toEqual({ blobs: new Map(), mixed: false });
    await git(folder, ["update-ref", "refs/came/blob", blob]);
    expect(await joinLedger(folder, stream, "refs/came/blob")).toBe(false);
  });

  it("has nothing of what is no part of a ledger, and none of it is joined", async () => {
    const events = await treeOf([
      `100755 blob ${blob}\t02.json`,
      `120000 blob ${blob}\t03.json`,
      `100644 blob ${blob}\t04.json`,
    ]);
    const tree = await treeOf([
      `100644 blob ${blob}\tREADME`,
      `040000 tree ${events}\tevents`,
      `040000 tree ${events}\tsrc`,
    ]);
    const came = await commitOf(tree);
    const read = await ledgerTree(folder, came);
    expect([[...read.blobs.keys()], read.mixed]).toEqual([["events/04.json"], true]);
    await git(folder, ["update-ref", "refs/came/mixed", came]);
    for (const change of [stream, "01BX5ZZKBKACTAV9WEVGEMMVRZ"]) {
      expect(await joinLedger(folder, change, "refs/came/mixed")).toBe(true);
      const paths = [...(await ledgerFiles(folder, change)).keys()];
      expect(paths.filter((path) => !files.some(([own]) => own === path))).toEqual(["events/04.json"]);
      const listed = await gitText(folder, ["ls-tree", "-r", "--name-only", ledgerRef(change)]);
      expect(listed).not.toMatch(/README|src/);
    }
  });

  it("takes no longer to read where folders lie in folders without end", async () => {
    let deep = await treeOf([`100644 blob ${blob}\tx`]);
    // Each of thirty levels holds the one below it ten times over.
    for (let level = 0; level < 30; level++)
      deep = await treeOf(Array.from({ length: 10 }, (_, n) => `040000 tree ${deep}\tevents${n}`));
    const came = await commitOf(await treeOf([`040000 tree ${deep}\tevents`]));
    expect(await ledgerTree(folder, came)).toEqual({ blobs: new Map(), mixed: true });
    expect(await sizeOfLedger(folder, came, 10)).toEqual({ files: 0, bytes: 0 });
  });
});
