import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { compareFiles } from "../diff/compare";
import { diffLines } from "../diff/lines";
import { Enclosing, enclosingBlock, enclosingScopes, scopesIn } from "../diff/scopes";
import { readView } from "../diff/view";
import { ClassedFile, type LineClass } from "../quiet/classes";
import { placeCards } from "./margin";
import {
  ADDED,
  FOLD,
  foldRows,
  GAP,
  type Interval,
  indexRows,
  layRows,
  newLineNear,
  nextDifference,
  REMOVED,
  rowOfLine,
  SAME,
  sameRow,
} from "./rows";
import { segmentLine } from "./segments";
import { selectionOf } from "./selection";

const lines = fc.array(fc.constantFrom("a", "b", "c", "d", ""), { maxLength: 50 });
const intervals = fc.array(
  // An empty interval opens nothing, and may lie within a gap.
  fc.tuple(fc.nat(50), fc.integer({ min: 1, max: 20 })).map(([from, size]): Interval => [from, from + size]),
  { maxLength: 3 },
);

describe("rows", () => {
  it("are found again by their line when others come and go around them", () => {
    fc.assert(
      fc.property(lines, lines, intervals, intervals, (old, next, some, others) => {
        const hunks = diffLines(old, next);
        const before = layRows(hunks, next.length, some, 3);
        const after = layRows(hunks, next.length, [...some, ...others], 3);
        for (let row = 0; row < before.count; row++) {
          const there = sameRow(before, row, after);
          // With more opened, every row that showed a line still shows it; hidden ones may be shown by now.
          expect([before.old[row], before.next[row]]).toEqual([after.old[there], after.next[there]]);
          const back = sameRow(after, there, before);
          expect(back).toBe(row);
        }
        // And a line that is hidden again is found where it is hidden.
        for (let row = 0; row < after.count; row++) {
          const there = sameRow(after, row, before);
          const [line, first] =
            after.next[row] >= 0 ? [after.next[row], before.next[there]] : [after.old[row], before.old[there]];
          const size = before.kind[there] === GAP ? before.hidden[there] : 1;
          expect(first <= line && line < first + size).toBe(true);
        }
        expect(sameRow(before, -1, after)).toBe(-1);
      }),
    );
  });

  it("show every line of both texts once and in order, or hide it in a gap that says how many", () => {
    fc.assert(
      fc.property(lines, lines, intervals, fc.nat(4), (old, next, opened, context) => {
        const rows = layRows(diffLines(old, next), next.length, opened, context);
        const seenOld: number[] = [];
        const seenNew: number[] = [];
        for (let row = 0; row < rows.count; row++) {
          const kind = rows.kind[row];
          const size = kind === GAP ? rows.hidden[row] : 1;
          expect(size).toBeGreaterThan(0);
          for (let i = 0; i < size; i++) {
            if (kind !== ADDED) seenOld.push(rows.old[row] + i);
            if (kind !== REMOVED) seenNew.push(rows.next[row] + i);
            if (kind === SAME || kind === GAP) expect(old[rows.old[row] + i]).toBe(next[rows.next[row] + i]);
          }
          if (kind === GAP) {
            for (const [from, to] of opened) expect(rows.next[row] >= to || rows.next[row] + size <= from).toBe(true);
            expect(row === 0 || rows.kind[row - 1] !== GAP).toBe(true);
          }
        }
        expect(seenOld).toEqual(old.map((_, i) => i));
        expect(seenNew).toEqual(next.map((_, j) => j));
      }),
    );
  });

  it("fold quiet lines without losing one, never one that is to be read or kept in sight", () => {
    fc.assert(
      fc.property(
        lines,
        lines,
        fc.array(fc.constantFrom("read", "moved", "repeated", "blank", "nested"), { minLength: 120, maxLength: 120 }),
        fc.nat(60),
        (old, next, classes, kept) => {
          const hunks = diffLines(old, next);
          const file = new ClassedFile("a.ts", old, next, hunks);
          for (const i of old.keys()) file.set("old", i, classes[i] as LineClass, i % 2);
          for (const j of next.keys()) file.set("new", j, classes[j + 60] as LineClass, j % 2);
          const runs = file.runs().filter((run) => run.class !== "read");
          const rows = layRows(hunks, next.length, [], 3, runs);
          const folded = foldRows(rows, runs, (row) => row === kept);
          let at = 0;
          for (let row = 0; row < folded.count; row++) {
            const size = folded.kind[row] === FOLD ? folded.hidden[row] : 1;
            for (let r = at; r < at + size; r++) {
              if (folded.kind[row] === FOLD) {
                expect(r).not.toBe(kept);
                expect(rows.run[r]).toBeGreaterThanOrEqual(0);
                expect(runs[rows.run[r]]).toMatchObject({
                  class: runs[folded.run[row]].class,
                  ref: runs[folded.run[row]].ref,
                });
              } else
                expect([folded.kind[row], folded.old[row], folded.next[row]]).toEqual([
                  rows.kind[r],
                  rows.old[r],
                  rows.next[r],
                ]);
            }
            at += size;
          }
          expect(at).toBe(rows.count);
        },
      ),
    );
  });

  it("shows of statements in another block what stands next to its ends", () => {
    const old = Array.from({ length: 10 }, (_, n) => `hold(${n});`);
    const next = ["if (tide) {", ...old.map((line) => `  ${line}`), "}"];
    const hunks = diffLines(old, next);
    const file = new ClassedFile("a.ts", old, next, hunks);
    for (const i of old.keys()) {
      file.set("old", i, "nested");
      file.set("new", i + 1, "nested");
    }
    const runs = file.runs().filter((run) => run.class !== "read");
    const laid = layRows(hunks, next.length, [], 3, runs);
    const folded = foldRows(laid, runs, () => false);
    const shown = Array.from({ length: folded.count }, (_, row) => [folded.kind[row], folded.hidden[row]]);
    const [added, removed] = [
      [ADDED, 0],
      [FOLD, 10],
    ];
    expect(shown).toEqual([removed, added, added, added, added, [FOLD, 4], added, added, added, added]);
    // What is in sight anyway keeps nothing else there.
    expect(foldRows(laid, runs, (row) => row === 11).count).toBe(folded.count);
    expect(foldRows(laid, runs, (row) => row === 15).count).toBe(folded.count + 3);
  });

  it("finds the row of a line, and the differences forwards and backwards alike", () => {
    const old = Array.from({ length: 60 }, (_, i) => `line ${i}`);
    const next = old.with(10, "changed").toSpliced(40, 0, "new");
    const hunks = diffLines(old, next);
    const rows = layRows(hunks, next.length, []);
    const first = nextDifference(rows, -1, 1);
    expect([rows.kind[first], rows.old[first]]).toEqual([REMOVED, 10]);
    const second = nextDifference(rows, first, 1);
    expect([rows.kind[second], rows.next[second]]).toEqual([ADDED, 40]);
    expect(nextDifference(rows, second, 1)).toBe(-1);
    expect(nextDifference(rows, second, -1)).toBe(first);
    expect(rows.next[rowOfLine(rows, "new", 41)]).toBe(41);
    expect(rowOfLine(rows, "new", 25)).toBe(-1);
    expect(newLineNear(hunks, 45)).toBe(46);
  });
});

