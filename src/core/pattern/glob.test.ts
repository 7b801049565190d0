import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tries } from "../testing/tries";
import { glob } from "./glob";

/** The same by trying every way: right, and slow. */
function tried(pattern: string, text: string): boolean {
  if (pattern === "") return text === "";
  if (pattern === "**") return true;
  if (pattern.startsWith("**/")) {
    for (let at = text.indexOf("/"); at >= 0; at = text.indexOf("/", at + 1))
      if (tried(pattern.slice(3), text.slice(at + 1))) return true;
    return tried(pattern.slice(3), text);
  }
  if (pattern[0] === "*") {
    for (let at = 0; at <= text.length; at++) {
      if (within(pattern.slice(1), text.slice(at))) return true;
      if (text[at] === "/") return false;
    }
    return false;
  }
  if (text === "" || (pattern[0] === "?" ? text[0] === "/" : pattern[0] !== text[0])) return false;
  return pattern[0] === "/" ? tried(pattern.slice(1), text.slice(1)) : within(pattern.slice(1), text.slice(1));
}
/** In the middle of a part two stars mean what one does. */
function within(pattern: string, text: string): boolean {
  return tried(
    pattern.replace(/^\*+/, (stars) => stars[0]),
    text,
  );
}

describe("patterns of people", () => {
  it("fit what they are said to fit", () => {
    for (const [pattern, yes, no] of [
      ["main", ["main"], ["main2", "a/main", ""]],
      ["release/*", ["release/1", "release/"], ["release/1/x", "release"]],
      ["**/deep.ts", ["deep.ts", "a/deep.ts", "a/b/deep.ts"], ["xdeep.ts", "a/deep.tsx"]],
      ["a/**", ["a/b", "a/b/c"], ["a", "ab/c"]],
      ["a/**/z", ["a/z", "a/b/z", "a/b/c/z"], ["az", "a/zz"]],
      ["**", ["", "a", "a/b/c"], []],
      ["{demo,src}/*.{ts,tsx}", ["demo/a.ts", "src/b.tsx"], ["demo/a.js", "lib/a.ts"]],
      ["v[0-9].?", ["v1.x", "v0.0"], ["vx.1", "v1./", "v1."]],
      ["[!a]b", ["bb"], ["ab", "/b"]],
      ["{a,{b,c}d}", ["a", "bd", "cd"], ["b", "ad"]],
      ["a\\*b", ["a*b"], ["axb"]],
      ["(a|b)+", ["(a|b)+"], ["a", "ab"]],
    ] as [string, string[], string[]][]) {
      for (const text of yes) expect([pattern, text, glob(pattern)(text)]).toEqual([pattern, text, true]);
      for (const text of no) expect([pattern, text, glob(pattern)(text)]).toEqual([pattern, text, false]);
    }
  });

  it("answer as every way tried would", () => {
    const pattern = fc
      .array(fc.constantFrom("a", "b", "/", "*", "**/", "?"), { maxLength: 6 })
      .map((all) => all.join(""));
    const text = fc.array(fc.constantFrom("a", "b", "/"), { maxLength: 7 }).map((all) => all.join(""));
    fc.assert(
      fc.property(pattern, text, (p, t) => {
        const plain = p.replace(/\*{3,}/g, "**");
        expect(glob(plain)(t)).toBe(tried(plain, t));
      }),
      { numRuns: tries(3_000) },
    );
  });

  it("take steps in proportion to pattern and text, however the one is made to quarrel with the other", () => {
    let looked = 0;
    const charCodeAt = (at: number) => {
      looked++;
      return at === 4_999 ? 99 : 97;
    };
    const text = { length: 5_000, charCodeAt } as unknown as string;
    for (const pattern of [
      "*a*a*a*a*a*a*a*a*a*a*a*ab",
      "{a,a*}{a,a*}{a,a*}{a,a*}{a,a*}{a,a*}b",
      "**/**/**/**/**/**/b",
    ]) {
      looked = 0;
      expect(glob(pattern)(text)).toBe(false);
      // Each character is looked at once: nothing is tried again.
      expect(looked).toBeLessThanOrEqual(5_000);
    }
  });
});
