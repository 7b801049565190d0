import { afterAll, beforeAll, expect } from "vitest";
import { isTold, UNTOLD } from "@/core/reading/files";
import { letsGoOf } from "~/tests/let-go";
import { Bench, value } from "../testing/bench";
import { story } from "../testing/story";
import { markRead } from "./read-marks";
import { readingFor } from "./reading";
import { statesOf } from "./states";

const it = story();
let bench: Bench;
const files = (count: number, says: string) =>
  Object.fromEntries(Array.from({ length: count }, (_, n) => [`berths/berth-${n}.txt`, `${says} ${n}\n`]));

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ ...files(401, "free"), "quays/gone.txt": "a quay that was filled in\n" }],
    many: [{ ...files(401, "taken"), "quays/gone.txt": null, "quays/new.txt": "another one, built of stone\n" }],
    few: [files(3, "held")],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "keeper" });
  value(await bench.open("ada", "quay", "many"));
  value(await bench.open("ada", "quay", "few"));
});
afterAll(() => bench.clear());

async function read(number: number, wanted: Parameters<typeof readingFor>[6]) {
  const { change, folder } = await bench.change("quay", number);
  const ada = bench.people.get("ada")!;
  const points = value(await statesOf(bench.app, ada, change, folder, "base", "r1"));
  return readingFor(bench.app, ada, change, folder, { from: "base", to: "r1" }, points, { whole: true, ...wanted });
}

it("leaves the ids of a long list untold, save of what is read first, and tells them file by file", async () => {
  const whole = await read(1, {});
  const brief = await read(1, { brief: true });
  expect(brief.files.map(({ path }) => path)).toEqual(whole.files.map(({ path }) => path));
  expect(brief.files.slice(0, 60)).toEqual(whole.files.slice(0, 60));
  expect(brief.files.slice(60).some(isTold)).toBe(false);
  const of = (path: string) => brief.files.find((file) => file.path === path);
  expect(of("quays/gone.txt")).toMatchObject({ oldId: UNTOLD, newId: null });
  expect(of("quays/new.txt")).toMatchObject({ oldId: null, newId: UNTOLD });
  const { files: told } = await read(1, { path: "berths/berth-7.txt" });
  expect(told).toEqual(whole.files.filter(({ path }) => path === "berths/berth-7.txt"));
  expect(isTold(told[0])).toBe(true);
  expect((await read(1, { path: "no/such.txt", next: 5 })).files).toEqual([]);
  const at = whole.files.findIndex(({ path }) => path === "berths/berth-7.txt");
  expect((await read(1, { path: "berths/berth-7.txt", next: 5 })).files).toEqual(whole.files.slice(at, at + 6));
});

it("tells first of what is left to whoever has read a part", async () => {
  const { change, folder } = await bench.change("quay", 1);
  const whole = await read(1, {});
  const [first] = whole.files;
  const mark = { path: first.path, oldId: first.oldId, newId: first.newId, revision: 1, read: true };
  await markRead(bench.app, bench.people.get("ada")!, change, folder, mark);
  const { files } = await read(1, { brief: true });
  expect(files[0]).toMatchObject({ path: first.path, read: "read" });
  expect(files.flatMap((file, at) => (isTold(file) ? [at] : []))).toEqual(Array.from({ length: 60 }, (_, n) => n + 1));
  expect(files.slice(1, 61)).toEqual(whole.files.slice(1, 61));
});

it("tells them all where the list is short", async () => {
  const { files: few } = await read(2, { brief: true });
  expect(few).toHaveLength(3);
  expect(few.every(isTold)).toBe(true);
});

it("leads no more to the request in which it was made, be it compared there or known", async () => {
  await bench.app.db.deleteFrom("readings").execute();
  for (const _ of ["compared", "known"]) {
    bench.app.shelves.clear();
    expect(await letsGoOf(() => read(2, {}))).toBe(true);
  }
  expect((await read(2, {})).files).toHaveLength(3);
});