describe("the text of a view", () => {
  it("gives back every line of both files", () => {
    fc.assert(
      fc.property(lines, lines, (a, b) => {
        const old = Buffer.from(a.map((line) => `${line}\n`).join(""));
        const next = Buffer.from(b.map((line) => `${line}\n`).join(""));
        const comparison = compareFiles(old, next);
        const removed = comparison.hunks.flatMap((hunk) => a.slice(hunk.oldStart, hunk.oldEnd)).join("\n");
        const view = readView({ comparison, text: b.join("\n"), removed, untold: null });
        expect(view.next).toEqual(b);
        expect(a.map((_, i) => view.old(i))).toEqual(a);
      }),
    );
  });
});

describe("the margin", () => {
  it("never lets two cards overlap, never puts one above its line, and moves none without need", () => {
    const card = fc.record({ wants: fc.nat(500), height: fc.integer({ min: 1, max: 120 }) });
    fc.assert(
      fc.property(fc.array(card, { maxLength: 12 }), (shapes) => {
        const cards = shapes.map((shape, i) => ({ ...shape, id: `${i}` }));
        const tops = placeCards(cards, 8);
        const placed = cards.map((c) => ({ ...c, top: tops.get(c.id)! })).sort((a, b) => a.top - b.top);
        for (const [i, c] of placed.entries()) {
          const floor = i === 0 ? Number.NEGATIVE_INFINITY : placed[i - 1].top + placed[i - 1].height + 8;
          expect(c.top).toBe(Math.max(c.wants, floor));
        }
      }),
    );
  });
});

