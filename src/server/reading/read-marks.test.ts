import { afterAll, beforeAll, expect, it } from "vitest";
import { newest } from "@/core/review/state";
import { Bench, value } from "../testing/bench";
import { looksIn, markLooked, markRead, marksIn } from "./read-marks";
import { readingFor } from "./reading";
import { seenIn } from "./since";
import { statesOf } from "./states";

let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", { main: [{ "a.txt": "a\n" }], topic: [{ "a.txt": "b\n" }] });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

it("what was marked last counts, and is seen by who looks right after, though none of it was waited for", async () => {
  const { change, folder } = await bench.change("quay", 1);
  const ada = bench.people.get("ada")!;
  const points = value(await statesOf(bench.app, ada, change, folder, "base", "r1"));
  const look = async () => {
    const name = { from: "base", to: "r1" };
    const { files } = await readingFor(bench.app, ada, change, folder, name, points, { whole: true });
    return files.map(({ read }) => read);
  };
  const ids = { oldId: null, newId: null };
  const mark = (read: boolean) =>
    markRead(bench.app, ada, change, folder, { path: "a.txt", ...ids, revision: 1, read });
  for (const last of [true, false, true]) {
    const marked = [mark(!last), mark(last)];
    expect(await look()).toEqual([last ? "read" : "unread"]);
    await Promise.all(marked);
    expect(await look()).toEqual([last ? "read" : "unread"]);
  }
});

it("is of the commits that were read, where a joined log gives the revision another number", async () => {
  const { change, folder } = await bench.change("quay", 1);
  const ada = bench.people.get("ada")!;
  await markRead(bench.app, ada, change, folder, { path: "a.txt", oldId: null, newId: null, revision: 1, read: true });
  await markLooked(bench.app, ada, change, { paths: ["b.txt"], revision: 1 });
  const said = async (revisions: string[]) => {
    const now = { ...change, revisions: revisions.map((head, i) => ({ ...newest(change), head, number: i + 1 })) };
    const { of } = await seenIn(bench.app, ada, now);
    const [mark] = await marksIn(bench.app, now, { path: "a.txt" });
    const [look] = await looksIn(bench.app, now, ada);
    return [of("a.txt"), of("b.txt"), mark.revision, look.revision];
  };
  const { head } = newest(change);
  expect(await said([head])).toEqual([1, 1, 1, 1]);
  expect(await said(["dated back", head])).toEqual([2, 2, 2, 2]);
  expect(await said(["another"])).toEqual([0, 0, 0, 0]);
  // What was kept before has its number alone.
  for (const table of ["read_marks", "looks"] as const)
    await bench.app.db.updateTable(table).set({ head: null, base: null }).execute();
  expect(await said(["another"])).toEqual([1, 1, 1, 1]);
});
