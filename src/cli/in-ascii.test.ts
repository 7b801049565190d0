import { runInNewContext } from "node:vm";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { inAscii } from "~/scripts/in-ascii.mjs";

/** What a script makes. */
const made = (script: string) => runInNewContext(script);

describe("a script in ASCII", () => {
  it("says the same in texts, patterns, names and remarks, behind backslashes, too", () => {
    const template = ["`ł$", "{größe}\\\\…`"].join("");
    const script = String.raw`
      /* größer … */ const größe = "…\…\\…😀", pattern = /^[–…](?:😀|é)$/u, loose = /\…/;
      [größe, pattern.test("–é"), pattern.test("…"), loose.test("…"), ${template}, { "ё": 1 }]`;
    const plain = inAscii(script);
    expect(plain).toMatch(/^[\0-\x7f]*$/);
    expect(plain).not.toBe(script);
    expect(made(plain)).toEqual(made(script));
    expect(made(plain)[1]).toBe(true);
  });

  it("is the same text, whatever stands in it", () => {
    const unit = fc.constantFrom("a", "\\\\", "\\n", "…", "\\…", "é", "😀", "\u2028", " ");
    fc.assert(
      fc.property(fc.string({ unit, maxLength: 12 }), (text) => {
        const script = `"${text}"`;
        expect(inAscii(script)).toMatch(/^[\0-\x7f]*$/);
        expect(made(inAscii(script))).toBe(made(script));
      }),
    );
  });
});
