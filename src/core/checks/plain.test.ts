import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { plainReport, readPlain } from "./plain";

const told = (text: string) =>
  readPlain(text).findings.map(({ path, line, level, message }) => [path, line, level, message]);

describe("a report of lines", () => {
  it("is read as compilers and tools print", () => {
    const text = [
      "src/tide.c:12:5: error: expected ';'",
      "src/tide.c:14: warning: unused variable",
      "./plan/hold.py:3:1: E302 expected 2 blank lines",
      "a.go:7: fatal error: no such file",
      "b.sh:2:3: note - quote this",
      "In file included from a.h:",
      "2 errors generated.",
      "",
    ].join("\r\n");
    expect(told(text)).toEqual([
      ["src/tide.c", 12, "error", "expected ';'"],
      ["src/tide.c", 14, "warning", "unused variable"],
      ["plan/hold.py", 3, "warning", "E302 expected 2 blank lines"],
      ["a.go", 7, "error", "no such file"],
      ["b.sh", 2, "note", "- quote this"],
    ]);
    expect(readPlain(text)).toMatchObject({ format: "plain", errors: 2, more: 0, tests: null });
  });

  it("is none where no line says a place", () => {
    for (const text of ["hello", "", "it rained at noon: 12", "a.ts:x: no"]) expect(plainReport(text)).toBeNull();
  });

  it("keeps so many findings and counts the others, and leads out of no tree", () => {
    const many = readPlain("a.c:1: error: x\n".repeat(1_200));
    expect([many.findings.length, many.more, many.errors]).toEqual([1_000, 200, 1_200]);
    expect(told("../../etc/passwd:1: error: look")[0][0]).toBeNull();
  });

  it("reads whatever is written, in time that grows with it alone", () => {
    fc.assert(fc.property(fc.string({ maxLength: 300 }), (text) => void readPlain(text)));
    expect(readPlain(`${":".repeat(200_000)}\n${"a".repeat(400_000)}:1: x`).findings).toEqual([]);
  });
});
