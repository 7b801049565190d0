import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { gitEnvironment } from "../run";
import { broughtTo } from "./brought";

let folder: string;
const env = {
  ...gitEnvironment(),
  GIT_AUTHOR_NAME: "A",
  GIT_AUTHOR_EMAIL: "a@x",
  GIT_COMMITTER_NAME: "A",
  GIT_COMMITTER_EMAIL: "a@x",
};
const git = (...args: string[]) =>
  execFileSync("git", ["--git-dir", folder, ...args], { env })
    .toString()
    .trim();
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "lens-brought-"));
  git("init", "--quiet", "--bare");
});
afterAll(() => rmSync(folder, { recursive: true }));

/** A commit with these parents, and what its message ends with. */
function commit(name: string, parents: string[], trailer = ""): string {
  const tree = git("hash-object", "-w", "-t", "tree", "/dev/null");
  const message = trailer ? `${name}\n\n${trailer}` : name;
  return git("commit-tree", tree, ...parents.flatMap((one) => ["-p", one]), "-m", message);
}

it("tells what brought a commit: the first merge that names a change set, and its own word beside it", async () => {
  const root = commit("root", []);
  const a = commit("a", [root]);
  const forged = commit("forged", [a], "Change-Set: 9");
  const first = commit("first", [root, forged], "Change-Set: 1");
  // Made before the first was merged, and caught up with it later by a merge that names nothing.
  const early = commit("early", [root]);
  const caught = commit("caught", [early, first]);
  const late = commit("late", [caught]);
  const second = commit("second", [first, late], "Change-Set: 2\nRefs: #1");
  const squashed = commit("squashed", [second], "Change-Set: 3");
  const all = new Set([root, a, forged, first, early, caught, late, second, squashed]);
  const brought = await broughtTo(folder, all, squashed);
  const told = (id: string) => (brought.get(id) ?? []).map(({ by, numbers }) => [by, ...numbers]);
  expect(told(root)).toEqual([]);
  expect(told(a)).toEqual([[first, 1]]);
  expect(told(forged)).toEqual([
    [forged, 9],
    [first, 1],
  ]);
  expect(told(first)).toEqual([[first, 1]]);
  for (const id of [early, caught, late]) expect(told(id)).toEqual([[second, 2]]);
  expect(told(second)).toEqual([[second, 2]]);
  expect(told(squashed)).toEqual([[squashed, 3]]);
});

it("tells of nothing where there is no such commit", async () => {
  expect((await broughtTo(folder, new Set(["x"]), "main")).size).toBe(0);
  expect((await broughtTo(folder, new Set(["0".repeat(40)]), "0".repeat(40))).size).toBe(0);
});
