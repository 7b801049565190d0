import { readlinkSync } from "node:fs";
import { setPriority } from "node:os";

/** What a thread is told of itself when it begins. */
export interface ThreadKind {
  /** What it does takes long: it lets others go first. */
  givesWay: boolean;
}

/** How far behind others, from 0 for not at all to 19. */
const BEHIND = 10;

/**
 * Lets the calling thread have a processor when no other wants it: what takes seconds gives way to what somebody waits for. On Linux each thread has a priority of its own; where the
 * system tells no thread from its process, all stays as it is.
 *
 * @returns whether it was done
 */
export function giveWay(): boolean {
  try {
    const [, thread] = /\/task\/(\d+)$/.exec(readlinkSync("/proc/thread-self")) ?? [];
    if (!thread) return false;
    setPriority(Number(thread), BEHIND);
    return true;
  } catch {
    return false;
  }
}
