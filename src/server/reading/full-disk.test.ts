import { sql } from "kysely";
import { afterAll, beforeAll, expect } from "vitest";
import { contentKey } from "@/core/diff/tree";
import { Bench, value } from "../testing/bench";
import { story } from "../testing/story";
import { fileView, readingFor } from "./reading";
import { statesOf } from "./states";

const it = story();
const FILES = 60;
let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  // Of every second one it is worth it to keep how it differs.
  const files = (said: string) =>
    Object.fromEntries(
      Array.from({ length: FILES }, (_, n) => [
        `berths/a-berth-of-the-inner-harbour-${n}.ts`,
        `export const b${n} = "${said}";\n${"b;\n".repeat((n % 2) * 20_000)}`,
      ]),
    );
  const work = await bench.repository("quay", { main: [files("free")], topic: [files("kept")] });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "keeper" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

/** The database takes no page more, as on a disk that is full; or as many as it likes. */
async function full(is: boolean): Promise<void> {
  // What is free within the file would take it still.
  if (is) await sql`vacuum`.execute(bench.app.db);
  const { rows } = await sql<{ page_count: number }>`pragma page_count`.execute(bench.app.db);
  await sql`pragma max_page_count = ${sql.raw(String(is ? rows[0].page_count : 4_294_967_294))}`.execute(bench.app.db);
}

async function held(): Promise<number[]> {
  const count = async (table: "readings" | "comparisons") =>
    (await bench.app.db.selectFrom(table).select("result").execute()).length;
  return [await count("readings"), await count("comparisons")];
}

it("is read on while nothing can be kept, and kept when it can", async () => {
  const { change, folder } = await bench.change("quay", 1);
  const ada = bench.people.get("ada")!;
  const points = value(await statesOf(bench.app, ada, change, folder, "base", "r1"));
  const read = async () => {
    const all = await readingFor(bench.app, ada, change, folder, { from: "base", to: "r1" }, points, { whole: true });
    const [{ oldId, newId, oldMode, newMode }] = all.files;
    const view = await fileView(bench.app, folder, contentKey(oldId, oldMode), contentKey(newId, newMode));
    const toRead = all.files.reduce((sum, file) => sum + (file.toRead ?? 0), 0);
    return [all.files.length, toRead, JSON.parse(view).comparison.added];
  };
  await full(true);
  expect(await read()).toEqual([FILES, 2 * FILES, 1]);
  const [readings, comparisons] = await held();
  expect(readings).toBe(0);
  // One alone may find room in a page that is there.
  expect(comparisons).toBeLessThan(2);
  await full(false);
  bench.app.shelves.get("jobs")?.forget(`${folder}\0${points.from}\0${points.to}\0${points.settings}`);
  expect(await read()).toEqual([FILES, 2 * FILES, 1]);
  expect(await held()).toEqual([1, FILES / 2]);
});
