import { expect, it } from "vitest";
import { conditionsOf } from "./conditions";

it("knows what stands behind each branch of a condition", () => {
  expect(conditionsOf(["#if A", "x", "#elif B", "y", "#else", "z", "#endif", "w"])).toEqual([
    ...["", "#if A", "", "not #if A, #elif B", "", "not #if A, #elif B", "", ""],
  ]);
  // One that goes on over several lines is all of them, however long.
  const long = (end: string) =>
    conditionsOf(["#if A && \\", `    ${"B && ".repeat(50)}\\`, `    ${end}`, "x", "#endif"]);
  expect(long("C")[3]).toMatch(/^#if A && B && .* && C$/);
  expect(long("C")[3]).not.toBe(long("D")[3]);
  expect(conditionsOf(["#if A", "#if B", "x", "#endif", "y", "#endif"])).toEqual([
    ...["", "#if A", "#if A and #if B", "#if A", "#if A", ""],
  ]);
  const deep = conditionsOf(Array.from({ length: 20_000 }, (_, n) => `#if A${n}`));
  expect(Math.max(...deep.map(({ length }) => length))).toBeLessThan(400);
  const wide = conditionsOf(
    Array.from({ length: 2_000 }, (_, n) => `#${n % 40 > 20 ? "el" : ""}if ${"A".repeat(5_000)}${n}`),
  );
  expect(Math.max(...wide.map(({ length }) => length))).toBeLessThan(5_000);
});
