import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { headingsIn, headText } from "./scopes";

const piece = fc.constantFrom("a", " ", "\t", "\u00a0", "#", "{", "(", ":", "[", ")", "  ");
const text = fc.array(piece, { maxLength: 12 }).map((parts) => parts.join(""));
const blanks = `a${" ".repeat(2_000_000)}`;

describe("what a line says that opens something", () => {
  it("is the line without what opens it and the space around that", () => {
    const asked = fc.property(text, (line) => {
      expect(headText(line)).toBe(line.trim().replace(/\s*[{([:]\s*$/, ""));
    });
    fc.assert(asked);
    expect(headText(`${blanks}b {`)).toBe(`${blanks}b`);
  });

  it("of a heading is its text without the signs at its end", () => {
    const asked = fc.property(text, (line) => {
      const [heading] = headingsIn([`## x${line}`]);
      expect(heading).toEqual({ line: 0, rank: 2, text: `x${line}`.replace(/\s*#*\s*$/, "") });
    });
    fc.assert(asked);
    expect(headingsIn([`# ${blanks}# b`])[0].text).toBe(`${blanks}# b`);
  });
});
