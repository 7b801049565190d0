import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { Narrow } from "../../app/narrow";

const WITHIN = 10 * 60_000;
/** Wrong tries from one address, for whatever names, before it has to wait. */
const MOST_BY_ADDRESS = 30;
/** Wrong tries from one address for one name before it has to wait. */
const MOST_BY_BOTH = 6;
/** Wrong tries for one name, from wherever, before only addresses from which none came are let try. */
const MOST_BY_NAME = 20;
const MOST_KEPT = 50_000;
/** Verifying a password takes much of a processor and of memory: so many at once, and so many more may wait. */
const AT_ONCE = 2;
const MOST_WAITING = 20;

/**
 * Slows down who guesses. Tries are counted before they are verified, so that many at once count as many. A name is never locked: an address
 * from which no wrong try for it came is always let try, so that its owner can sign in while others guess. In memory: a restart forgives.
 */
export class SignInLimits {
  private readonly tries = new Map<string, number[]>();
  private readonly door = new Narrow(AT_ONCE, MOST_WAITING);

  /** Counts a try, or refuses it. */
  begin(name: string, address: string, now: number): Outcome<never> | null {
    const both = this.recent(`both ${address} ${name}`, now);
    const byAddress = this.recent(`from ${address}`, now);
    const byName = this.recent(`name ${name}`, now);
    const full =
      both.length >= MOST_BY_BOTH
        ? both
        : byAddress.length >= MOST_BY_ADDRESS
          ? byAddress
          : byName.length >= MOST_BY_NAME && both.length > 0
            ? both
            : null;
    if (full) {
      const minutes = Math.ceil((full[0] + WITHIN - now) / 60_000);
      return refuse(
        "too-many",
        `There were too many wrong tries from here. Try again in ${minutes <= 1 ? "a minute" : `${minutes} minutes`}, or from another machine.`,
      );
    }
    for (const key of keysOf(name, address)) this.keep(key, [...this.recent(key, now), now]);
    return null;
  }

  /** The try that was counted last was right. */
  right(name: string, address: string): void {
    for (const key of keysOf(name, address)) {
      const kept = this.tries.get(key);
      if (kept) this.keep(key, kept.slice(0, -1));
    }
    this.tries.delete(`both ${address} ${name}`);
  }

  /** Does the expensive part, a few at a time; refuses when too many wait for it. */
  async inTurn<T>(work: () => Promise<T>): Promise<Outcome<T>> {
    if (this.door.full) return refuse("too-many", "Many are signing in just now. Try again in a moment.");
    return done(await this.door.through(work));
  }

  private recent(key: string, now: number): number[] {
    return (this.tries.get(key) ?? []).filter((at) => at > now - WITHIN);
  }

  private keep(key: string, times: number[]): void {
    this.tries.delete(key);
    if (times.length > 0) this.tries.set(key, times);
    // The oldest goes, not all: filling the table forgives nobody who tried lately.
    if (this.tries.size > MOST_KEPT) this.tries.delete(this.tries.keys().next().value ?? "");
  }
}

function keysOf(name: string, address: string): string[] {
  return [`both ${address} ${name}`, `from ${address}`, `name ${name}`];
}
