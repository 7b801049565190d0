import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { TestProject } from "vitest/node";

declare module "vitest" {
  interface ProvidedContext {
    /** A data folder with the demo in it, to be copied. */
    demoData: string;
  }
}

/** Makes the demo's data once for all files of browser tests: each takes a copy. */
export default async function makeOnce(project: TestProject): Promise<() => void> {
  process.env.LENS_ROOT ??= project.config.root;
  process.env.LENS_LOG ??= "silent";
  const folder = mkdtempSync(join(tmpdir(), "lens-demo-"));
  const data = join(folder, "data");
  const { makeDemo } = await import(join(process.env.LENS_ROOT, "dist/demo.mjs"));
  await makeDemo(data, {});
  project.provide("demoData", data);
  return () => rmSync(folder, { recursive: true, force: true });
}
