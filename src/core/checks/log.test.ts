import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { LONGEST_TAIL, lastLine, newIn, tailOf } from "./log";

describe("the end of a log", () => {
  it("stands without colours and titles, and as it was left where it was written over", () => {
    expect(tailOf("\u001b[1;32mok\u001b[0m 1\n")).toBe("ok 1\n");
    expect(tailOf("10 %\r20 %\r\u001b[K30 %\r\nnext")).toBe("30 %\nnext");
    expect(tailOf("\u001b]0;a title\u0007words")).toBe("words");
  });

  it("hides nothing that it does not take away: what does not show is written out", () => {
    expect(tailOf("a\u202eb\u0000c\u001b")).toBe("a⟨U+202E⟩b⟨U+0000⟩c⟨U+001B⟩");
  });

  it("is no longer than is kept, and begins with a whole line", () => {
    const lines = Array.from({ length: 5_000 }, (_, i) => `line ${i}`).join("\n");
    const tail = tailOf(lines);
    expect(tail.length).toBeLessThanOrEqual(LONGEST_TAIL);
    expect(tail).toMatch(/^line \d+\n/);
    expect(tail.endsWith("line 4999")).toBe(true);
  });

  it("never shows a control character, whatever came", () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom("\u001b", "[", "]", "3", "m", "\r", "\n", "\u0007", "a", "\u0085") }),
        (text) => {
          expect(tailOf(text)).not.toMatch(/[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/);
        },
      ),
    );
  });

  it("tells what is new since it was looked at, however much of its beginning went meanwhile", () => {
    expect(newIn("", "one\n")).toBe("one\n");
    expect(newIn("one\ntwo\n", "one\ntwo\nthree\n")).toBe("three\n");
    expect(newIn("one\ntwo\n", "two\nthree\n")).toBe("three\n");
    expect(newIn("one\ntwo\n", "nine\n")).toBe("nine\n");
    fc.assert(
      fc.property(fc.array(fc.nat(), { minLength: 1 }), fc.nat(), fc.nat(), (numbers, seen, cut) => {
        // Lines that are all different, so that there is one answer.
        const lines = numbers.map((n, i) => `${i} ${n}\n`);
        const end = seen % (lines.length + 1);
        const begin = cut % (end + 1);
        if (begin === end && end > 0) return;
        expect(newIn(lines.slice(0, end).join(""), lines.slice(begin).join(""))).toBe(lines.slice(end).join(""));
      }),
    );
  });

  it("has a last line that says something", () => {
    expect(lastLine("one\n  two  \n\n\n")).toBe("two");
    expect(lastLine("")).toBe("");
  });
});
