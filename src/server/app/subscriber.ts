import type { ReviewEvent } from "@/core/review/events";
import { eventsAfter, keepPlace, lastEvent, placeOf } from "@/store/log";
import type { AppContext } from "./context";

const AT_ONCE = 500;
/** Between tries, in milliseconds: from the first to the longest. A day's worth of tries, then it is given up, and said so. */
const FIRST_PAUSE = 5_000;
const LONGEST_PAUSE = 3_600_000;
const MOST_TRIES = 30;

/**
 * Follows the log under a name and does something for each event. It never loses its place: what fails is tried again, later each time, while
 * those that came after it go on. After a restart the place is that of the first that is not done, so some are done twice: `handle` has to
 * bear that.
 */
export class Subscriber {
  /** Places in the log that are done although one before them is not. */
  private readonly done = new Set<number>();
  private readonly failed = new Map<number, { tries: number; at: number }>();

  constructor(
    private readonly app: AppContext,
    private readonly name: string,
    private readonly handle: (event: ReviewEvent) => Promise<void>,
  ) {}

  /** Does what is to be done now. A subscriber that is new begins with what comes from now on. */
  async step(): Promise<void> {
    const { db } = this.app;
    const place = await placeOf(db, this.name);
    if (place === null) return keepPlace(db, this.name, await lastEvent(db));
    const events = await eventsAfter(db, place, AT_ONCE + this.done.size + this.failed.size);
    let next = place;
    let unbroken = true;
    for (const { position, event } of events) {
      if (!this.done.has(position) && (await this.attempt(position, event))) this.done.add(position);
      unbroken &&= this.done.has(position);
      if (!unbroken) continue;
      next = position;
      this.done.delete(position);
    }
    if (next !== place) await keepPlace(db, this.name, next);
  }

  /** Whether it is done with, be it done or given up. */
  private async attempt(position: number, event: ReviewEvent): Promise<boolean> {
    const before = this.failed.get(position);
    if (before && this.app.now() < before.at) return false;
    try {
      await this.handle(event);
      this.failed.delete(position);
      return true;
    } catch (error) {
      const tries = (before?.tries ?? 0) + 1;
      const about = { err: error, subscriber: this.name, event: event.id, tries };
      if (tries >= MOST_TRIES) {
        this.failed.delete(position);
        this.app.log.error(about, "what an event asks for could not be done, and is given up");
        return true;
      }
      const pause = Math.min(LONGEST_PAUSE, FIRST_PAUSE * 2 ** (tries - 1));
      this.failed.set(position, { tries, at: this.app.now() + pause });
      this.app.log.warn(about, "what an event asks for could not be done yet");
      return false;
    }
  }
}
