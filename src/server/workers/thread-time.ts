import { openSync, readSync } from "node:fs";

/** Where the system tells the time of this thread, held open: it is asked for each text, and opening it costs more than reading it. */
let place: number | null = null;
const told = Buffer.alloc(64);

/**
 * How much of a processor the calling thread has had, in milliseconds. What is bounded by it does not depend on what else the machine does: a text is read
 * on a busy one as far as on a quiet one. Where the system does not tell it, it is the clock.
 */
export const threadTime = {
  now(): number {
    try {
      place ??= openSync("/proc/thread-self/schedstat", "r");
      return Number.parseInt(told.toString("latin1", 0, readSync(place, told, 0, told.length, 0)), 10) / 1e6;
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
