import { describe, expect, it } from "vitest";
import { letsGoOf } from "~/tests/let-go";
import { Kept } from "./kept";

describe("what is kept in memory", () => {
  it("is asked for once, and again when that failed", async () => {
    const kept = new Kept<string>(10);
    let asked = 0;
    const ask = () => kept.get("a", async () => `${++asked}`);
    expect([await ask(), await ask()]).toEqual(["1", "1"]);
    let failed = 0;
    const fail = () =>
      kept.get("b", async () => {
        failed++;
        throw new Error("no");
      });
    await expect(fail()).rejects.toThrow("no");
    await expect(fail()).rejects.toThrow("no");
    expect(failed).toBe(2);
  });

  it("weighs no more than it may, and the heaviest by itself is kept all the same", async () => {
    const kept = new Kept<number[]>(10, { of: (list) => list.length, most: 100 });
    const made: string[] = [];
    const ask = (name: string, size: number) =>
      kept.get(name, async () => {
        made.push(name);
        return new Array<number>(size).fill(0);
      });
    for (const name of ["a", "b"]) await ask(name, 40);
    for (const name of ["a", "b"]) await ask(name, 40);
    expect(made).toEqual(["a", "b"]);
    await ask("c", 500);
    await ask("c", 500);
    expect(made).toEqual(["a", "b", "c"]);
    await ask("a", 40);
    expect(made).toEqual(["a", "b", "c", "a"]);
  });

  it("holds nothing of the request in which it was made", async () => {
    const kept = new Kept<string>(10);
    expect(await letsGoOf(() => kept.get("a", async () => "answer"))).toBe(true);
    expect(await kept.get("a", async () => "another")).toBe("answer");
  });
});
