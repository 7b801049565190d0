import { afterAll, beforeAll, expect, it } from "vitest";
import { Bench, value } from "../testing/bench";
import { markRead } from "./read-marks";
import { readingFor } from "./reading";
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
