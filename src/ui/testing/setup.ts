import { cleanup, configure } from "@testing-library/react";
import { afterEach, vi } from "vitest";

// As the tests' own limit is: a moment of a busy machine is no failure.
configure({ asyncUtilTimeout: 50_000 });

const TIMERS = Symbol.for("earnest-lens.timers-of-tests");

/** What waits for its time on the page. What is let go of goes on trying to keep what it could not, and would do so on the page of another test. */
const waiting = timersBegun();

/** Noted once, though this is read anew for each file. */
function timersBegun(): Set<ReturnType<typeof setTimeout>> {
  const all = globalThis as { [TIMERS]?: Set<ReturnType<typeof setTimeout>> };
  if (all[TIMERS]) return all[TIMERS];
  const begun = new Set<ReturnType<typeof setTimeout>>();
  const { setTimeout: wait } = globalThis;
  const noted = (...given: Parameters<typeof wait>) => {
    const timer = wait(...given);
    begun.add(timer);
    return timer;
  };
  globalThis.setTimeout = Object.assign(noted, wait) as typeof wait;
  all[TIMERS] = begun;
  return begun;
}

/** A page of each test's own, though files share one: nothing is left of the test before, and nobody is asked but who the test says. */
afterEach(async () => {
  cleanup();
  vi.useRealTimers();
  // What is asked when the page is left is answered before the next one is there.
  await new Promise((turn) => setTimeout(turn, 0));
  for (const timer of waiting) clearTimeout(timer);
  waiting.clear();
  window.dispatchEvent(new Event("blur"));
  document.body.replaceChildren();
  window.history.replaceState(null, "", "/");
  window.localStorage.clear();
  window.sessionStorage.clear();
  vi.unstubAllGlobals();
});
