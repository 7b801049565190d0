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

it("hides nothing odd among much that is odd in another way", () => {
  const entry = (name: string, version: string, host: string, archive = name) => `${name}@^1.0.0:
  version "${version}"
  resolved "https://${host}/${archive}/-/${archive}-${version}.tgz#${"a".repeat(40)}"
  integrity sha512-${"a".repeat(86)}==
`;
  const names = Array.from({ length: 150 }, (_, n) => `m${String(n).padStart(3, "0")}`);
  const all = (of: (name: string) => string) => `# yarn lockfile v1\n\n\n${[...names, "tide"].map(of).join("\n")}`;
  const old = all((name) => entry(name, "1.0.0", "packages.example"));
  const next = all((name) =>
    name === "tide" ? entry(name, "1.1.0", "packages.example", "tyde") : entry(name, "1.1.0", "other.example"),
  );
  const { lock } = readTexts({ "yarn.lock": { old, next } }, () => null).files[0];
  expect(lock?.concerns).toHaveLength(102);
  expect(lock?.concerns[0]).toMatch(/^tide 1\.1\.0 .* does not fit/);
  expect(lock?.concerns[101]).toContain("50 times more");
});
