import { afterEach, describe, expect, it, vi } from "vitest";
import { Patience, threadTime } from "./thread-time";

afterEach(() => {
  vi.restoreAllMocks();
});

describe("the time of a thread", () => {
  it("goes on while it works, and stands while it waits", async () => {
    const before = threadTime.now();
    for (const end = performance.now() + 200; performance.now() < end; );
    const worked = threadTime.now() - before;
    expect(worked).toBeGreaterThan(0);
    const begun = threadTime.now();
    await new Promise((resolve) => setTimeout(resolve, 300));
    // Others run on this thread meanwhile, but not all the time.
    expect(threadTime.now() - begun).toBeLessThan(300);
  });
});

describe("patience", () => {
  it("is over when a thread has worked that long, and not since others had the processor", () => {
    const clocks = { wall: 1_000, thread: 10 };
    vi.spyOn(performance, "now").mockImplementation(() => clocks.wall);
    const asked = vi.spyOn(threadTime, "now").mockImplementation(() => clocks.thread);
    const patience = new Patience(100);
    // What went before the first question does not count.
    clocks.wall += 5_000;
    expect(patience.isOver()).toBe(false);
    clocks.wall += 90;
    expect(patience.isOver()).toBe(false);
    expect(asked).toHaveBeenCalledTimes(1);
    clocks.wall += 60_000;
    clocks.thread += 100;
    expect(patience.isOver()).toBe(false);
    clocks.thread += 1;
    expect(patience.isOver()).toBe(true);
  });
});
