import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { ReviewEvent } from "../../review/events";
import { canonical } from "./canonical";
import { entryOf, entryPath, readLedger, signedText, wrongFormat } from "./ledger";

describe("canonical JSON", () => {
  it("says the same whatever the order of members, and reads back as what it was", () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const text = canonical(value);
        expect(canonical(JSON.parse(text))).toBe(text);
        expect(JSON.parse(text)).toEqual(JSON.parse(JSON.stringify(value)));
      }),
    );
    expect(canonical({ "\u20ac": 1, "\r": 2, "1": 3, "\ud83d\ude00": 4, b: undefined, a: [1e21, -0, 0.1] })).toBe(
      '{"\\r":2,"1":3,"a":[1e+21,0,0.1],"€":1,"😀":4}',
    );
    expect(() => canonical({ a: Number.NaN })).toThrow();
  });
});

const id = (n: number) => `01JD${String(n).padStart(22, "0")}`;
const STREAM = id(0);
const revision = { head: "a".repeat(40), target: "b".repeat(40), base: "b".repeat(40) };
const event = (n: number, kind: string, data: object, by = id(900)) =>
  ({ id: id(n), stream: STREAM, kind, version: 1, by, at: n, data }) as unknown as ReviewEvent;
const opened = { repository: id(800), number: 1, title: "T", description: "", source: "s", target: "m", revision };
const LOG: ReviewEvent[] = [
  event(1, "opened", opened),
  ...Array.from({ length: 12 }, (_, i) =>
    event(
      i + 2,
      "reviewed",
      { revision: 1, verdict: i % 3 ? "none" : "approve", remark: `word ${i}`, remarks: [] },
      id(901 + (i % 3)),
    ),
  ),
  event(14, "described", { title: "Other", description: "d" }),
  event(15, "withdrawn", {}),
];

/** A stand-in for signatures: a text is signed by being told with the name of its key. */
const sign = (key: string, text: string) =>
  `${key}:${[...text].reduce((sum, sign) => (sum * 31 + sign.charCodeAt(0)) | 0, 7)}`;
const proves = (key: string, text: string, value: string) => key === "good" && value === sign(key, text);
const fileOf = (one: ReviewEvent, key = "good"): [string, string] => {
  const entry = entryOf(one);
  return [entryPath(one.id), canonical({ event: entry, signature: { key, value: sign(key, signedText(entry)) } })];
};

describe("a ledger", () => {
  const whole = readLedger(
    STREAM,
    LOG.map((one) => fileOf(one)),
    proves,
  );

  it("makes the same state of the same entries, in any order, from any number of replicas, however often each came", () => {
    expect(whole.leftOut).toEqual([]);
    expect(whole.change).toMatchObject({ title: "Other", state: "withdrawn" });
    fc.assert(
      fc.property(
        fc.shuffledSubarray(LOG, { minLength: 0 }),
        fc.shuffledSubarray(LOG, { minLength: 0 }),
        (one, other) => {
          // What neither of the two has the third brings.
          const union = new Map([...one, ...other, ...LOG].map((each) => fileOf(each)));
          expect(readLedger(STREAM, union, proves)).toEqual(whole);
          const twice = [...one, ...LOG, ...other].map((each) => fileOf(each));
          expect(readLedger(STREAM, twice, proves)).toEqual(whole);
        },
      ),
    );
  });

  it("names what does not count, and why, and is not moved by it", () => {
    const [name, text] = fileOf(LOG[3]);
    const why = (file: readonly [string, string]) =>
      readLedger(STREAM, [...LOG.filter((one) => one.id !== id(4)).map((one) => fileOf(one)), file], proves).leftOut;
    expect(why([name, text.replace("approve", "none").replace("word 2", "word 3")])).toEqual([
      { id: id(4), why: "it is unproven: no known key signed it" },
    ]);
    expect(why(fileOf(LOG[3], "stolen"))[0].why).toMatch(/unproven/);
    expect(why([entryPath(id(5)), text]).map((one) => one.why)).toContain("it is in the file of another entry");
    expect(why([name, "{"])[0].why).toBe("it is no JSON");
    const strange = { ...LOG[3], stream: id(77) } as ReviewEvent;
    expect(why(fileOf(strange))[0].why).toBe("it is of another change set");
    expect(why(fileOf(event(4, "exploded", {})))[0].why).toMatch(/not known/);
    expect(why(fileOf(event(0, "withdrawn", {})))[0].why).toMatch(/before the change set was opened/);
    expect(why(fileOf(event(99, "opened", opened)))[0].why).toMatch(/a second time/);
    const alone = fileOf(event(1, "opened", { ...opened, source: "topic, not committed yet" }));
    expect(readLedger(STREAM, [alone], proves)).toEqual({
      change: null,
      leftOut: [{ id: id(1), why: "its source is called as no branch can be" }],
    });
    for (const part of [{ source: "to\u200bpic" }, { target: "to\u200bpic" }])
      expect(readLedger(STREAM, [fileOf(event(1, "opened", { ...opened, ...part }))], proves)).toEqual({
        change: null,
        leftOut: [{ id: id(1), why: "it names a branch with signs that cannot be seen: to⟨U+200B⟩pic" }],
      });
    expect(readLedger(STREAM, [], proves)).toEqual({ change: null, leftOut: [] });
  });

  it("is read in its own format alone, and says which other it is of", () => {
    expect([wrongFormat("1\n"), wrongFormat(undefined)]).toEqual([null, null]);
    expect(wrongFormat("2\n")).toMatch(/format 2, which is newer/);
    expect(wrongFormat("0")).toMatch(/format 0, which is older/);
    expect(wrongFormat("\u202e1; rm")).toBe("its format is none that is known here");
  });

  it("is read in a moment, also when it is long", () => {
    const long = [
      LOG[0],
      ...Array.from({ length: 2_000 }, (_, i) =>
        event(i + 2, "reviewed", { revision: 1, verdict: "none", remark: "x", remarks: [] }),
      ),
    ];
    expect(
      readLedger(
        STREAM,
        long.map((one) => fileOf(one)),
        proves,
      ).change?.reviews,
    ).toHaveLength(2_000);
  });
});
