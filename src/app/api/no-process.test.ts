import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { delimiter, join } from "node:path";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { newest } from "@/core/review/state";
import { value } from "@/server/testing/bench";
import { story } from "@/server/testing/story";
import { Api } from "../testing/api";

const it = story();

/**
 * A server grows to hundreds of megabytes, and starting git took two fifths of its time. Here a git that notes what it was started with stands before the real
 * one, for this process and for all that it starts. What is searched for in all of a tree is git's to find.
 */
let api: Api;
const place = mkdtempSync(join(tmpdir(), "lens-noting-"));
const noted = join(place, "noted");
const path = process.env.PATH ?? "";
const started = () => readFileSync(noted, "utf8").split("\n").slice(0, -1);

beforeAll(async () => {
  const real = path.split(delimiter).find((folder) => existsSync(join(folder, "git")));
  writeFileSync(join(place, "git"), `#!/bin/sh\necho "$*" >> ${noted}\nexec ${real}/git "$@"\n`, { mode: 0o755 });
  // Before there is any other thread: each has a copy of its own of where programs are.
  process.env.PATH = `${place}${delimiter}${path}`;
  api = await Api.set();
  value(await api.bench.open("ada", "quay", "pier"));
});
afterAll(async () => {
  process.env.PATH = path;
  await api.clear();
  rmSync(place, { recursive: true });
});

describe("what is read", () => {
  it("is told to the next reader without starting a process", async () => {
    const { bench } = api;
    const { folder, change } = await bench.change("quay", 1);
    const [repo, parts] = [{ repo: "quay" }, { repo: "quay", number: "1" }];
    const { head } = newest(change);
    const blob = await bench.git(folder, "rev-parse", "pier:a.ts");
    const was = await bench.git(folder, "rev-parse", "main:a.ts");
    const image = await bench.git(folder, "rev-parse", "pier:dot.png");
    const at = "/api/repos/{repo}/changes/{number}" as const;
    const reads: (() => Promise<unknown>)[] = [
      () => api.ask("GET /api/health", "nobody", {}),
      () => api.ask("GET /api/changes", "ben", { query: { query: "state:open" } }),
      () => api.ask("GET /api/find", "ben", { query: { words: "quay" } }),
      () => api.ask("GET /api/notices", "ben", {}),
      () => api.ask("GET /api/notices/count", "ben", {}),
      () => api.ask("GET /api/lists", "ben", {}),
      () => api.ask(`GET ${at}`, "ben", { parts }),
      () => api.ask(`GET ${at}`, "ben", { parts, query: { have: change.last } }),
      () => api.ask(`GET ${at}/counts`, "ben", { parts }),
      () => api.ask(`GET ${at}/classes`, "ben", { parts, query: { path: "a.ts" } }),
      () => api.ask(`GET ${at}/reading`, "ben", { parts, query: { whole: "" } }),
      () => api.ask(`GET ${at}/reading`, "ben", { parts, query: { from: `before:${head}`, to: `at:${head}` } }),
      () => api.ask(`GET ${at}/progress`, "ben", { parts }),
      () => api.ask(`GET ${at}/sizes`, "ben", { parts }),
      () => api.ask(`GET ${at}/gate`, "ben", { parts, query: { verdict: "approve" } }),
      () => api.ask(`GET ${at}/findings`, "ben", { parts }),
      () => api.ask(`GET ${at}/wordings`, "ben", { parts }),
      () => api.ask(`GET ${at}/logs`, "ben", { parts }),
      () => api.ask(`GET ${at}/commits`, "ben", { parts, query: { revision: "r1" } }),
      () => api.ask(`GET ${at}/origins`, "ben", { parts, query: { path: "a.ts" } }),
      () => api.ask(`GET ${at}/left-alone`, "ben", { parts, query: {} }),
      () => api.ask("GET /api/repos/{repo}/files", "ben", { parts: repo, query: { old: was, new: blob } }),
      () =>
        api.ask("GET /api/repos/{repo}/colours", "ben", { parts: repo, query: { old: was, new: blob, path: "a.ts" } }),
      () => api.ask("GET /api/repos/{repo}/definitions", "ben", { parts: repo, query: { id: blob, path: "a.ts" } }),
      () => api.ask("GET /api/repos/{repo}/image", "ben", { parts: repo, query: { id: image } }),
      () => api.ask("GET /api/repos/{repo}/tree", "ben", { parts: repo, query: { at: head } }),
      () => api.ask("GET /api/repos/{repo}/labels", "ben", { parts: repo }),
      () => api.ask("GET /api/repos/{repo}/rules", "ben", { parts: repo }),
    ];
    // This one is noticed.
    writeFileSync(noted, "");
    await bench.git(folder, "rev-parse", "HEAD");
    expect(started()).toHaveLength(1);
    const startedBy = async () => {
      writeFileSync(noted, "");
      for (const read of reads) await read();
      return started();
    };
    await startedBy();
    // Of what was prepared meanwhile for others, something may still have been under way.
    await expect.poll(startedBy).toEqual([]);
  });
});
