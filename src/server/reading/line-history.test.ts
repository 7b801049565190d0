import { afterAll, beforeAll, expect } from "vitest";
import { resolveCommit } from "@/git/repository";
import { story } from "../story";
import { Bench, value } from "../test-bench";
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
