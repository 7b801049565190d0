import fc from "fast-check";
import { RE2JS } from "re2js";
import { expect, it } from "vitest";
import { certainIn, finderOf } from "./finder";
import type { As } from "./ways";

function find(words: string, as: As, line: string): string | null {
  const made = finderOf(words, as);
  if (!made.ok) throw new Error(made.refusal.reason);
  const place = made.value(line);
  return place && `${place.at} ${line.slice(place.at, place.at + place.length)}`;
}

it("finds words anywhere, or whole ones alone, and minds capitals where some are asked for", () => {
  expect(find("hold", "words", "upholding")).toBe("2 hold");
  expect(find("hold", "whole", "upholding a Hold")).toBe("12 Hold");
  expect(find("Hold", "whole", "hold on_Hold")).toBeNull();
  expect(find("hold(", "whole", "threshold( hold(")).toBe("11 hold(");
  expect(find("größe", "whole", "Fenstergröße Größe")).toBe("13 Größe");
});

it("finds what an expression fits, and refuses what is none with a sentence", () => {
  expect(find("h\\w+d\\(", "expression", "await HolD(slot)")).toBe("6 HolD(");
  expect(find("d$", "expression", "hold\r")).toBe("3 d");
  expect(find("H\\w+d", "expression", "hold")).toBeNull();
  expect(find("\\Wslot\\W", "expression", "(SLOT)")).toBe("0 (SLOT)");
  const reason = (expression: string) => {
    const made = finderOf(expression, "expression");
    return made.ok ? "" : made.refusal.reason;
  };
  expect(reason("(hold")).toMatch(/cannot be read: missing closing/);
  expect(reason("(?=hold)")).toMatch(/cannot be read/);
  expect(reason("((a{900}){900}){900}")).toMatch(/cannot be read/);
  expect(reason("a*")).toMatch(/fits where nothing stands/);
});

it("takes no longer for an expression that was made to take long", () => {
  const line = `${"a".repeat(2_000)}!`;
  for (const expression of ["(a|aa)+$", "(a+)+$", "(x+x+)+y", "(.*a){20}$"])
    expect(() => find(expression, "expression", line)).not.toThrow();
});

it("knows a piece that is in whatever an expression fits", () => {
  expect(certainIn("hold\\w+\\(slot")).toBe("(slot");
  expect(certainIn("holds?")).toBe("hold");
  expect(certainIn("ab+cd")).toBe("ab");
  expect(["a|b", "[hold]", "(hold)?", "\\d+", "\\x{41}", "(?i)hold", "\\Qhold\\E"].map(certainIn)).toEqual(
    Array.from({ length: 7 }, () => ""),
  );
  const piece = fc.constantFrom(
    "a",
    "b",
    "hold",
    ".",
    "\\.",
    "\\w",
    "[ab]",
    "[^a]",
    "(ab)",
    "b?",
    "a*",
    "a{0,2}",
    "b+",
    "\\b",
    "^",
    "[]a]",
    "x{2}",
  );
  fc.assert(
    fc.property(
      fc.array(piece, { minLength: 1, maxLength: 6 }),
      fc.string({ unit: fc.constantFrom("a", "b", "h", "o", "l", "d", ".", "x", "]"), maxLength: 30 }),
      (pieces, text) => {
        const expression = pieces.join("");
        const certain = certainIn(expression);
        const matcher = RE2JS.compile(expression).matcher(text);
        if (matcher.find()) expect(text).toContain(certain);
      },
    ),
    { numRuns: 2_000 },
  );
});
