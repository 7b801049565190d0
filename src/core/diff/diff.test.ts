import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tries } from "../testing/tries";
import { compareFiles } from "./compare";
import { applyHunks } from "./hunk";
import { pairLines } from "./line-pairs";
import { diffLines } from "./lines";
import { decode, isBinary, joinLines, readText, splitLines } from "./text";
import { compareWords } from "./words";

/** Few distinct lines make for many ways to match; indentation and blanks give the sliding something to do. */
const line = fc.constantFrom(
  "",
  "  ",
  "{",
  "}",
  "  return x;",
  "a",
  "b",
  "\ta",
  "a\r",
  "if (ready) {",
  "é",
  "\u{1f6a2}",
);
const lines = fc.array(line, { maxLength: 60 });

/** The length of the longest common subsequence, by the textbook table. */
function commonLength(a: readonly string[], b: readonly string[]): number {
  let above = new Array<number>(b.length + 1).fill(0);
  for (const left of a) {
    const row = [0];
    for (const [j, right] of b.entries()) row.push(left === right ? above[j] + 1 : Math.max(above[j + 1], row[j]));
    above = row;
  }
  return above[b.length];
}

describe("lines", () => {
  it("carried out on the old lines gives the new ones", () => {
    fc.assert(
      fc.property(lines, lines, (old, next) => {
        expect(applyHunks(old, next, diffLines(old, next))).toEqual(next);
      }),
      { numRuns: tries(1500) },
    );
  });

  it("keeps hunks in order, apart and never empty, and the lines between them equal", () => {
    fc.assert(
      fc.property(lines, lines, (old, next) => {
        let i = 0;
        let j = 0;
        for (const [at, hunk] of diffLines(old, next).entries()) {
          const gap = hunk.oldStart - i;
          expect(gap).toBe(hunk.newStart - j);
          expect(gap).toBeGreaterThanOrEqual(at === 0 ? 0 : 1);
          expect(hunk.oldEnd - hunk.oldStart + hunk.newEnd - hunk.newStart).toBeGreaterThan(0);
          expect(old.slice(i, hunk.oldStart)).toEqual(next.slice(j, hunk.newStart));
          i = hunk.oldEnd;
          j = hunk.newEnd;
        }
        expect(old.slice(i)).toEqual(next.slice(j));
      }),
    );
  });

  it("calls equal what is equal, and finds as few changes as can be when lines are frequent (Myers) ", () => {
    const two = fc.array(fc.constantFrom("x", "y"), { minLength: 70, maxLength: 200 });
    fc.assert(
      fc.property(two, two, (old, next) => {
        expect(diffLines(old, old)).toEqual([]);
        const many = [...Array<string>(70).fill("x"), ...Array<string>(70).fill("y")];
        const left = [...old, ...many, "end"];
        const right = [...next, ...many.toReversed(), "tail"];
        const changed = diffLines(left, right).reduce((sum, h) => sum + h.oldEnd - h.oldStart, 0);
        expect(left.length - changed).toBe(commonLength(left, right));
      }),
      { numRuns: tries(60) },
    );
  });

  it("stays within bounds on 100,000 lines of few kinds", () => {
    let seed = 7;
    const random = () => {
      seed = (seed * 1103515245 + 12345) & 0x7fffffff;
      return seed / 0x7fffffff;
    };
    const make = (kinds: number) =>
      Array.from({ length: tries(100_000) }, () => `line ${Math.floor(random() * kinds)}`);
    for (const kinds of [2, 5, 500]) {
      const old = make(kinds);
      const next = make(kinds);
      // As one text: to compare so many lines one by one takes longer than to find them.
      expect(applyHunks(old, next, diffLines(old, next)).join("\n") === next.join("\n")).toBe(true);
    }
  });

  it("puts an added function between functions, not across them", () => {
    const one = ["function a() {", "  go();", "}", ""];
    const two = ["function b() {", "  go();", "}", ""];
    const three = ["function c() {", "  go();", "}"];
    const hunks = diffLines([...one, ...three], [...one, ...two, ...three]);
    expect(hunks).toEqual([{ oldStart: 4, oldEnd: 4, newStart: 4, newEnd: 8 }]);
  });
});

