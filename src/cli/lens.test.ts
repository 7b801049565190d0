import { spawnSync } from "node:child_process";
import { copyFileSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "vitest";

const dist = fileURLToPath(new URL("../../dist/", import.meta.url));
const ASKED =
  'import("./lens.mjs").then(async ({ main, isKept }) => { console.log(isKept); await main(["completion", "bash"]); })';
let folder: string;
let cache: string;

const start = (...flags: string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [...flags, "-e", ASKED], { cwd: folder });
  expect(stderr.toString()).toBe("");
  expect(status).toBe(0);
  const [isKept, ...words] = stdout.toString().split("\n");
  return { isKept: isKept === "true", words: words.join("\n") };
};

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "lens-dist-"));
  const [named] = /commands-\w+/.exec(readFileSync(join(dist, "lens.mjs"), "utf8"))!;
  expect(readdirSync(dist)).toContain(`${named}.cache`);
  for (const name of ["lens.mjs", `${named}.cjs`, `${named}.cache`]) copyFileSync(join(dist, name), join(folder, name));
  symlinkSync(join(dist, "../node_modules"), join(folder, "node_modules"));
  cache = join(folder, `${named}.cache`);
});
afterAll(() => rmSync(folder, { recursive: true }));

describe("the commands as they were built", () => {
  it("are started from what the engine made of them, and are the same from an engine told to work otherwise", () => {
    const { isKept, words } = start();
    expect(isKept).toBe(true);
    expect(words).toContain("-F _lens lens");
    expect(start("--no-opt")).toEqual({ isKept: false, words });
  });

  it("are started without it as well: where it is damaged, that of something else, or gone", () => {
    const { words } = start();
    const whole = readFileSync(cache);
    for (const bad of [whole.subarray(0, whole.length / 2), Buffer.alloc(0), Buffer.from("no cache at all")]) {
      writeFileSync(cache, bad);
      expect(start()).toEqual({ isKept: false, words });
    }
    rmSync(cache);
    expect(start()).toEqual({ isKept: false, words });
  });
});

describe("what is bundled beside the commands", () => {
  it("begins: the bench, which loads all that the server computes with", () => {
    const asked = 'import("./bench.mjs").then(async ({ main }) => { process.exitCode = await main(["--help"]); })';
    const { status, stdout, stderr } = spawnSync(process.execPath, ["-e", asked], { cwd: dist });
    expect(stderr.toString()).toBe("");
    expect(status).toBe(0);
    expect(stdout.toString()).toContain("bench mutations");
  });
});
