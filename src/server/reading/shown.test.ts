import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { setImmediate } from "node:timers/promises";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Bench } from "../testing/bench";
import { forgetShown, mayServe, noteShown } from "./shown";

let bench: Bench;
let folder: string;
/** Contents that no branch leads to. */
let loose: { id: string }[];

beforeAll(async () => {
  bench = await Bench.set();
  folder = await bench.repository("quay", { main: [{ "a.txt": "a\n" }] });
  const file = join(bench.folder, "loose.txt");
  writeFileSync(file, "hangs nowhere\n");
  loose = [{ id: (await bench.git(folder, "hash-object", "-w", file)).trim() }];
});
afterAll(() => bench.clear());

const isServed = async () => (await mayServe(bench.app, folder, [loose[0].id])).ok;

describe("contents that hang nowhere", () => {
  it("are served once somebody was shown a list with them, until it is forgotten what was shown", async () => {
    expect(await isServed()).toBe(false);
    await noteShown(bench.app, folder, loose);
    expect(await isServed()).toBe(true);
    forgetShown(bench.app, folder);
    expect(await isServed()).toBe(false);
    await noteShown(bench.app, folder, loose);
    expect(await isServed()).toBe(true);
  });

  it("are served where the very same list is shown again after so many others that they were forgotten", async () => {
    const others = Array.from({ length: 500_000 }, (_, n) => ({ id: idOf(n) }));
    await noteShown(bench.app, folder, others);
    expect(await isServed()).toBe(false);
    await noteShown(bench.app, folder, loose);
    expect(await isServed()).toBe(true);
  });

  it("are served where so many others were shown while a long list was that its first were forgotten", async () => {
    forgetShown(bench.app, folder);
    const long = [...loose, ...Array.from({ length: 5_000 }, (_, n) => ({ id: idOf(600_000 + n) }))];
    const others = Array.from({ length: 500_000 }, (_, n) => ({ id: idOf(n) }));
    await Promise.all([noteShown(bench.app, folder, long), noteShown(bench.app, folder, others)]);
    expect(await isServed()).toBe(false);
    await noteShown(bench.app, folder, long);
    expect(await isServed()).toBe(true);
  });

  it("let others have their turn while a long list is shown", async () => {
    const order: string[] = [];
    const long = Array.from({ length: 100_000 }, (_, n) => ({ id: idOf(n) }));
    const shown = noteShown(bench.app, folder, long).then(() => order.push("shown"));
    for (let turn = 0; turn < 3; turn++) await setImmediate();
    order.push("another");
    await shown;
    expect(order).toEqual(["another", "shown"]);
  });
});

/** An id that differs from others in what begins it. */
function idOf(n: number): string {
  return n.toString(16).padStart(8, "0").padEnd(40, "0");
}
