import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { looseRef } from "./loose-ref";
import { readerOf } from "./readers";
import { branchCommit } from "./repository";
import { git, gitText } from "./run";

const folder = join(mkdtempSync(join(tmpdir(), "lens-refs-")), "bare.git");
const fileOf = (branch: string) => join(folder, "refs", "heads", branch);
const ask = (branch: string) => readerOf(folder).commitOf(`refs/heads/${branch}`);

let commits: string[];
beforeAll(async () => {
  await git(null, ["init", "--quiet", "--bare", "--initial-branch=main", folder]);
  const tree = await gitText(folder, ["mktree"], { input: "" });
  const env = {
    ...{ GIT_AUTHOR_NAME: "Ada", GIT_AUTHOR_EMAIL: "ada@x.example" },
    ...{ GIT_COMMITTER_NAME: "Ada", GIT_COMMITTER_EMAIL: "ada@x.example" },
  };
  commits = await Promise.all(["one", "two"].map((m) => gitText(folder, ["commit-tree", tree, "-m", m], { env })));
});
afterAll(() => {
  readerOf(folder).close();
  rmSync(join(folder, ".."), { recursive: true, force: true });
});

describe("the commit of a branch", () => {
  it("is read without git where the branch has a file, and asked of git where it is packed with others", async () => {
    const reader = readerOf(folder);
    const asked = vi.spyOn(reader, "commitOf");
    const tip = async () => [await branchCommit(folder, "main"), asked.mock.calls.length];
    await git(folder, ["update-ref", "refs/heads/main", commits[0]]);
    // Whether there is such a commit is asked once.
    expect([await tip(), await tip()]).toEqual([
      [commits[0], 1],
      [commits[0], 1],
    ]);
    await git(folder, ["pack-refs", "--all"]);
    expect(await tip()).toEqual([commits[0], 2]);
    // The file of a branch counts for more than what is packed.
    await git(folder, ["update-ref", "refs/heads/main", commits[1]]);
    expect([await tip(), await tip()]).toEqual([
      [commits[1], 3],
      [commits[1], 3],
    ]);
    await git(folder, ["update-ref", "refs/heads/main", commits[0]]);
    expect(await tip()).toEqual([commits[0], 3]);
    await git(folder, ["update-ref", "-d", "refs/heads/main"]);
    expect(await tip()).toEqual([null, 4]);
    asked.mockRestore();
  });

  it("is none where its file names what is not there, and what a tag is of where it names one", async () => {
    writeFileSync(fileOf("lost"), `${"a".repeat(40)}\n`);
    await git(folder, ["tag", "-a", "-m", "A tag", "tagged", commits[0]], {
      env: { GIT_COMMITTER_NAME: "Ada", GIT_COMMITTER_EMAIL: "ada@x.example" },
    });
    writeFileSync(fileOf("tagged"), `${await gitText(folder, ["rev-parse", "refs/tags/tagged"])}\n`);
    for (let times = 0; times < 2; times++)
      expect([await branchCommit(folder, "lost"), await branchCommit(folder, "tagged")]).toEqual([null, commits[0]]);
  });

  it("is what git says, whatever stands where its file would be", async () => {
    mkdirSync(fileOf("parted"), { recursive: true });
    writeFileSync(fileOf("parted/one"), `${commits[0]}\n`);
    writeFileSync(fileOf("aside"), `ref: refs/heads/parted/one\n`);
    writeFileSync(fileOf("short"), commits[0].slice(1));
    writeFileSync(fileOf("long"), `${commits[0]}${commits[1]}`);
    writeFileSync(fileOf("empty"), "");
    symlinkSync("parted/one", fileOf("linked"));
    for (const branch of [
      "parted",
      "parted/one",
      "aside",
      "short",
      "long",
      "empty",
      "linked",
      "nowhere",
      "parted/one/x",
    ])
      expect([branch, await branchCommit(folder, branch)]).toEqual([branch, await ask(branch)]);
    expect(looseRef(folder, "refs/heads/parted")).toBeNull();
    expect(looseRef(folder, "refs/heads/parted/one")).toBe(commits[0]);
    expect(looseRef(folder, "refs/heads/long")).toBeNull();
  });

  it("is never half of one while it is moved", async () => {
    await git(folder, ["update-ref", "refs/heads/moved", commits[0]]);
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...commits), async (next) => {
        const move = git(folder, ["update-ref", "refs/heads/moved", next]);
        let isMoving = true;
        const moved = move.finally(() => {
          isMoving = false;
        });
        while (isMoving) {
          expect(commits).toContain(looseRef(folder, "refs/heads/moved"));
          await new Promise(setImmediate);
        }
        await moved;
        expect(looseRef(folder, "refs/heads/moved")).toBe(next);
      }),
      { numRuns: 20 },
    );
  });
});
