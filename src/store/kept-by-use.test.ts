import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, expect, it } from "vitest";
import { ENGINE } from "@/core/diff/compare";
import { READING_ENGINE } from "@/core/quiet/kinds/kinds";
import { type Database, openDatabase } from "./database";
import { forgetUnused, keepResults, keptResult, NOTED_EVERY } from "./kept-by-use";

let folder: string;
let db: Database;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "lens-kept-"));
  db = await openDatabase(join(folder, "lens.db"));
});
afterEach(async () => {
  await db.destroy();
  rmSync(folder, { recursive: true });
});

const comparison = (id: string, engine: number = ENGINE) => ({ engine, old_id: id, new_id: id });
const keep = (id: string, now: number, length = 100) =>
  keepResults(db, now, "comparisons", [{ ...comparison(id), added: 1, removed: 1, result: "x".repeat(length) }]);
const isKept = async (id: string) => (await keptResult(db, 0, "comparisons", comparison(id))) !== null;

it("gives back what was kept for exactly these values, and keeps the first of two", async () => {
  await keep("a", 1);
  await keep("a", 2, 7);
  expect(await keptResult(db, 2, "comparisons", comparison("a"))).toHaveLength(100);
  expect(await keptResult(db, 2, "comparisons", comparison("b"))).toBeNull();
  expect(await keptResult(db, 2, "comparisons", comparison("a", ENGINE - 1))).toBeNull();
  await keepResults(db, 2, "comparisons", []);
});

it("keeps several at once as each by itself, the first of two, whatever is written in them", async () => {
  const said = [{ a: "b\n" }, "\u0000 ' \" \\ ⚓ \ud83d\udea2 \ud83d \u2028", 12, null];
  const results = said.map((one) => JSON.stringify(one));
  const rows = results.map((result, n) => ({ ...comparison(`${n}`), added: n, removed: 7, result }));
  await keepResults(db, 3, "comparisons", [...rows, { ...rows[0], result: "later" }]);
  const kept = await db.selectFrom("comparisons").selectAll().orderBy("old_id").execute();
  expect(kept).toEqual(rows.map((row) => ({ ...row, size: row.result.length, used_at: 3 })));
});

it("lets go of what was not used for the longest time, over all tables, and of no more than it must", async () => {
  for (const [at, id] of ["a", "b", "c", "d"].entries()) await keep(id, at + 1);
  const commits = { engine: READING_ENGINE, from_commit: "f", to_commit: "t", settings_commit: "s" };
  await keepResults(db, 2, "readings", [{ ...commits, result: "y".repeat(1_000) }]);
  // It was asked for a day later, so it is the one used last.
  await keptResult(db, NOTED_EVERY + 10, "comparisons", comparison("a"));
  expect(await forgetUnused(db, 1_400)).toBe(0);
  // First "b", then the whole reading.
  expect(await forgetUnused(db, 300)).toBe(2);
  expect(await Promise.all(["a", "b", "c", "d"].map(isKept))).toEqual([true, false, true, true]);
  expect(await keptResult(db, 3, "readings", commits)).toBeNull();
  expect(await forgetUnused(db, 0)).toBe(3);
});

it("lets go of what another version worked out, however much room there is", async () => {
  await keep("a", 1);
  const { engine: _, ...other } = { ...comparison("b"), added: 1, removed: 1, result: "x" };
  await keepResults(db, 1, "comparisons", [{ ...other, engine: ENGINE - 1 }]);
  expect(await forgetUnused(db, 1_000_000)).toBe(1);
  expect(await isKept("a")).toBe(true);
});

it("notes a use once a day, so that reading costs no write", async () => {
  await keep("a", 1_000);
  const used = async () => (await db.selectFrom("comparisons").select("used_at").executeTakeFirstOrThrow()).used_at;
  await keptResult(db, 1_000 + NOTED_EVERY, "comparisons", comparison("a"));
  expect(await used()).toBe(1_000);
  await keptResult(db, 1_001 + NOTED_EVERY, "comparisons", comparison("a"));
  expect(await used()).toBe(1_001 + NOTED_EVERY);
});
