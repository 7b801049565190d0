import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { diffLines } from "../diff/lines";
import { changeMarks } from "./change-marks";
import { oneColumn } from "./columns";
import { ADDED, layRows, REMOVED } from "./rows";

const lines = fc.array(fc.constantFrom("a", "b", "c", "d", ""), { maxLength: 50 });

describe("marks beside the page", () => {
  it("stand where something changed, as many as asked for at most, and nowhere else", () => {
    fc.assert(
      fc.property(lines, lines, fc.integer({ min: 1, max: 30 }), (old, next, pieces) => {
        const rows = layRows(diffLines(old, next), next.length, [[0, next.length]], 3);
        const layout = oneColumn(rows);
        const marks = changeMarks(rows, layout, pieces);
        expect(marks.length).toBeLessThanOrEqual(pieces);
        const size = Math.max(1, Math.ceil(layout.count / pieces));
        for (let place = 0; place < layout.count; place++) {
          const changed = rows.kind[place] === ADDED || rows.kind[place] === REMOVED;
          const marked = marks.some(
            ({ from, to }) => from * layout.count <= place + 1e-6 && place < to * layout.count - 1e-6,
          );
          if (changed) expect(marked).toBe(true);
          if (size === 1) expect(marked).toBe(changed);
        }
        for (const { quiet } of marks) expect(quiet).toBe(false);
      }),
    );
  });

  it("tell what is quiet from what is to be read", () => {
    const runs = [{ side: "new" as const, start: 5, end: 10, class: "moved" as const, other: null, pair: -1 }];
    const next = Array.from({ length: 20 }, (_, i) => `line ${i}`);
    const old = next.filter((_, i) => (i < 5 || i >= 10) && i !== 15);
    const rows = layRows(diffLines(old, next), next.length, [[0, 20]], 3, runs as never);
    expect(changeMarks(rows, oneColumn(rows), 20)).toEqual([
      { from: 0.25, to: 0.5, quiet: true },
      { from: 0.75, to: 0.8, quiet: false },
    ]);
  });
});
