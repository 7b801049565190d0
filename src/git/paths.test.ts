import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { bytesOfPath, pathOf } from "./paths";

describe("paths", () => {
  const bytes = fc.oneof(
    fc.uint8Array({ minLength: 1, maxLength: 20, min: 1 }).map((array) => Buffer.from(array)),
    fc
      .array(fc.constantFrom("a", "\\", "\\x", "E9", "\\xE9", "\\x5C", "é", "/"), { minLength: 1 })
      .map((all) => Buffer.from(all.join(""))),
    fc
      .array(fc.constantFrom("a", "\\xE9", "\\", "\xe9", "x", "5C"), { minLength: 1 })
      .map((all) => Buffer.from(all.join(""), "latin1")),
  );
  it("have one text each, and every text leads back to its bytes", () => {
    fc.assert(
      fc.property(bytes, (path) => {
        expect(bytesOfPath(pathOf(path).path).equals(path)).toBe(true);
        const { rawPath } = pathOf(path);
        if (rawPath !== undefined) expect(Buffer.from(rawPath, "latin1").equals(path)).toBe(true);
      }),
      { numRuns: 2_000 },
    );
  });

  it("that look alike as bytes and as text are two", () => {
    const [byte, character, written] = [Buffer.from([0x63, 0xe9]), Buffer.from("cé"), Buffer.from("c\\xE9")].map(
      (path) => pathOf(path).path,
    );
    expect([byte, character, written]).toEqual(["c\\xE9", "cé", "c\\x5CxE9"]);
  });
});
