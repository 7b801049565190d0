import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { stepsOf } from "@/core/diff/history";
import { Bench, value } from "../test-bench";
import { originsOf } from "./history";
import { searchReading } from "./reading";
import { statesOf } from "./states";

let bench: Bench;
const body = Array.from({ length: 20 }, (_, i) => `line ${i};`);
const text = (lines: string[]) => `${lines.join("\n")}\n`;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": text(body), "gone.txt": "Away with it\n" }],
    topic: [
      { "a.txt": text(body.with(3, "line three;")) },
      { "a.txt": null, "b.txt": text(body.with(3, "line three;").with(7, "seven is new here;")) },
      { "b.txt": text(body.with(3, "line three, again;").with(7, "seven is new here;")), "gone.txt": null },
    ],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "keeper" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

async function points(from: string, to: string) {
  const { change, folder } = await bench.change("quay", 1);
  return { folder, points: value(await statesOf(bench.app, bench.people.get("ada")!, change, folder, from, to)) };
}

describe("what touched a line", () => {
  it("is known through renames and edits, for lines that came and for lines that went", async () => {
    const { folder, points: all } = await points("base", "r1");
    const origins = await originsOf(bench.app, folder, all, "b.txt", "");
    expect(origins.commits.map(({ subject }) => subject)).toEqual(["topic 1", "topic 2", "topic 3"]);
    expect(stepsOf(origins.next, 3)).toEqual([0, 2]);
    expect(stepsOf(origins.old, 3)).toEqual([0, 2]);
    expect(stepsOf(origins.next, 7)).toEqual([1]);
    expect(stepsOf(origins.next, 0)).toEqual([]);
    const removed = await originsOf(bench.app, folder, all, "gone.txt", "");
    expect(removed.old).toEqual([{ start: 0, end: 1, steps: [0] }]);
    expect(removed.commits.map(({ subject }) => subject)).toEqual(["topic 3"]);
  });

  it("is told of a range of commits too", async () => {
    const { change, folder } = await bench.change("quay", 1);
    const ids = (await bench.git(folder, "rev-list", "--reverse", "main..topic")).split("\n");
    const range = value(
      await statesOf(bench.app, bench.people.get("ada")!, change, folder, `before:${ids[1]}`, `at:${ids[2]}`),
    );
    const origins = await originsOf(bench.app, folder, range, "b.txt", "");
    expect(stepsOf(origins.next, 3)).toEqual([1]);
  });
});

describe("searching a reading", () => {
  it("finds words in changed lines of either side, or anywhere in the files, and can be given up", async () => {
    const { folder, points: all } = await points("base", "r1");
    const search = (words: string, where: "changed" | "whole", signal = new AbortController().signal) =>
      searchReading(bench.app, folder, all, { words, where }, signal);
    const places = async (words: string, where: "changed" | "whole") =>
      (await search(words, where)).places.map(({ path, side, line }) => `${path} ${side} ${line}`);
    expect(await places("line three", "changed")).toEqual(["b.txt new 4"]);
    expect(await places("away", "changed")).toEqual(["gone.txt old 1"]);
    expect(await places("line 12", "changed")).toEqual([]);
    expect(await places("line 12", "whole")).toEqual(["b.txt new 13"]);
    const stop = new AbortController();
    const given = search("line", "whole", stop.signal);
    stop.abort();
    await expect(given).rejects.toThrow(/abort/i);
  });
});
