import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { fact } from "./facts";

const folder = mkdtempSync(join(tmpdir(), "lens-facts-"));
afterAll(() => rmSync(folder, { recursive: true }));

const [one, other] = ["1".repeat(40), "2".repeat(64)];
/** Counts how often it is asked, and answers with that. */
function counting() {
  let asked = 0;
  return async () => ++asked;
}

describe("facts about commits", () => {
  it("are looked up once for the same ids in the same order, in the same repository, and for the same question", async () => {
    const find = counting();
    expect(await fact(folder, "base", [one, other], find)).toBe(1);
    expect(await fact(folder, "base", [one, other], find)).toBe(1);
    expect(await fact(folder, "base", [other, one], find)).toBe(2);
    expect(await fact(folder, "ancestor", [one, other], find)).toBe(3);
    expect(await fact(tmpdir(), "base", [one, other], find)).toBe(4);
    expect(await fact(folder, "base", [one, other], find)).toBe(1);
  });

  it("are asked anew where something is named that may come to mean something else", async () => {
    const find = counting();
    for (const name of ["main", "refs/heads/main", one.slice(1), `${one}^`]) {
      const before = await fact(folder, "x", [one, name], find);
      expect(await fact(folder, "x", [one, name], find)).toBe(before + 1);
    }
  });

  it("are asked anew where history is cut off", async () => {
    const find = counting();
    expect(await fact(folder, "cut", [one], find)).toBe(1);
    writeFileSync(join(folder, "shallow"), `${one}\n`);
    expect(await fact(folder, "cut", [one], find)).toBe(2);
    expect(await fact(folder, "cut", [one], find)).toBe(3);
    rmSync(join(folder, "shallow"));
  });

  it("are frozen all through", async () => {
    const commits = await fact(folder, "commits", [one], async () => [{ subject: "Deeper" }]);
    expect(() => commits.push({ subject: "More" })).toThrow(TypeError);
    expect(() => Object.assign(commits[0], { subject: "Other" })).toThrow(TypeError);
  });

  it("are none while git has no answer", async () => {
    const gone = async () => {
      throw new Error("There is no such object.");
    };
    await expect(fact(folder, "gone", [one], gone)).rejects.toThrow("no such object");
    expect(await fact(folder, "gone", [one], counting())).toBe(1);
  });

  it("are forgotten where they would take too much room", async () => {
    const find = counting();
    const long = () => 1_500_000;
    for (const digit of ["3", "4", "5", "6"]) await fact(folder, "long", [digit.repeat(40)], find, long);
    expect(await fact(folder, "long", ["6".repeat(40)], find, long)).toBe(4);
    expect(await fact(folder, "long", ["3".repeat(40)], find, long)).toBe(5);
  });
});
