import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { stepsOf } from "@/core/diff/history";
import type { FoundPlace, Sought } from "@/core/reading/finding/search";
import type { As } from "@/core/reading/finding/ways";
import { setRole } from "../../access/people";
import { Bench, value } from "../../testing/bench";
import { searchReading } from "../searching";
import { statesOf } from "../states";
import { originsOf } from "./history";

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
  return {
    folder,
    change,
    points: value(await statesOf(bench.app, bench.people.get("ada")!, change, folder, from, to)),
  };
}

describe("what touched a line", () => {
  it("is known through renames and edits, for lines that came and for lines that went", async () => {
    const { folder, change, points: all } = await points("base", "r1");
    const name = { from: "base", to: "r1" };
    const origins = await originsOf(bench.app, folder, change, { ...all, name }, "b.txt");
    expect(origins.commits.map(({ subject }) => subject)).toEqual(["topic 1", "topic 2", "topic 3"]);
    expect(stepsOf(origins.next, 3)).toEqual([0, 2]);
    expect(stepsOf(origins.old, 3)).toEqual([0, 2]);
    expect(stepsOf(origins.next, 7)).toEqual([1]);
    expect(stepsOf(origins.next, 0)).toEqual([]);
    const removed = await originsOf(bench.app, folder, change, { ...all, name }, "gone.txt");
    expect(removed.old).toEqual([{ start: 0, end: 1, steps: [0] }]);
    expect(removed.commits.map(({ subject }) => subject)).toEqual(["topic 3"]);
  });

  it("is told of a range of commits too", async () => {
    const { change, folder } = await bench.change("quay", 1);
    const ids = (await bench.git(folder, "rev-list", "--reverse", "main..topic")).split("\n");
    const name = { from: `before:${ids[1]}`, to: `at:${ids[2]}` };
    const range = value(await statesOf(bench.app, bench.people.get("ada")!, change, folder, name.from, name.to));
    const origins = await originsOf(bench.app, folder, change, { ...range, name }, "b.txt");
    expect(stepsOf(origins.next, 3)).toEqual([1]);
  });
});

describe("what touched a line, across a rebase", () => {
  it("is told by the history that the earlier revision had, and by the new one", async () => {
    const lines = Array.from({ length: 12 }, (_, i) => `entry ${i}`);
    const work = await bench.repository("pier", {
      main: [{ "a.txt": text(lines) }],
      topic: [
        { "a.txt": text(lines.with(2, "two, by the author")) },
        { "a.txt": text(lines.with(2, "two, by the author").with(8, "eight")) },
      ],
    });
    await bench.takeIn("pier", work);
    value(await setRole(bench.app, "ada", "pier", "keeper"));
    value(await bench.open("ada", "pier", "topic"));
    // The target goes on, and the author makes one commit of it all, says line 2 otherwise and leaves line 8 alone.
    await bench.git(work, "checkout", "--quiet", "main");
    const there = ["a new head", ...lines];
    await bench.commit(work, "meanwhile", { "a.txt": text(there) });
    await bench.git(work, "checkout", "--quiet", "-B", "topic", "main");
    await bench.commit(work, "once more", { "a.txt": text(there.with(3, "two, said otherwise")) });
    const { folder } = await bench.change("pier", 1);
    await bench.git(folder, "fetch", "--quiet", work, "+refs/heads/*:refs/heads/*");
    value(await bench.do("ada", "pier", 1, { kind: "revise" }));
    const { change } = await bench.change("pier", 1);
    const name = { from: "r1", to: "r2" };
    const found = value(await statesOf(bench.app, bench.people.get("ada")!, change, folder, name.from, name.to));
    const { commits, earlier, old, next } = await originsOf(bench.app, folder, change, { ...found, name }, "a.txt");
    const said = (steps: number[]) => steps.map((step) => `${step < earlier ? "then: " : ""}${commits[step].subject}`);
    expect(said(stepsOf(next, 3))).toEqual(["once more"]);
    expect(said(stepsOf(old, 3))).toEqual(["then: topic 1"]);
    expect(said(stepsOf(old, 9))).toEqual(["then: topic 2"]);
    // What the target brought is nobody’s of these.
    expect(said(stepsOf(old, 0))).toEqual([]);
    expect(said(stepsOf(old, 5))).toEqual([]);
  });
});

describe("searching a reading", () => {
  it("finds words in changed lines of either side, or anywhere in the files, and can be given up", async () => {
    const { folder, points: all } = await points("base", "r1");
    let told: FoundPlace[] = [];
    const search = (words: string, where: Sought["where"], as: As = "words", signal = new AbortController().signal) => {
      told = [];
      return searchReading(bench.app, folder, all, { words, as, where }, (some) => told.push(...some), signal);
    };
    const places = async (words: string, where: Sought["where"], as?: As) => {
      const { more, searched } = value(await search(words, where, as));
      expect({ more, searched }).toEqual({ more: false, searched: expect.any(Number) });
      return told.map(({ path, side, line }) => `${path} ${side} ${line}`);
    };
    expect(await places("line three", "changed")).toEqual(["b.txt new 4"]);
    expect(await places("away", "changed")).toEqual(["gone.txt old 1"]);
    expect(await places("line 12", "changed")).toEqual([]);
    expect(await places("line 12", "whole")).toEqual(["b.txt new 13"]);
    // Everywhere also in files that did not change; what is written small is found in capitals, too.
    const everywhere = await places("line 12", "everywhere");
    expect(everywhere).toContain("b.txt new 13");
    expect(everywhere.length).toBeGreaterThan(0);
    expect(await places("LINE 12", "everywhere")).toEqual([]);
    expect(await places("--cached", "everywhere")).toEqual([]);
    // As whole words, and as expressions: with a certain piece in them, or none.
    expect(await places("lin", "everywhere", "whole")).toEqual([]);
    expect(await places("line 12", "everywhere", "whole")).toContain("b.txt new 13");
    expect(await places("^line 1[23];$", "everywhere", "expression")).toContain("b.txt new 13");
    expect(await places("^[a-z]+ 1[23];$", "everywhere", "expression")).toContain("b.txt new 13");
    expect(await places("^l.*three", "changed", "expression")).toEqual(["b.txt new 4"]);
    expect(await search("(", "everywhere", "expression")).toMatchObject({ ok: false, refusal: { code: "invalid" } });
    const stop = new AbortController();
    const given = search("line", "whole", "words", stop.signal);
    stop.abort();
    await expect(given).rejects.toThrow(/abort/i);
  });
});
