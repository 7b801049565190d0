import fc from "fast-check";
import { expect, it } from "vitest";
import type { Hunk } from "../../diff/hunk";
import { tries } from "../../testing/tries";
import type { Joined } from "./joined-lines";
import { ProvenLines } from "./proven-lines";

const hunk = (oldStart: number, oldEnd: number, newStart: number, newEnd: number) =>
  ({ oldStart, oldEnd, newStart, newEnd }) as Hunk;
/** Lines 5 to 8 did not change, nor those above 2 and from 12 on; on the new side they are 6 to 9, and from 13 on. */
const HUNKS = [hunk(2, 5, 2, 6), hunk(8, 12, 9, 13)];
const UNCHANGED = [...range(0, 2, 0), ...range(5, 8, 1), ...range(12, 16, 1)];

function range(start: number, end: number, by: number): [old: number, next: number][] {
  return Array.from({ length: end - start }, (_, n) => [start + n, start + n + by]);
}

const lines = fc
  .tuple(fc.nat(13), fc.integer({ min: 1, max: 4 }))
  .map(([start, size]) => ({ start, end: start + size }));

it("lets no line stand for two, and none go past another", () => {
  fc.assert(
    fc.property(fc.array(fc.record<Joined>({ old: lines, next: lines }), { maxLength: 12 }), (all) => {
      const proven = new ProvenLines(HUNKS);
      let kept: Joined[] = [];
      for (const one of all) {
        if (!proven.allows(one)) continue;
        proven.add(one);
        const within = ({ old, next }: Joined) =>
          one.old.start <= old.start &&
          old.end <= one.old.end &&
          one.next.start <= next.start &&
          next.end <= one.next.end;
        kept = [...kept.filter((other) => !within(other)), one];
      }
      kept.sort((a, b) => a.old.start - b.old.start);
      for (const [n, { old, next }] of kept.slice(1).entries()) {
        expect(old.start).toBeGreaterThanOrEqual(kept[n].old.end);
        expect(next.start).toBeGreaterThanOrEqual(kept[n].next.end);
      }
      // Of a line that did not change, both sides lie in the same one.
      for (const { old, next } of kept) {
        const isIn = UNCHANGED.map(([i, j]) => [old.start <= i && i < old.end, next.start <= j && j < next.end]);
        expect(isIn.filter(([before, after]) => before !== after)).toEqual([]);
      }
    }),
    { numRuns: tries(2_000) },
  );
});

it("takes in what lies wholly within, and refuses what lies across", () => {
  const proven = new ProvenLines(HUNKS);
  const one = { old: { start: 9, end: 10 }, next: { start: 10, end: 11 } };
  expect(proven.allows(one)).toBe(true);
  proven.add(one);
  expect(proven.allows({ old: { start: 8, end: 12 }, next: { start: 9, end: 13 } })).toBe(true);
  expect(proven.allows({ old: { start: 10, end: 11 }, next: { start: 9, end: 10 } })).toBe(false);
  expect(proven.allows({ old: { start: 9, end: 11 }, next: { start: 11, end: 13 } })).toBe(false);
  expect(proven.allows({ old: { start: 3, end: 8 }, next: { start: 3, end: 8 } })).toBe(false);
});