describe("text", () => {
  it("splits and joins to the same text", () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom("a", "\n", "\r", "é") }), (text) => {
        const split = splitLines(text);
        expect(joinLines(split.lines, split.missingFinalNewline)).toBe(text);
      }),
    );
  });

  it("reads any bytes without loss, and says in which encoding", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (bytes) => {
        const { text, encoding } = decode(bytes);
        const back =
          encoding === "utf-8"
            ? Buffer.from(text, "utf8")
            : encoding === "utf-16le"
              ? Buffer.from(text, "utf16le")
              : encoding === "utf-16be"
                ? Buffer.from(text, "utf16le").swap16()
                : Buffer.from(text, "latin1");
        expect(Buffer.compare(back, Buffer.from(bytes))).toBe(0);
      }),
    );
    expect(decode(Buffer.from("\ufeffquay", "utf16le")).encoding).toBe("utf-16le");
    expect(decode(Buffer.from([0x62, 0xe6, 0x6e])).text).toBe("bæn");
  });

  it("tells binary by a NUL in the first 8,000 bytes only", () => {
    expect(isBinary(Buffer.from([1, 0, 2]))).toBe(true);
    expect(isBinary(Buffer.concat([Buffer.alloc(8000, 97), Buffer.from([0])]))).toBe(false);
    expect(isBinary(Buffer.from("\ufeffab", "utf16le"))).toBe(false);
  });
});

describe("words", () => {
  it("marks exactly what differs: without the marked parts both lines read the same", () => {
    const token = fc.constantFrom("berth", "slot", " ", "(", ")", ".", "tide", "42");
    // Long ones are compared another way, and without the words that only one of them has.
    const odd = fc.integer({ min: 0, max: 99 }).map((n) => `pile${n}`);
    const long = fc.array(fc.oneof(token, odd, token), { minLength: 70, maxLength: 140 });
    const line = fc.oneof(fc.array(token), long);
    fc.assert(
      fc.property(line, line, (a, b) => {
        const marks = compareWords(a.join(""), b.join(""));
        if (!marks) return;
        expect(unmarked(a.join(""), marks.oldSpans)).toBe(unmarked(b.join(""), marks.newSpans));
      }),
    );
  });

  it("pairs a line with the one it became, not with the one at the same place", () => {
    const old = "const limit = window.closes;\n";
    const next = "// The tide decides.\n\nconst limit = window.closesAt;\n";
    const [pair, ...more] = compareFiles(Buffer.from(`x\n${old}y\n`), Buffer.from(`x\n${next}y\n`)).pairs;
    expect(more).toEqual([]);
    expect(pair).toEqual({ old: 1, next: 3, oldSpans: [21, 27], newSpans: [21, 29] });
  });

  it("pairs lines so that no other pairing in order shares more of their text", () => {
    // Each character is a word, and they stand in one order: so what two lines share is what is kept when they are compared.
    const line = fc.subarray([..."([{<+*;"], { minLength: 1 });
    const some = fc.array(line, { minLength: 1, maxLength: 4 });
    const worth = (a: readonly string[], b: readonly string[]) => {
      const alike = (2 * a.filter((word) => b.includes(word)).length) / (a.length + b.length);
      return alike >= 0.4 ? alike : 0;
    };
    fc.assert(
      fc.property(some, some, (a, b) => {
        fc.pre(a.length * b.length > 1);
        const best = (i: number, j: number): number =>
          i === a.length || j === b.length
            ? 0
            : Math.max(best(i + 1, j), best(i, j + 1), worth(a[i], b[j]) + best(i + 1, j + 1));
        const hunk = { oldStart: 0, oldEnd: a.length, newStart: 0, newEnd: b.length };
        const [old, next] = [a, b].map((lines) => lines.map((tokens) => tokens.join("")));
        const pairs = pairLines(old, next, hunk);
        expect(pairs.reduce((sum, pair) => sum + worth(a[pair.old], b[pair.next]), 0)).toBeCloseTo(best(0, 0));
      }),
    );
  });

  function unmarked(text: string, spans: number[]): string {
    let result = "";
    let at = 0;
    for (let i = 0; i < spans.length; i += 2) {
      result += text.slice(at, spans[i]);
      at = spans[i + 1];
    }
    // White space between two marked words counts as marked with them, on one side perhaps only.
    return (result + text.slice(at)).replace(/\s+/g, "");
  }
});

describe("files", () => {
  it("counts a lost final newline as one changed line, and a binary as none", () => {
    expect(compareFiles(Buffer.from("a\nb\n"), Buffer.from("a\nb"))).toMatchObject({ added: 1, removed: 1 });
    expect(compareFiles(Buffer.from("a\n"), Buffer.from([0, 1]))).toMatchObject({ binary: true, added: 0 });
  });

  it("rebuilds the new file from the old one and the comparison", () => {
    const text = fc.array(line, { maxLength: 30 }).map((parts) => parts.join("\n"));
    fc.assert(
      fc.property(text, text, (a, b) => {
        const old = readText(Buffer.from(a));
        const next = readText(Buffer.from(b));
        const { hunks, newMissingNewline } = compareFiles(Buffer.from(a), Buffer.from(b));
        expect(joinLines(applyHunks(old.lines, next.lines, hunks), newMissingNewline)).toBe(b);
      }),
    );
  });
});
