import { availableParallelism } from "node:os";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { letsGoOf } from "~/tests/let-go";
import { troubleOf } from "../app/trouble";
import { startWorkers, TooBusy, TookTooMuch, type Workers } from "./workers";

/** As many as there are of a kind, whatever the machine. */
const THREADS = Math.max(2, Math.min(8, availableParallelism()));
/** Takes a thread half a second, and longer where others work, too. */
const LONG = Buffer.from(
  `<testsuite><testcase name="t"/><system-out>${"x".repeat(20_000_000)}</system-out></testsuite>`,
);

let workers: Workers;
beforeEach(() => {
  workers = startWorkers(process.env.LENS_ROOT ?? process.cwd());
});
afterEach(async () => {
  vi.restoreAllMocks();
  await workers.close();
});

describe("what waits for a thread", () => {
  it("does not yet take long: its time begins when it has one", async () => {
    const begun = vi.spyOn(AbortSignal, "timeout");
    const all = Array.from({ length: THREADS + 1 }, () => workers.report({ bytes: LONG, paths: null }));
    await vi.waitFor(() => expect(begun.mock.calls.length).toBeGreaterThanOrEqual(THREADS));
    expect(begun).toHaveBeenCalledTimes(THREADS);
    for (const { ok } of await Promise.all(all)) expect(ok).toBe(true);
    expect(begun).toHaveBeenCalledTimes(THREADS + 1);
  });

  it("is turned away where hundreds wait before it, and they are all done", async () => {
    const small = () => workers.report({ bytes: Buffer.from("a.ts:1: here"), paths: null });
    const busy = Array.from({ length: THREADS }, () => workers.report({ bytes: LONG, paths: null }));
    const waiting = Array.from({ length: 500 }, small);
    await expect(small()).rejects.toThrow(TooBusy);
    for (const { ok } of await Promise.all([...busy, ...waiting])) expect(ok).toBe(true);
    expect((await small()).ok).toBe(true);
  });

  it("is let go at once when nobody wants it any more, and takes nobody's turn", async () => {
    const busy = Array.from({ length: THREADS }, () => workers.report({ bytes: LONG, paths: null }));
    const left = new AbortController();
    const waiting = workers.report({ bytes: LONG, paths: null }, left.signal);
    const next = workers.report({ bytes: Buffer.from("a.ts:1: here"), paths: ["src/a.ts"] });
    left.abort(new Error("gone"));
    const first = await Promise.race([waiting.catch((error: Error) => error.message), ...busy]);
    expect(first).toBe("gone");
    expect(await next).toMatchObject({ ok: true, value: { findings: [{ path: "src/a.ts", line: 1 }] } });
    for (const { ok } of await Promise.all(busy)) expect(ok).toBe(true);
  });
});

it("leads no more to the request that a thread was begun in", async () => {
  const report = () => workers.report({ bytes: Buffer.from("a.ts:1: here"), paths: null });
  expect(await letsGoOf(report)).toBe(true);
  expect((await report()).ok).toBe(true);
});

it("is told in a sentence where its thread has no memory left, and others have a new one", async () => {
  const narrow = startWorkers(process.env.LENS_ROOT ?? process.cwd(), { maxOldGenerationSizeMb: 48 });
  const results = Array.from({ length: 300_000 }, (_, n) => ({ ruleId: `r${n}`, message: { text: "x" } }));
  const bytes = Buffer.from(JSON.stringify({ version: "2.1.0", runs: [{ results }] }));
  const error = await narrow.report({ bytes, paths: null }).then(
    () => null,
    (problem: unknown) => problem,
  );
  expect(error).toBeInstanceOf(TookTooMuch);
  expect(troubleOf(error)).toMatch(/more memory than/);
  expect((await narrow.report({ bytes: Buffer.from("a.ts:1: here"), paths: null })).ok).toBe(true);
  await narrow.close();
});
