import { afterAll, beforeAll, expect } from "vitest";
import { resolveCommit } from "@/git/repository";
import { git } from "@/git/run";
import { setRule } from "../../rules/rules";
import { Bench, value } from "../../testing/bench";
import { story } from "../../testing/story";
import { lineHistory } from "./line-history";

const it = story();
let bench: Bench;
const table = (limit: string, more = "") => `// tides\n${more}export const LIMIT = ${limit};\nexport const STEP = 1;\n`;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [
      { "tides.js": table("10") },
      { "tides.js": table("12", "// in decimetres\n") },
      { "tides.js": null, "src/tides.js": table("12", "// in decimetres\n") },
      { "src/tides.js": table("12", "// in decimetres\n").replace("export const LIMIT", "export  const  LIMIT") },
    ],
    topic: [{ "src/tides.js": table("14", "// in decimetres\n") }],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "keeper" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

const told = async (commit: string, path: string, line: number) => {
  const { change, folder } = await bench.change("quay", 1);
  const id = (await resolveCommit(folder, commit)) ?? commit;
  const history = await lineHistory(
    bench.app,
    folder,
    change,
    { commit: id, path, line },
    new AbortController().signal,
  );
  return history.steps.map((step) => `${step.path} ${step.line}: ${step.before ?? "nothing"} > ${step.text}`);
};

it("tells of every commit that touched a line, through edits, layout and a rename, to where it came from", async () => {
  expect(await told("topic", "src/tides.js", 3)).toEqual([
    "src/tides.js 3: export  const  LIMIT = 12; > export const LIMIT = 14;",
    "src/tides.js 3: export const LIMIT = 12; > export  const  LIMIT = 12;",
    "tides.js 3: export const LIMIT = 10; > export const LIMIT = 12;",
    "tides.js 2: nothing > export const LIMIT = 10;",
  ]);
  expect(await told("main", "src/tides.js", 2)).toEqual(["tides.js 2: nothing > // in decimetres"]);
});

it("tells of nothing where there is no such line, file or commit, whatever they are called", async () => {
  expect(await told("main", "src/tides.js", 99)).toEqual([]);
  expect(await told("main", "none.js", 1)).toEqual([]);
  expect(await told("main", "--output=x", 1)).toEqual([]);
  expect(await told("main", ":(top)src/tides.js", 1)).toEqual([]);
  expect(await told("0".repeat(40), "src/tides.js", 1)).toEqual([]);
});

it("says in which change set a line was agreed, where that really brought it, whatever a message says", async () => {
  value(await setRule(bench.app, "quay", "main", { approvals: { count: 0 }, merging: ["merge"] }));
  const message = "Raise the limit\n\nChange-Set: 1\n";
  value(await bench.do("ada", "quay", 1, { kind: "merge", revision: 1, message, how: "merge" }));
  const { change, folder } = await bench.change("quay", 1);
  const agreed = async (commit: string, line: number) => {
    const at = { commit: (await resolveCommit(folder, commit))!, path: "src/tides.js", line };
    const { steps } = await lineHistory(bench.app, folder, change, at, new AbortController().signal);
    return steps.map((step) => step.change?.number ?? null);
  };
  // The newest came by it, and what was there before did not.
  expect(await agreed("main", 3)).toEqual([1, null, null, null]);
  const clone = await bench.git(folder, "rev-parse", "main");
  const forged = await bench.git(
    folder,
    ...["-c", "user.name=E", "-c", "user.email=e@x", "commit-tree", "-p", clone, "-m", "Quiet\n\nChange-Set: 1"],
    `${clone}^{tree}`,
  );
  const tree = await forgedTree(folder, clone);
  const evil = await bench.git(
    folder,
    ...["-c", "user.name=E", "-c", "user.email=e@x", "commit-tree", "-p", forged, "-m", "Quiet\n\nChange-Set: 1", tree],
  );
  const { steps } = await lineHistory(
    bench.app,
    folder,
    change,
    { commit: evil, path: "src/tides.js", line: 3 },
    new AbortController().signal,
  );
  expect(steps[0].text).toBe("export const LIMIT = 999;");
  expect(steps.map((step) => step.change?.number ?? null)).toEqual([null, 1, null, null, null]);
});

/** The tree of a commit with another limit in it. */
async function forgedTree(folder: string, commit: string): Promise<string> {
  const { stdout } = await git(folder, ["show", "--end-of-options", `${commit}:src/tides.js`]);
  const input = stdout.toString().replace("LIMIT = 14", "LIMIT = 999");
  const blob = (await git(folder, ["hash-object", "-w", "--stdin"], { input })).stdout.toString().trim();
  const sub = (await git(folder, ["mktree"], { input: `100644 blob ${blob}\ttides.js\n` })).stdout.toString().trim();
  return (await git(folder, ["mktree"], { input: `040000 tree ${sub}\tsrc\n` })).stdout.toString().trim();
}
