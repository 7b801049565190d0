import { afterAll, beforeAll, expect } from "vitest";
import { resolveCommit } from "@/git/repository";
import { statesOf } from "../reading/states";
import { Bench, value } from "../testing/bench";
import { story } from "../testing/story";
import { leftAloneBy } from "./left-alone";

const it = story();
let bench: Bench;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [
      {
        "src/hold.js":
          "export function holdUntil(slot) {\n  return slot;\n}\nexport function release(slot) {}\nexport const SLOTS = 4;\n",
        "src/desk.js":
          'import { holdUntil, release, SLOTS } from "./hold.js";\nholdUntil(holdUntil(1));\nrelease(1); // holdUntil\nlog("holdUntil");\nSLOTS;\n',
        "src/night.js": "const holdUntil = 1;\nexport const night = (holdUntil) => holdUntil;\n",
        "test/hold.test.js": "holdUntil(3);\n",
        "src/park.js": "parkAll(1);\n",
      },
    ],
    topic: [
      {
        "src/hold.js":
          "export function holdUntil(slot, instant) {\n  return slot;\n}\nexport function forget() {}\nexport const SLOTS = 4;\n",
        "src/new.js": 'import { holdUntil } from "./hold.js";\nholdUntil(1, 2);\n',
      },
    ],
    elsewhere: [{ ".gitattributes": "src/hold.js lens-generated\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "keeper" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

it("counts uses of what changed in lines that did not, leaves out what is only spoken of, and tells what nothing uses", async () => {
  const { change, folder } = await bench.change("quay", 1);
  const points = value(await statesOf(bench.app, bench.people.get("ada")!, change, folder, "base", "r1"));
  const { items, more } = await leftAloneBy(bench.app, folder, points);
  const told = items.map(({ what, name, count, touched, others, tested, uses }) => ({
    ...{ said: `${what} ${name}`, count, touched, others, tested },
    uses: uses.map(({ path, line }) => `${path} ${line}`),
  }));
  expect(told).toEqual([
    {
      ...{ said: "removed release", count: 2, touched: 0, others: 0, tested: false },
      uses: ["src/desk.js 1", "src/desk.js 3"],
    },
    { ...{ said: "added forget", count: 0, touched: 0, others: 0, tested: false }, uses: [] },
    {
      // Another one of the same name stands in another file: it is said, and comes last.
      ...{ said: "changed holdUntil", count: 2, touched: 1, others: 1, tested: true },
      uses: ["src/desk.js 2", "test/hold.test.js 1"],
    },
  ]);
  expect(more).toBe(false);
  const hold = items.find(({ name }) => name === "holdUntil")!;
  expect([hold.before, hold.after]).toEqual(["function holdUntil(slot)", "function holdUntil(slot, instant)"]);
});

it("keeps what it found for the settings that counted: elsewhere other files are generated", async () => {
  const { change, folder } = await bench.change("quay", 1);
  const points = value(await statesOf(bench.app, bench.people.get("ada")!, change, folder, "base", "r1"));
  const settings = (await resolveCommit(folder, "elsewhere"))!;
  const names = async (of: typeof points) => (await leftAloneBy(bench.app, folder, of)).items.map(({ name }) => name);
  const before = await names(points);
  expect(before).toContain("release");
  // Of what nobody wrote nothing is anybody's to look after.
  expect(await names({ ...points, settings })).toEqual([]);
  expect(await names(points)).toEqual(before);
});
