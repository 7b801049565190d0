import { setTimeout } from "node:timers/promises";

/**
 * What a reviewer asks for first, in that order. What stands behind an address is loaded when it is asked for first, which takes up to half a second of the only
 * thread that answers; it is loaded for whoever asks as nobody, and for what is not there, as well.
 */
export const ASKED_FIRST = [
  "/sign-in",
  "/",
  "/r/-/c/1",
  ...["", "/reading", "/yardstick", "/progress", "/commits", "/counts", "/events"].map(
    (part) => `/api/repos/-/changes/1${part}`,
  ),
  ...["/files", "/colours"].map((part) => `/api/repos/-${part}`),
  ...["/api/notices/count", "/api/sign-in", "/api/desk/events"],
];

/** The header that tells requests of the server itself from those of others. */
export const OWN = "x-own";

/** So long after its start nothing is loaded, in milliseconds: who has started a server to ask it something at once waits for nothing else. */
const PAUSE = 1_000;
/** How often it is looked whether others have had what they asked for, in milliseconds. */
const LOOKED_AT_EVERY = 100;
/** So long is the first quiet moment waited for, in milliseconds: by then others have asked for what is to be loaded. */
const WITHIN = 60_000;

/**
 * Asks a server that was just started for what others will ask first, one after the other, so that they do not wait for it: only while `isQuiet` says
 * that nobody is waiting for anything, such as while somebody types a password. `word` is what the header {@link OWN} says.
 */
export async function loadAhead(address: string, word: string, isQuiet: () => boolean, within = WITHIN): Promise<void> {
  const end = performance.now() + within;
  await setTimeout(PAUSE, null, { ref: false });
  for (const path of ASKED_FIRST) {
    while (!isQuiet()) {
      if (performance.now() > end) return;
      await setTimeout(LOOKED_AT_EVERY, null, { ref: false });
    }
    const answer = await fetch(`${address}${path}`, { redirect: "manual", headers: { [OWN]: word } });
    await answer.body?.cancel();
  }
}