describe("the index of rows", () => {
  it("knows of every line what is found by looking for it, shown or not", () => {
    fc.assert(
      fc.property(lines, lines, intervals, (old, next, opened) => {
        const rows = layRows(diffLines(old, next), next.length, opened);
        const index = indexRows(rows);
        for (const [side, text] of [
          ["old", old],
          ["new", next],
        ] as const)
          for (let line = 0; line < text.length; line++)
            expect(index[side].get(line) ?? -1).toBe(rowOfLine(rows, side, line));
      }),
    );
  });
});

describe("cards with one attended to", () => {
  const card = fc.record({ wants: fc.nat(400), height: fc.integer({ min: 10, max: 120 }) });
  it("has it at its line when those above find room, lets none overlap, and none above the page", () => {
    fc.assert(
      fc.property(fc.array(card, { minLength: 1, maxLength: 10 }), fc.nat(9), (shapes, n) => {
        const cards = shapes.map((shape, i) => ({ ...shape, id: `${i}` }));
        const chosen = cards[n % cards.length];
        const tops = placeCards(cards, 8, chosen.id);
        const placed = cards.map((c) => ({ ...c, top: tops.get(c.id)! })).sort((a, b) => a.top - b.top);
        for (const [i, c] of placed.entries()) {
          expect(c.top).toBeGreaterThanOrEqual(0);
          if (i > 0) expect(c.top).toBeGreaterThanOrEqual(placed[i - 1].top + placed[i - 1].height + 8);
        }
        const above = placed.slice(
          0,
          placed.findIndex(({ id }) => id === chosen.id),
        );
        const room = above.reduce((sum, { height }) => sum + height + 8, 0);
        expect(tops.get(chosen.id)).toBe(Math.max(chosen.wants, Math.min(room, placeCards(cards, 8).get(chosen.id)!)));
      }),
    );
  });
});

