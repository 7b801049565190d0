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

/** So long nobody has asked anything when it is begun, in milliseconds: who has started a server to ask it something at once waits for nothing else. */
const PAUSE = 1_000;

/**
 * Asks a server that was just started for what others will ask first, one after the other, so that they do not wait for it. Ends when `isAsked` says that
 * somebody asks already. `word` is what the header {@link OWN} says.
 */
export async function loadAhead(address: string, word: string, isAsked: () => boolean): Promise<void> {
  for (const path of ASKED_FIRST) {
    await setTimeout(path === ASKED_FIRST[0] ? PAUSE : 0, null, { ref: false });
    if (isAsked()) return;
    const answer = await fetch(`${address}${path}`, { redirect: "manual", headers: { [OWN]: word } });
    await answer.body?.cancel();
  }
}
