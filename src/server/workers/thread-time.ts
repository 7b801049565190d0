import { readFileSync } from "node:fs";

/**
 * How much of a processor the calling thread has had, in milliseconds. What is bounded by it does not depend on what else the machine does: a text is read
 * on a busy one as far as on a quiet one. Where the system does not tell it, it is the clock.
 */
export const threadTime = {
  now(): number {
    try {
      return Number.parseInt(readFileSync("/proc/thread-self/schedstat", "latin1"), 10) / 1e6;
    } catch {
      return performance.now();
    }
  },
};

/** How much of a processor something may take, in milliseconds, from when it is asked about first: what goes before, such as compiling, does not count. */
export class Patience {
  private begun: number | null = null;
  private end = 0;

  constructor(private readonly most: number) {}

  /** Asked often, it costs nothing until that much time has passed by the clock. */
  isOver(): boolean {
    if (this.begun === null) {
      this.begun = threadTime.now();
      this.end = performance.now() + this.most;
    }
    return performance.now() > this.end && threadTime.now() - this.begun > this.most;
  }
}
