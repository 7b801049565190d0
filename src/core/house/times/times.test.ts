import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Log } from "../../review/testing/log";
import type { Condition } from "../../rules/condition";
import { answeredByAt, byWeek, firstAnswerAt, hindrances, quantile, timesOf, weekOf } from "./times";

const HOUR = 3_600_000;
const ref = (number: number) => ({ repository: "quay", number, title: `Take ${number}` });

describe("weeks", () => {
  it("begin on Monday, wherever a time lies in them", () => {
    expect(new Date(weekOf(Date.UTC(2026, 10, 26, 19))).toISOString()).toBe("2026-11-23T00:00:00.000Z");
    expect(weekOf(Date.UTC(2026, 10, 23))).toBe(Date.UTC(2026, 10, 23));
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 4e12 }), (at) => {
        const from = weekOf(at);
        expect(new Date(from).getUTCDay()).toBe(1);
        expect(from <= at && at < from + 7 * 24 * HOUR).toBe(true);
      }),
    );
  });

  it("tell the middle and where half of the values lie, and name each change set once", () => {
    expect([quantile([4, 1, 3, 2], 0.5), quantile([7], 0.25), quantile([1, 2, 3], 1)]).toEqual([2.5, 7, 3]);
    const values = fc.array(fc.record({ at: fc.integer({ min: 0, max: 1e11 }), value: fc.nat(1_000) }), {
      minLength: 1,
    });
    fc.assert(
      fc.property(values, (samples) => {
        const weeks = byWeek(samples.map((one, i) => ({ ...one, change: ref(i) })));
        expect(weeks.flatMap(({ changes }) => changes)).toHaveLength(samples.length);
        expect(weeks.map(({ from }) => from)).toEqual(
          [...new Set(samples.map(({ at }) => weekOf(at)))].sort((a, b) => a - b),
        );
        for (const { from, median, low, high } of weeks) {
          expect(low <= median && median <= high).toBe(true);
          const of = samples.filter(({ at }) => weekOf(at) === from).map(({ value }) => value);
          // Half of them, or more, lie on either side of the middle.
          expect(of.filter((value) => value <= median).length * 2).toBeGreaterThanOrEqual(of.length);
          expect(of.filter((value) => value >= median).length * 2).toBeGreaterThanOrEqual(of.length);
        }
      }),
    );
  });
});

describe("how long a change set takes", () => {
  const told = (log: Log, now = 100) =>
    timesOf(
      [{ change: log.change, ref: ref(1) }],
      (person) => person === "gauge",
      () => 40,
      now,
    );

  it("is waited for until somebody else says something; its author and machines do not count", () => {
    const log = new Log();
    expect(told(log)).toMatchObject({ answered: [], waiting: [{ value: 100 }], rounds: [] });
    log.review("ada", "none", "t1");
    expect(firstAnswerAt(log.change, (person) => person !== "ada")).toBeNull();
    log.review("ben", "none", "t2");
    log.review("cy", "approve");
    const { at } = log.change.reviews.find(({ by }) => by === "ben")!;
    expect(told(log)).toMatchObject({ answered: [{ median: at }], waiting: [] });
    expect([answeredByAt(log.change, "cy"), answeredByAt(log.change, "ada")]).toEqual([
      log.change.reviews.at(-1)!.at,
      null,
    ]);
  });

  it("begins when it was said to be ready, and a draft is not counted", () => {
    const log = new Log();
    log.try("ada", { kind: "draft" });
    expect(told(log)).toMatchObject({ answered: [], waiting: [] });
    log.try("ada", { kind: "ready" });
    expect(log.change.readyAt).toBe(2);
    expect(told(log).waiting).toMatchObject([{ at: 2, value: 98 }]);
  });

  it("ends with merging: in how many revisions, after how much to read", () => {
    const log = new Log();
    log.review("ben", "approve");
    log.merge("cy");
    expect(told(log)).toMatchObject({ rounds: [{ median: 1 }], loads: [{ load: 40, took: log.change.settled!.at }] });
  });
});

it("tells what keeps open change sets from merging, each once for a condition", () => {
  const condition = (key: "approvals" | "check", met: boolean): Condition => ({
    id: key,
    key,
    met,
    says: "",
    people: [],
    who: null,
    canMeet: [],
  });
  const gate = (...conditions: ReturnType<typeof condition>[]) => ({ open: false, conditions });
  const open = [
    { change: ref(1), gate: gate(condition("check", false), condition("check", false), condition("approvals", true)) },
    { change: ref(2), gate: gate(condition("check", false), condition("approvals", false)) },
  ];
  expect(hindrances(open)).toEqual([
    { key: "check", changes: [ref(1), ref(2)] },
    { key: "approvals", changes: [ref(2)] },
  ]);
});
