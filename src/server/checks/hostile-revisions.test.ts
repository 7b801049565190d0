import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { newest } from "@/core/review/state";
import { checksOf } from "@/core/rules/checks";
import { git } from "@/git/run";
import { TOO_MANY } from "@/git/trees";
import { previewChange } from "../changes/revisions/opening";
import { Bench, reason, value } from "../testing/bench";
import { Runner } from "./runner";

let bench: Bench;
let work: string;
const BY = {
  GIT_AUTHOR_NAME: "Ada",
  GIT_AUTHOR_EMAIL: "ada@x",
  GIT_COMMITTER_NAME: "Ada",
  GIT_COMMITTER_EMAIL: "ada@x",
};
const COMMANDS = JSON.stringify({ checks: [{ name: "tests", run: "echo ten passed" }] });

/** A branch at one commit on main, whose tree is made of lines as `git mktree` takes them. */
async function branch(name: string, entries: string[], parent = "main") {
  const folder = join(work, ".git");
  const tree = await treeOf(entries);
  const made = await git(folder, ["commit-tree", tree, "-p", parent, "-m", name], { env: BY });
  await git(folder, ["update-ref", `refs/heads/${name}`, made.stdout.toString().trim()]);
}

async function treeOf(entries: string[]): Promise<string> {
  const input = entries.map((entry) => `${entry}\n`).join("");
  return (await git(join(work, ".git"), ["mktree", "--missing"], { input })).stdout.toString().trim();
}

async function blobOf(text: string): Promise<string> {
  return (await git(join(work, ".git"), ["hash-object", "-w", "--stdin"], { input: text })).stdout.toString().trim();
}

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", {
    main: [{ "a.txt": "one\n", ".lens/checks.json": COMMANDS }],
    honest: [{ "a.txt": "two\n" }],
  });
});
afterAll(() => bench.clear());

describe("revisions that are made to hinder", () => {
  it("keep the runner from no other one, and are told of in a sentence", async () => {
    const [file, commands] = [await blobOf("one\n"), await blobOf(COMMANDS)];
    const lens = async (entry: string) => [`100644 blob ${file}\ta.txt`, `040000 tree ${await treeOf([entry])}\t.lens`];
    const named = await lens(`100644 blob ${commands}\tchecks.json`);
    await branch("long-name", [`100644 blob ${file}\t${"n".repeat(300)}`, ...named]);
    await branch("folder", await lens(`040000 tree ${await treeOf([`100644 blob ${file}\tx`])}\tchecks.json`));
    await branch("pointer", await lens(`160000 commit ${"1".repeat(40)}\tchecks.json`));
    await branch("large", await lens(`100644 blob ${await blobOf(" ".repeat(1_000_001))}\tchecks.json`));
    await bench.takeIn("quay", work);
    await bench.person("ada", { quay: "contributor" });
    await bench.person("machine", { quay: "contributor" });
    await bench.app.db.updateTable("people").set({ machine: 1 }).where("name", "=", "machine").execute();
    for (const name of ["long-name", "folder", "pointer", "large", "honest"])
      value(await bench.open("ada", "quay", name));
    const runner = new Runner(bench.app, "machine");
    await runner.step();
    await runner.stop();
    const said = async (number: number) =>
      checksOf((await bench.change("quay", number)).change).map(({ state, summary }) => `${state}: ${summary}`);
    expect(await said(1)).toEqual([expect.stringMatching(/^failed: could not be run: .*File name too long/)]);
    expect(await said(2)).toEqual([expect.stringMatching(/^failed: .lens\/checks.json/)]);
    expect(await said(3)).toEqual([]);
    expect(await said(4)).toEqual(["failed: .lens/checks.json has more than 1 MB."]);
    expect(await said(5)).toEqual(["passed: ten passed"]);
  });

  it("are none where they hold folders in folders without end", async () => {
    const file = `100644 blob ${await blobOf("one\n")}\ta.txt`;
    let deep = await treeOf([file]);
    for (let level = 0; level < 30; level++)
      deep = await treeOf(Array.from({ length: 10 }, (_, n) => `040000 tree ${deep}\t${n}`));
    await branch("endless", [file, `040000 tree ${deep}\tdeep`]);
    await branch("later", [file, `040000 tree ${deep}\tdeep`], "honest");
    await branch("nearer", [file.replace("a.txt", "b.txt"), `040000 tree ${deep}\tdeep`], "endless");
    const { folder, change } = await bench.change("quay", 5);
    await git(folder, ["fetch", "--quiet", work, "+refs/heads/*:refs/heads/*"]);
    expect(reason(await bench.open("ada", "quay", "endless"))).toBe(TOO_MANY);
    expect(reason(await previewChange(bench.app, bench.people.get("ada")!, "quay", "endless", "main"))).toBe(TOO_MANY);
    await git(folder, ["update-ref", "refs/heads/honest", "refs/heads/later"]);
    expect(reason(await bench.do("ada", "quay", 5, { kind: "revise" }))).toBe(TOO_MANY);
    expect(newest((await bench.change("quay", 5)).change)).toEqual(newest(change));
    // Nor by way of another branch, which has them already.
    const { number } = value(await bench.open("ada", "quay", "nearer", "endless"));
    expect(reason(await bench.do("ada", "quay", number, { kind: "retarget", target: "main" }))).toBe(TOO_MANY);
  });
});
