import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { diffLines } from "../diff/lines";
import { followLines } from "./follow";

/** Each line of text has a name of its own, so that the truth is known: where a name stands now is where its line went. */
const history = fc
  .tuple(
    fc.integer({ min: 1, max: 40 }),
    fc.array(fc.tuple(fc.nat(60), fc.constantFrom("drop", "insert", "replace")), { maxLength: 8 }),
  )
  .map(([size, edits]) => {
    const old = Array.from({ length: size }, (_, i) => `line ${i}`);
    const next = [...old];
    for (const [n, [at, how]] of edits.entries()) {
      const place = at % (next.length + 1);
      if (how === "insert") next.splice(place, 0, `new ${n}`);
      else if (how === "drop") next.splice(place, 1);
      else if (place < next.length) next[place] = `other ${n}`;
    }
    return { old, next };
  });

describe("following lines", () => {
  it("finds every single line that still exists, and says edited or gone of the others only", () => {
    fc.assert(
      fc.property(history, ({ old, next }) => {
        const hunks = diffLines(old, next);
        for (const [i, text] of old.entries()) {
          const place = followLines(i + 1, i + 1, hunks);
          const truth = next.indexOf(text);
          if (truth >= 0) {
            expect(place).toEqual({ status: truth === i ? "unchanged" : "shifted", start: truth + 1, end: truth + 1 });
          } else expect(["edited", "gone"]).toContain(place.status);
        }
      }),
    );
  });

  it("calls several lines unchanged or shifted exactly when all of them stand there together", () => {
    fc.assert(
      fc.property(history, fc.nat(), fc.nat(), ({ old, next }, a, b) => {
        const start = (a % old.length) + 1;
        const end = start + (b % (old.length - start + 1));
        const place = followLines(start, end, diffLines(old, next));
        const text = old.slice(start - 1, end);
        const first = next.indexOf(text[0]);
        const whole = first >= 0 && text.every((line, i) => next[first + i] === line);
        expect(place.status === "unchanged" || place.status === "shifted").toBe(whole);
        if (place.status !== "gone") {
          expect(place.start).toBeGreaterThanOrEqual(1);
          expect(place.end).toBeLessThanOrEqual(next.length);
          for (const line of text) {
            const now = next.indexOf(line) + 1;
            if (now > 0) expect(now >= place.start && now <= place.end).toBe(true);
          }
        } else expect(text.some((line) => next.includes(line))).toBe(false);
      }),
    );
  });
});
