import { expect, it } from "vitest";
import { compareFiles } from "../diff/compare";
import { makeReading, type ReadFile } from "./reading";
import { renameFacts } from "./rename-facts";

const went = (oldPath: string | null, path: string, copy = false, attribute: boolean | null = null) => ({
  change: { oldPath, path, copy },
  attribute,
});
const saysOf = (...changes: ReturnType<typeof went>[]) =>
  [...renameFacts(changes)].map(([at, { says }]) => `${at}: ${says}`);

it("says what a file is called now, each time", () => {
  expect(
    saysOf(went("src/tide.test.ts", "src/tide.tests.ts"), went("a.js", "a.txt"), went("deploy", "b/deploy.off")),
  ).toEqual([
    "0: It was tide.test.ts and is tide.tests.ts: what looks for files by their names may see another.",
    "1: It was a.js and is a.txt: another kind of file by its name.",
    "2: It was deploy and is b/deploy.off: another kind of file by its name.",
  ]);
});

it("says once that files went from one folder to another, with what lies in it", () => {
  const folder = [went("src/a.ts", "lib/a.ts"), went("src/b/c.ts", "lib/b/c.ts"), went("src/b/d/e.ts", "lib/b/d/e.ts")];
  const others = [went(".checks/all.yml", "notes/all.yml"), went("a.ts", "src/x/a.ts"), went("src/y/b.ts", "b.ts")];
  expect(saysOf(...folder, ...others)).toEqual([
    "0: It went from src/ to lib/: what looks for files by their places may see another. So did 2 more files.",
    "3: It went from .checks/ to notes/: what looks for files by their places may see another.",
    "4: It went from the top to src/x/: what looks for files by their places may see another.",
    "5: It went from src/y/ to the top: what looks for files by their places may see another.",
  ]);
});

it("tells folders apart by their whole names, and says nothing of copies and of what stayed", () => {
  expect(saysOf(went("a/b.ts", "c/b.ts", true), went(null, "c/d.ts"))).toEqual([]);
  expect(saysOf(went("a/xb/f.ts", "a/b/f.ts"), went("a/b/f.ts", "a/xb/f.ts"))).toHaveLength(2);
  expect(saysOf(went("x/a/f.ts", "y/a/f.ts"), went("x/b/f.ts", "z/b/f.ts"))).toHaveLength(2);
});

it("says it at the first that is not marked as generated", () => {
  expect(saysOf(went("src/a.js", "lib/a.js", false, true), went("src/b.js", "lib/b.js"))).toEqual([
    "1: It went from src/ to lib/: what looks for files by their places may see another.",
  ]);
});

it("leaves to read that two texts changed their names", () => {
  const text = (says: string) => new TextEncoder().encode(says);
  const file = (oldPath: string, path: string, says: string): ReadFile => ({
    change: {
      ...{ path, oldPath, copy: false, similarity: 1 },
      ...{ oldId: says, newId: says, oldMode: 0o100644, newMode: 0o100644 },
    },
    comparison: compareFiles(text(says), text(says)),
    ...{ old: [says], next: [says], attribute: null },
  });
  const { toRead, files } = makeReading([
    file("rules/allow.yml", "rules/deny.yml", "mirela"),
    file("rules/deny.yml", "rules/allow.yml", "nobody"),
  ]);
  expect([toRead, files.map((one) => one.toRead)]).toEqual([2, [1, 1]]);
});
