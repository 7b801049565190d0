import { afterAll, beforeAll, expect } from "vitest";
import { statesOf } from "../reading/states";
import { Bench, value } from "../testing/bench";
import { story } from "../testing/story";
import { type AskedName, lookUp } from "./look-up";

const it = story();
let bench: Bench;

const tides = (limit: string) =>
  `/** The tide at a slot, in decimetres. */\nexport function tideAt(slot${limit}) {\n  return slot * 2;\n}\n`;
const BASE = {
  "src/tides.js": tides(""),
  "src/hold.js": 'import { tideAt } from "./tides.js";\n\nexport const hold = (slot) => tideAt(slot);\n',
  "src/other/tides.js": "export const tideAt = () => 0;\n",
  "docs/tides.md": "What tideAt says.\n",
  "py/planner.py": "def plan(slot):\n    return slot  # tideAt is in the other language\n",
};

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [BASE],
    topic: [
      { "src/tides.js": tides(", limit"), "src/new.js": 'import { tideAt } from "./tides.js";\ntideAt(1, 2);\n' },
    ],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "keeper" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

async function ask(given: Partial<AskedName>) {
  const { change, folder } = await bench.change("quay", 1);
  const points = value(await statesOf(bench.app, bench.people.get("ada")!, change, folder, "base", "r1"));
  const asked: AskedName = { name: "tideAt", side: "new", path: "src/hold.js", line: 3, of: null, ...given };
  return lookUp(bench.app, folder, points, asked, new AbortController().signal);
}

it("finds the definition that is imported, with what is said above it, and then the others", async () => {
  const { definitions } = await ask({});
  expect(definitions.map(({ path, line, reason }) => [path, line, reason])).toEqual([
    ["src/tides.js", 2, "import"],
    ["src/other/tides.js", 1, "name"],
  ]);
  expect(definitions[0].first).toBe(1);
  expect(definitions[0].text.slice(0, 2)).toEqual([
    "/** The tide at a slot, in decimetres. */",
    "export function tideAt(slot, limit) {",
  ]);
});

it("lists every other place, the nearest file first, with how the name stands there and whether the change made it", async () => {
  const { uses, count, more } = await ask({});
  expect(
    uses.map(({ path, places }) => [path, ...places.map((one) => `${one.line} ${one.kind} ${one.changed}`)]),
  ).toEqual([
    ["src/hold.js", "1 import false", "3 code false"],
    ["src/new.js", "1 import true", "2 code true"],
    ["docs/tides.md", "1 code false"],
    ["py/planner.py", "2 comment false"],
  ]);
  expect([count, more]).toEqual([6, false]);
});

it("looks at the state that is asked about, and finds what is known only where it is asked", async () => {
  const before = await ask({ side: "old" });
  expect(before.uses.map(({ path }) => path)).not.toContain("src/new.js");
  expect(before.definitions[0].text[1]).toBe("export function tideAt(slot) {");
  const slot = await ask({ name: "slot", path: "src/tides.js", line: 3 });
  expect(slot.definitions.map(({ path, reason, kind }) => [path, reason, kind])).toEqual([
    ["src/tides.js", "scope", "parameter"],
  ]);
});

it("takes a name for what it is, whatever signs it is made of, and finds nothing where there is nothing", async () => {
  for (const name of ["nowhere", "--help", "-e", ".*", "$(id)", "a\nb", "HEAD"])
    expect(await ask({ name })).toMatchObject({ definitions: [], uses: [], count: 0 });
});
