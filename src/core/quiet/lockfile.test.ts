import { expect, it } from "vitest";
import { isOlder } from "./kinds/lock/versions";
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

it("knows which version comes before another", () => {
  const inOrder = [
    "1.0.0-alpha",
    "1.0.0-alpha.1",
    "1.0.0-alpha.beta",
    "1.0.0-beta.2",
    "1.0.0-beta.11",
    "1.0.0",
    "1.2.9",
  ];
  const later = [...inOrder, "1.10.0", "v2.0.0+build.5"];
  for (const [n, one] of later.entries())
    for (const [m, other] of later.entries()) expect(isOlder(one, other), `${one} ${other}`).toBe(n < m);
  expect([isOlder("1.0.0+a", "1.0.0+b"), isOlder("a", "b"), isOlder("1.0", "latest")]).toEqual([false, false, false]);
});
