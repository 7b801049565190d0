import { afterEach, expect, it, vi } from "vitest";
import { RunningLog } from "./running-log";

afterEach(() => void vi.useRealTimers());

it("tells what was written last as soon as it ends, and the rest once a second at most", async () => {
  vi.useFakeTimers();
  const told: string[] = [];
  const log = new RunningLog(
    async (text) => void told.push(text),
    () => undefined,
  );
  for (const text of ["", "a", "ab"]) log.hear(text);
  await vi.advanceTimersByTimeAsync(999);
  expect(told).toEqual([""]);
  await vi.advanceTimersByTimeAsync(1);
  expect(told).toEqual(["", "ab"]);
  log.hear("abc");
  // No second goes by.
  await log.end();
  expect(told).toEqual(["", "ab", "abc"]);
});

it("goes on after one that could not be told", async () => {
  vi.useFakeTimers();
  const failed: unknown[] = [];
  const told: string[] = [];
  const tell = async (text: string) => {
    if (text === "a") throw new Error("no room");
    told.push(text);
  };
  const log = new RunningLog(tell, (error) => failed.push(error));
  log.hear("a");
  log.hear("ab");
  await log.end();
  expect(told).toEqual(["ab"]);
  expect(failed).toHaveLength(1);
});
