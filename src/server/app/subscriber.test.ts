import { afterAll, beforeAll, expect, it } from "vitest";
import { placeOf } from "@/store/log";
import { Bench, value } from "../testing/bench";
import { Repeated } from "./repeated";
import { Subscriber } from "./subscriber";

let bench: Bench;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", { main: [{ "a.txt": "a\n" }], topic: [{ "b.txt": "b\n" }] });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "contributor" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

const say = (remark: string) =>
  bench.do("ben", "quay", 1, { kind: "send-review", revision: 1, verdict: "none", remark });

it("tries again what failed, later each time, lets others go on, and never loses its place", async () => {
  const heard: string[] = [];
  let broken = true;
  const follower = () =>
    new Subscriber(bench.app, "test", async (event) => {
      const words = event.kind === "reviewed" ? event.data.remark : event.kind;
      if (words === "two" && broken) throw new Error("not now");
      heard.push(words);
    });
  const first = follower();
  await first.step();
  for (const words of ["one", "two", "three"]) value(await say(words));
  await first.step();
  await first.step();
  expect(heard).toEqual(["one", "three"]);
  const place = await placeOf(bench.app.db, "test");
  value(await say("four"));
  await first.step();
  expect(heard).toEqual(["one", "three", "four"]);
  // Its place is before what is not done, so that a restart does not forget it.
  expect(await placeOf(bench.app.db, "test")).toBe(place);
  broken = false;
  bench.pass(60_000);
  await first.step();
  expect(heard).toEqual(["one", "three", "four", "two"]);
  const again = follower();
  await again.step();
  expect(heard).toHaveLength(4);
});

it("is woken when something is added to the log", async () => {
  let steps = 0;
  const work = async () => {
    steps++;
  };
  const repeated = new Repeated(1_000_000, work, () => undefined, bench.app.bell);
  repeated.start();
  await repeated.step();
  const before = steps;
  value(await say("five"));
  await expect.poll(() => steps).toBeGreaterThan(before);
  await repeated.stop();
  const after = steps;
  value(await say("six"));
  await repeated.step();
  expect(steps).toBe(after + 1);
});
