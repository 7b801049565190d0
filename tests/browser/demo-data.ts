import { spawn } from "node:child_process";
import { existsSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout } from "node:timers/promises";
import type { TestProject } from "vitest/node";

declare module "vitest" {
  interface ProvidedContext {
    /** Where the demo is made: see {@link demoData}. */
    demo: string;
  }
}

/** How making it ended: 0 when all went well. */
const endOf = (folder: string, status: 0 | 1) => join(folder, `ended-${status}`);

/** Makes the demo's data once for all files of browser tests, beside the tests that come before: each takes a copy. */
export default function makeOnce(project: TestProject): () => void {
  const root = process.env.LENS_ROOT ?? project.config.root;
  const folder = mkdtempSync(join(tmpdir(), "lens-demo-"));
  const code = 'import("./dist/demo.mjs").then(({ makeDemo }) => makeDemo(process.argv[1], {}))';
  const child = spawn(process.execPath, ["-e", code, join(folder, "data")], {
    ...{ cwd: root, stdio: ["ignore", "ignore", "inherit"] },
    env: { ...process.env, LENS_ROOT: root, LENS_LOG: process.env.LENS_LOG ?? "silent" },
  });
  child.once("exit", (status) => existsSync(folder) && writeFileSync(endOf(folder, status === 0 ? 0 : 1), ""));
  project.provide("demo", folder);
  return () => {
    child.kill();
    rmSync(folder, { recursive: true, force: true });
  };
}

/** A data folder with the demo in it, to be copied, once it is made. */
export async function demoData(folder: string): Promise<string> {
  while (!existsSync(endOf(folder, 0))) {
    if (existsSync(endOf(folder, 1))) throw new Error("The demo’s data could not be made.");
    await setTimeout(100);
  }
  return join(folder, "data");
}
