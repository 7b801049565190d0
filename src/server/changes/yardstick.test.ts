import { afterAll, beforeAll, describe, expect } from "vitest";
import { newest } from "@/core/review/state";
import { blobAt, branchCommit } from "@/git/repository";
import { story } from "@/server/testing/story";
import { readingFor } from "../reading/reading";
import { statesOf } from "../reading/states";
import { setRule } from "../rules/rules";
import { Bench, reason, value } from "../testing/bench";
import { keepUnsent } from "./unsent";
import { dropSame, yardstickOf } from "./yardstick";

const it = story();

let bench: Bench;
const who = (name: string) => bench.people.get(name)!;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "a\n", "b.txt": "b\n", "c.txt": "c\n" }],
    topic: [{ "a.txt": "A\n", "b.txt": "B\n", "new.txt": "n\n" }],
    live: [{ "a.txt": "A\n", "b.txt": "mended there\n", "c.txt": "mended too\n" }],
  });
  await bench.git(work, "tag", "-a", "-m", "released", "v1", "main");
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "contributor" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

const against = async (name: string | null) => {
  const { change, folder } = await bench.change("quay", 1);
  return yardstickOf(bench.app, folder, change, name);
};
const states = async (name: string) =>
  value(await against(name)).files.map(({ path, state, changedThere }) => `${path} ${state}${changedThere ? "!" : ""}`);

describe("a branch or tag as a yardstick", () => {
  it("tells file by file what is there already and what would be lost", async () => {
    expect(value(await against(null)).names).toEqual([
      { name: "live", kind: "branch" },
      { name: "main", kind: "branch" },
      { name: "v1", kind: "tag" },
    ]);
    expect(await states("live")).toEqual(["a.txt same", "b.txt different!", "new.txt new", "c.txt there!"]);
    expect(await states("v1")).toEqual(["a.txt different", "b.txt different", "new.txt new"]);
    expect(reason(await against("nowhere"))).toMatch(/no branch or tag “nowhere”/);
  });

  it("is walked like any reading, and can be remarked on, on both sides", async () => {
    const { change, folder } = await bench.change("quay", 1);
    const name = { from: "live:live", to: "r1" };
    const points = value(await statesOf(bench.app, who("ben"), change, folder, name.from, name.to));
    const { files } = await readingFor(bench.app, who("ben"), change, folder, name, points, { whole: true });
    expect(files.map(({ path }) => path).sort()).toEqual(["b.txt", "c.txt", "new.txt"]);
    const blob = (await blobAt(folder, (await branchCommit(folder, "live"))!, "c.txt"))!;
    const anchor = { kind: "lines" as const, revision: 1, blob, side: "old" as const, path: "c.txt", start: 1, end: 1 };
    const note = {
      kind: "remark" as const,
      anchor,
      body: "This mend would go.",
      weight: "settle" as const,
      suggestions: [],
    };
    value(await keepUnsent(bench.app, who("ben"), change, folder, bench.app.newId(), note));
    const made = { ...note, anchor: { ...anchor, blob: "e".repeat(40) } };
    expect(reason(await keepUnsent(bench.app, who("ben"), change, folder, bench.app.newId(), made))).toMatch(
      /not in r1 in that state/,
    );
    expect(reason(await statesOf(bench.app, who("ben"), change, folder, "live:--all", "r1"))).toMatch(
      /nothing to compare/,
    );
  });

  it("lets its author leave out what is there already", async () => {
    const { change, folder } = await bench.change("quay", 1);
    expect(reason(await dropSame(bench.app, who("ben"), change, folder, "live"))).toMatch(/Only the author/);
    expect(reason(await dropSame(bench.app, who("ada"), change, folder, "v1"))).toMatch(
      /No file of r1 is the same in v1/,
    );
    value(await setRule(bench.app, "quay", "topic", {}));
    const guarded = await dropSame(bench.app, who("ada"), change, folder, "live");
    expect(reason(guarded)).toMatch(/topic is guarded by the rule for topic/);
    value(await setRule(bench.app, "quay", "topic", { direct: true }));
    const after = value(await dropSame(bench.app, who("ada"), change, folder, "live"));
    expect(await bench.git(folder, "diff", "--name-only", newest(after).base, newest(after).head)).toBe(
      "b.txt\nnew.txt",
    );
    expect(await states("live")).toEqual(["b.txt different!", "new.txt new", "a.txt there!", "c.txt there!"]);
  });
});
