import * as v from "valibot";
import { describe, expect, it } from "vitest";
import { Log } from "../../review/testing/log";
import { labelRequest, labelsByPath } from "./labels";

describe("labels", () => {
  it("come by what is touched, however many paths they name", () => {
    const labels = [
      { name: "tariff", paths: ["tariff/**", "*.sql"] },
      { name: "docs", paths: ["docs/**/*.md"] },
      { name: "by-hand", paths: [] },
    ];
    expect(labelsByPath(labels, ["plan/a.ts"])).toEqual([]);
    expect(labelsByPath(labels, ["plan/a.ts", "tariff/deep/b.ts"])).toEqual(["tariff"]);
    expect(labelsByPath(labels, ["rates.sql", "docs/x/y.md"])).toEqual(["tariff", "docs"]);
    expect(labelsByPath(labels, [])).toEqual([]);
  });

  it("have names that can be written behind a word, and patterns that can be tried in time", () => {
    const read = (more: object) =>
      v.safeParse(labelRequest, { name: "x", flag: "plain", about: "", paths: [], ...more });
    expect(read({ name: " Tide-Tables " }).output).toMatchObject({ name: "tide-tables" });
    for (const name of ["", "-x", "x-", "a b", "a:b", '"', "ä", "x".repeat(31)])
      expect([name, read({ name }).success]).toEqual([name, false]);
    expect(read({ paths: ["(a|b)+"] }).issues?.[0].message).toMatch(/special signs/);
    expect(read({ flag: "skull" }).success).toBe(false);
  });

  it("are given and taken by who takes part, each once, and move no list", () => {
    const log = new Log();
    const label = (by: string, put: string[], take: string[] = []) => log.try(by, { kind: "label", put, take });
    const { changedAt } = log.change;
    expect(label("ben", ["tides", "tariff", "tides"])).toBe("");
    expect(log.change.labels).toEqual(["tariff", "tides"]);
    expect(log.change.changedAt).toBe(changedAt);
    expect(label("cy", ["tides"])).toMatch(/has that label already/);
    expect(label("ben", [], ["docs"])).toMatch(/does not have that label/);
    expect(label("ben", ["docs"], ["tides", "gone"])).toBe("");
    expect(log.change.labels).toEqual(["docs", "tariff"]);
    expect(label("ben", ["docs"], ["docs"])).toBe("");
    expect(log.change.labels).toEqual(["tariff"]);
    expect(label("rea", ["docs"])).toMatch(/Only contributors, keepers and the author/);
  });
});