describe("scopes", () => {
  it("name what a line lies in, in languages with and without brackets", () => {
    const code = [
      "class Hold {",
      "  extend(until) {",
      "    if (late) {",
      "      refuse();",
      "    }",
      "",
      "    go();",
      "  }",
      "}",
      "done();",
    ];
    const of = (line: number) => enclosingScopes(code, line).map(({ text }) => text);
    expect(of(3)).toEqual(["class Hold", "extend(until)", "if (late)"]);
    expect(of(5)).toEqual(["class Hold", "extend(until)"]);
    expect(of(8)).toEqual(["class Hold"]);
    expect(of(9)).toEqual([]);
    expect(enclosingScopes(["def f(x):", "    for y in x:", "        go(y)"], 2).map(({ line }) => line)).toEqual([
      0, 1,
    ]);
    expect(enclosingScopes(["void f()", "{", "  go();", "}"], 2)).toEqual([{ line: 0, text: "void f()" }]);
  });

  it("are headings in prose, and the first row in tables", () => {
    const prose = ["# One", "text", "## Two", "```", "# no heading", "```", "### Three", "text", "## Four", "end"];
    expect(scopesIn("a.md", prose, 7).map(({ text }) => text)).toEqual(["One", "Two", "Three"]);
    expect(scopesIn("a.md", prose, 9).map(({ text }) => text)).toEqual(["One", "Four"]);
    expect(scopesIn("a.csv", ["ship,quay", "Alma,3", "Brig,4"], 2)).toEqual([{ line: 0, text: "ship,quay" }]);
  });

  it("give the whole block around a line, and the one around that", () => {
    const code = ["class A {", "  go() {", "    run();", "", "    stop();", "  }", "", "  end() {}", "}", "more();"];
    expect(enclosingBlock(code, 2)).toEqual([1, 6]);
    expect(enclosingBlock(code, 4)).toEqual([1, 6]);
    expect(enclosingBlock(code, 2, 1)).toEqual([0, 9]);
    expect(enclosingBlock(code, 9)).toBeNull();
    expect(enclosingBlock(["def f():", "    a()", "", "b()"], 1)).toEqual([0, 2]);
  });

  it("stand above the line, outermost first, each indented more than the one before", () => {
    const line = fc
      .tuple(fc.nat(6), fc.constantFrom("a", "b {", "}", "{", ""))
      .map(([n, text]) => " ".repeat(n) + text);
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 30 }), fc.nat(29), (lines, at) => {
        const scopes = enclosingScopes(lines, at);
        for (const [i, scope] of scopes.entries()) {
          expect(scope.line).toBeLessThan(lines.length);
          if (i > 0) expect(scope.line).toBeGreaterThanOrEqual(scopes[i - 1].line);
        }
        // Asked of a whole text at once, it is the same.
        const enclosing = new Enclosing(lines);
        for (let i = 0; i < lines.length; i++)
          expect(enclosing.heads(i)).toEqual(enclosingScopes(lines, i).map((scope) => scope.line));
      }),
    );
  });
});

describe("segments", () => {
  it("lose no character, and mark and colour exactly the given parts", () => {
    const flat = fc.array(fc.integer({ min: 1, max: 6 }), { maxLength: 6 });
    fc.assert(
      fc.property(fc.string({ maxLength: 30 }), flat, flat, (text, lengths, cuts) => {
        const runs = lengths.flatMap((length, i) => [length, i % 3]);
        let at = 0;
        const spans = cuts.slice(0, cuts.length & ~1).map((cut) => {
          at += cut;
          return at;
        });
        const segments = segmentLine(text, runs, spans);
        expect(segments.map((s) => s.text).join("")).toBe(text);
        const colours = lengths.flatMap((length, i) => Array<number>(length).fill(i % 3));
        let place = 0;
        for (const { text: piece, colour, marked } of segments) {
          for (let i = 0; i < piece.length; i++, place++) {
            expect(colour).toBe(colours[place] ?? 0);
            expect(marked).toBe(spans.some((_, s) => s % 2 === 0 && place >= spans[s] && place < spans[s + 1]));
          }
        }
      }),
    );
  });
});

describe("a selection", () => {
  it("holds exactly the lines of its side between two rows, in whichever order they are given", () => {
    fc.assert(
      fc.property(lines, lines, fc.nat(60), fc.nat(60), (old, next, a, b) => {
        const rows = layRows(diffLines(old, next), next.length, []);
        if (rows.count === 0) return;
        const [from, to] = [a % rows.count, b % rows.count];
        const selection = selectionOf(rows, from, to);
        if (rows.kind[to] === GAP) {
          expect(selection).toBeNull();
          return;
        }
        const side = rows.kind[to] === REMOVED ? "old" : "new";
        const numbers = side === "old" ? rows.old : rows.next;
        expect(selection?.side).toBe(side);
        for (let row = Math.min(from, to); row <= Math.max(from, to); row++) {
          if (rows.kind[row] === GAP || numbers[row] < 0) continue;
          expect(numbers[row] + 1).toBeGreaterThanOrEqual(selection!.start);
          expect(numbers[row] + 1).toBeLessThanOrEqual(selection!.end);
        }
        for (const end of [selection!.start, selection!.end]) {
          const row = rowOfLine(rows, side, end - 1);
          expect(row >= Math.min(from, to) && row <= Math.max(from, to)).toBe(true);
        }
      }),
    );
  });
});
