import { afterAll, beforeAll, expect } from "vitest";
import { newest } from "@/core/review/state";
import { Bench, value } from "../testing/bench";
import { story } from "../testing/story";
import { Preparing } from "./preparing";

const it = story();
let bench: Bench;
let work: string;
beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", { main: [{ "a.txt": "a\n" }], topic: [{ "a.txt": "b\n" }] });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "keeper" });
});
afterAll(() => bench.clear());

const compared = async () => {
  const rows = await bench.app.db.selectFrom("readings").select("to_commit").execute();
  return rows.map((row) => row.to_commit).sort();
};

it("compares what was pushed before anybody asks, and leaves out what was overtaken", async () => {
  const preparing = new Preparing(bench.app);
  // It begins with what comes from now on.
  await preparing.step();
  value(await bench.open("ada", "quay", "topic"));
  const first = newest((await bench.change("quay", 1)).change).head;
  expect(await compared()).toEqual([]);
  await preparing.step();
  expect(await compared()).toEqual([first]);
  // So is what it leaves alone.
  const alone = await bench.app.db.selectFrom("left_alone").select("to_commit").execute();
  expect(alone.map((row) => row.to_commit)).toEqual([first]);

  await bench.git(work, "checkout", "--quiet", "topic");
  const { folder } = await bench.change("quay", 1);
  for (const text of ["c\n", "d\n"]) {
    await bench.commit(work, "more", { "a.txt": text });
    await bench.git(folder, "fetch", "--quiet", work, "+refs/heads/topic:refs/heads/topic");
    value(await bench.do("ada", "quay", 1, { kind: "revise" }));
  }
  await preparing.step();
  const last = newest((await bench.change("quay", 1)).change).head;
  expect(await compared()).toEqual([first, last].sort());
  await preparing.stop();
  // And nothing any more.
  await bench.commit(work, "late", { "a.txt": "e\n" });
  await bench.git(folder, "fetch", "--quiet", work, "+refs/heads/topic:refs/heads/topic");
  value(await bench.do("ada", "quay", 1, { kind: "revise" }));
  await preparing.step();
  expect(await compared()).toHaveLength(2);
});
