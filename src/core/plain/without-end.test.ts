import fc from "fast-check";
import { expect, it } from "vitest";
import { withoutEnd } from "./without-end";

it("an end is taken away whole, and nothing else, however long what looks like one stands within", () => {
  const text = fc.array(fc.constantFrom("a", " ", "\t", "\r"), { maxLength: 10 }).map((signs) => signs.join(""));
  const asked = fc.property(text, (line) => {
    expect(withoutEnd(line, " \t")).toBe(line.replace(/[ \t]+$/, ""));
  });
  fc.assert(asked);
  const long = `${" ".repeat(2_000_000)}x`;
  expect(withoutEnd(`${long} \t`, " \t")).toBe(long);
});
