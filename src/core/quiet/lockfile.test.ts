import { expect, it } from "vitest";
import { readTexts } from "./read-texts";

const hash = (letter: string) => `h1:${letter.repeat(43)}=`;
const sums = (names: readonly string[], letter: string) =>
  `${names.map((name) => `${name} v1.0.0 ${hash(letter)}`).join("\n")}\n`;
const lockOf = (names: readonly string[]) =>
  readTexts({ "go.sum": { old: sums(names, "A"), next: sums(names, "B") } }, () => null).files[0];

it("tells what is odd one by one, and how much more there is of it, and leaves all of it to read", () => {
  const names = Array.from({ length: 300 }, (_, n) => `harbour.example/m${String(n).padStart(3, "0")}`);
  const { lock, toRead } = lockOf(names);
  expect(lock?.concerns).toHaveLength(101);
  expect(lock?.concerns[99]).toContain("m099 v1.0.0 has another hash");
  expect(lock?.concerns[100]).toContain("200 times more");
  expect(toRead).toBe(600);
});

it("sums up nothing where a name is longer than any registry takes", () => {
  const { lock, toRead } = lockOf(["harbour.example/a", `harbour.example/${"m".repeat(1_000)}`]);
  expect(lock).toBeNull();
  expect(toRead).toBe(4);
});
