import { AsyncLocalStorage } from "node:async_hooks";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { letsGoOf } from "~/tests/let-go";
import { ObjectReader } from "./objects";
import { outside } from "./outside";
import { git, gitEnvironment } from "./run";
import { startThrough } from "./starter/through";

let folder: string;
let blob: string;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), "lens-outside-"));
  await git(null, ["init", "--quiet", "--bare", folder]);
  const { stdout } = await git(folder, ["hash-object", "-w", "--stdin"], { input: "quay" });
  blob = stdout.toString().trim();
});
afterAll(() => rmSync(folder, { recursive: true }));

describe("what outlives a request", () => {
  it("is begun outside of it", () => {
    const requests = new AsyncLocalStorage<string>();
    requests.run("one", () => {
      expect(outside(() => requests.getStore())).toBeUndefined();
      expect(requests.getStore()).toBe("one");
    });
  });

  it("leads to it no more: the reader of a repository that goes on", async () => {
    const reader = new ObjectReader(folder);
    expect(await letsGoOf(() => reader.read(blob))).toBe(true);
    expect(String(await reader.read(blob))).toBe("quay");
    reader.close();
  });

  it("leads to it no more: the small process that starts git", async () => {
    const version = () =>
      new Promise<void>((resolve, reject) =>
        startThrough(
          { args: ["--version"], env: gitEnvironment(), input: "" },
          { out: () => undefined, err: reject, ended: () => resolve(), failed: reject },
        ),
      );
    expect(await letsGoOf(version)).toBe(true);
  });
});
