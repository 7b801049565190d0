import fc from "fast-check";
import * as v from "valibot";
import { describe, expect, it } from "vitest";
import { hearsAt, TOPICS, type Topic, topicOf, USUAL_WISHES, WAYS, type Way, wayOf, wishes } from "./wishes";

const at = (text: string) => Date.parse(`2026-11-26T${text}:00Z`);
const clock = (ms: number) => new Date(ms).toISOString().slice(11, 16);

describe("when mail may go out", () => {
  it("is now, at the end of the quiet time, or at the time of the digest, in the zone of who is told", () => {
    const night = { ...USUAL_WISHES, quiet: { from: "22:00", to: "07:00" } };
    expect(hearsAt(USUAL_WISHES, at("23:30"))).toBe(at("23:30"));
    expect(hearsAt(night, at("12:00"))).toBe(at("12:00"));
    expect(hearsAt(night, at("23:30"))).toBe(at("07:00") + 86_400_000);
    expect(hearsAt(night, at("03:00"))).toBe(at("07:00"));
    expect(hearsAt(night, at("07:00"))).toBe(at("07:00"));
    expect(clock(hearsAt({ ...night, zone: "Europe/Berlin" }, at("21:30")))).toBe("06:00");
    expect(hearsAt({ ...USUAL_WISHES, digest: "08:00" }, at("08:01"))).toBe(at("08:00") + 86_400_000);
    expect(hearsAt({ ...USUAL_WISHES, digest: "08:00" }, at("07:15"))).toBe(at("08:00"));
  });

  it("is never before now, never more than a day away, and never in the quiet time", () => {
    const time = fc
      .tuple(fc.nat(23), fc.nat(59))
      .map(([h, m]) => `${String(h).padStart(2, "0")}:${String(m).padStart(2, "0")}`);
    fc.assert(
      fc.property(time, time, fc.integer({ min: 0, max: 4e12 }), (from, to, moment) => {
        const now = moment - (moment % 60_000);
        const said = { quiet: { from, to }, digest: null, zone: "UTC" };
        const then = hearsAt(said, now);
        expect(then).toBeGreaterThanOrEqual(now);
        expect(then - now).toBeLessThan(86_400_000);
        expect(hearsAt(said, then)).toBe(then);
      }),
    );
  });
});

it("takes no pattern that is none, no zone that is none, and no time that is none", () => {
  const ok = (more: object) => v.safeParse(wishes, { ...USUAL_WISHES, ...more }).success;
  expect(ok({})).toBe(true);
  // What was kept before there was such a thing.
  const { less: _, ...older } = USUAL_WISHES;
  expect(v.parse(wishes, older).less).toEqual([]);
  expect(ok({ less: [{ repository: "quay", way: "mail" }] })).toBe(false);
  expect(ok({ zone: "Harbour/Quay" })).toBe(false);
  expect(ok({ digest: "25:00" })).toBe(false);
  expect(ok({ paths: [{ repository: "quay", pattern: "" }] })).toBe(false);
  expect(topicOf("asked")).toBe("asked");
  expect(topicOf("replied")).toBe("said");
});

it("is never louder in a repository than is wished for it, and as it is wished everywhere else", () => {
  const ways = fc.constantFrom(...WAYS);
  fc.assert(
    fc.property(
      fc.constantFrom(...(Object.keys(TOPICS) as Topic[])),
      ways,
      fc.constantFrom("page" as const, "neither" as const),
      (topic, way, most) => {
        const wanted = {
          ways: { ...USUAL_WISHES.ways, [topic]: way },
          less: [{ repository: "quay", way: most }],
        };
        const loudness = (one: Way) => -WAYS.indexOf(one);
        const there = wayOf(wanted, topic, "quay");
        expect(loudness(there)).toBe(Math.min(loudness(way), loudness(most)));
        expect(wayOf(wanted, topic, "pier")).toBe(way);
      },
    ),
  );
});
