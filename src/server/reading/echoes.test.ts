import { afterAll, beforeAll, expect } from "vitest";
import { setRole } from "../access/people";
import { Bench, value } from "../testing/bench";
import { story } from "../testing/story";
import { classesOf } from "./classes";
import { readingFor } from "./reading";
import { statesOf } from "./states";

const it = story();
let bench: Bench;
const text = (limit: string) =>
  [
    "export function hold(slot, ship) {",
    "  const tide = tideAt(slot);",
    "  const quay = quayOf(slot);",
    `  if (tide ${limit} LIMIT) return null;`,
    "  const berth = quay.free(ship);",
    "  berth.keep(ship, tide);",
    "  return berth;",
    "}",
    "",
  ].join("\n");

beforeAll(async () => {
  bench = await Bench.set();
  const both = (limit: string) => ({ "dist/hold.js": text(limit), "src/hold.js": text(limit) });
  const work = await bench.repository("quay", { main: [both(">")], topic: [both(">=")] });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "keeper" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

it("tells of an echo where it is read, and of what is read where else it stands", async () => {
  const { change, folder } = await bench.change("quay", 1);
  const name = { from: "base", to: "r1" };
  const ada = bench.people.get("ada")!;
  const points = value(await statesOf(bench.app, ada, change, folder, name.from, name.to));
  const { files } = await readingFor(bench.app, ada, change, folder, name, points, { whole: true });
  expect(files.map(({ path, toRead, quiet, echoed }) => ({ path, toRead, quiet, echoed }))).toEqual([
    { path: "dist/hold.js", toRead: 0, quiet: { echo: 2 }, echoed: undefined },
    { path: "src/hold.js", toRead: 2, quiet: {}, echoed: 2 },
  ]);
  const echo = await classesOf(bench.app, folder, points, "dist/hold.js");
  expect(echo.echoes[0]).toMatchObject({ next: { path: "src/hold.js", start: 4, end: 4 }, times: 1 });
  expect(echo.echoed).toEqual({ places: [], many: 0 });
  const read = await classesOf(bench.app, folder, points, "src/hold.js");
  expect(read.runs).toEqual([]);
  expect(read.echoed).toEqual({
    places: [{ path: "dist/hold.js", side: "new", start: 4, end: 4, within: null }],
    many: 1,
  });
});

it("tells of a change where else it stands, going round, though each place is to be read", async () => {
  const lines = (check: boolean) =>
    ["lift", "lower", "turn"]
      .flatMap((name) => [`function ${name}(ship) {`, ...(check ? ["  if (!ship.isKnown()) return;"] : []), "}", ""])
      .join("\n");
  const work = await bench.repository("crane", {
    main: [{ "src/crane.js": lines(true), "src/winch.js": lines(true).replaceAll("lower", "wind") }],
    topic: [{ "src/crane.js": lines(false), "src/winch.js": lines(false).replaceAll("lower", "wind") }],
  });
  await bench.takeIn("crane", work);
  value(await setRole(bench.app, "ada", "crane", "keeper"));
  value(await bench.open("ada", "crane", "topic"));
  const { change, folder } = await bench.change("crane", 1);
  const ada = bench.people.get("ada")!;
  const points = value(await statesOf(bench.app, ada, change, folder, "base", "r1"));
  const { files } = await readingFor(bench.app, ada, change, folder, { from: "base", to: "r1" }, points, {
    whole: true,
  });
  expect(files.map(({ path, toRead, alike }) => [path, toRead, alike])).toEqual([
    ["src/crane.js", 3, 3],
    ["src/winch.js", 3, 3],
  ]);
  const { alike } = await classesOf(bench.app, folder, points, "src/winch.js");
  expect(alike.map(({ at, of, here, next }) => [at, of, here.start, next.path, next.start])).toEqual([
    [4, 6, 2, "src/winch.js", 6],
    [5, 6, 6, "src/winch.js", 10],
    [6, 6, 10, "src/crane.js", 2],
  ]);
  expect(alike[1].here).toMatchObject({ side: "old", within: "function wind(ship)" });
});
