import { afterAll, beforeAll, expect } from "vitest";
import { resolveCommit } from "@/git/repository";
import { setRule } from "../../rules/rules";
import { Bench, value } from "../../testing/bench";
import { story } from "../../testing/story";
import { mayServe } from "../shown";
import { blameOf, fileHistory } from "./file-history";

const it = story();
let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [
      { "tides.js": "a\nb\nc\nd\n" },
      { "tides.js": "a\nB\nc\nd\n", "other.js": "x\n" },
      { "tides.js": null, "src/tides.js": "a\nB\nc\nd\n" },
    ],
    topic: [{ "src/tides.js": "a\nB\nnew\nc\nd\n" }],
  });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "keeper" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

const never = new AbortController().signal;
async function at(commit: string, path: string) {
  const { change, folder } = await bench.change("quay", 1);
  return { change, folder, file: { commit: (await resolveCommit(folder, commit)) ?? commit, path } };
}
const told = async (commit: string, path: string) => {
  const { change, folder, file } = await at(commit, path);
  const { steps, more } = await fileHistory(bench.app, folder, change, file, never);
  expect(more).toBe(false);
  return steps.map((step) => `${step.oldPath ? `${step.oldPath} > ` : ""}${step.path} ${step.change?.number ?? "-"}`);
};

it("tells of the commits that touched a file, through its rename, and lets what they held be opened", async () => {
  expect(await told("topic", "src/tides.js")).toEqual([
    "src/tides.js -",
    "tides.js > src/tides.js -",
    "tides.js -",
    "tides.js -",
  ]);
  const { change, folder, file } = await at("topic", "src/tides.js");
  const { steps } = await fileHistory(bench.app, folder, change, file, never);
  expect((await mayServe(bench.app, folder, [steps[2].oldId, steps[2].newId])).ok).toBe(true);
});

it("tells by which commit each line came, the lines of one together", async () => {
  const { folder, file } = await at("topic", "src/tides.js");
  const { commits, runs } = await blameOf(folder, file, never);
  expect(runs.map(({ start, end }) => [start, end])).toEqual([
    [1, 1],
    [2, 2],
    [3, 3],
    [4, 5],
  ]);
  expect(runs[0].commit).toBe(runs[3].commit);
  expect(new Set(runs.map((run) => run.commit)).size).toBe(3);
  expect(commits.every(({ id, author, at: when }) => /^[0-9a-f]{40}$/.test(id) && author && when > 0)).toBe(true);
});

it("names the change set in which a commit was agreed, once that is merged", async () => {
  value(await setRule(bench.app, "quay", "main", { approvals: { count: 0 }, merging: ["merge"] }));
  const message = "Put one in between\n\nChange-Set: 1\n";
  value(await bench.do("ada", "quay", 1, { kind: "merge", revision: 1, message, how: "merge" }));
  expect(await told("main", "src/tides.js")).toEqual([
    "src/tides.js 1",
    "tides.js > src/tides.js -",
    "tides.js -",
    "tides.js -",
  ]);
});

it("tells of nothing where there is no such file or commit, whatever they are called", async () => {
  for (const path of ["none.js", "--output=x", ":(top)src", "*", ""]) {
    expect(await told("main", path)).toEqual([]);
    const { folder, file } = await at("main", path);
    expect((await blameOf(folder, file, never)).runs).toEqual([]);
  }
  expect(await told("0".repeat(40), "src/tides.js")).toEqual([]);
});
