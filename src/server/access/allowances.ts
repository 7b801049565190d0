import { availableParallelism } from "node:os";
import { type Outcome, refuse } from "@/core/plain/outcome";
import { inFigures } from "@/core/plain/words";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { Narrow } from "../app/narrow";
import type { Person } from "./person";

const HOUR = 3_600_000;

/** What one person may do so often in an hour: enough for any work, and too little to fill a disk. */
export const HOURLY = {
  logs: { most: 20_000, what: "ends of logs" },
  reports: { most: 1_000, what: "reports of checks" },
  images: { most: 200, what: "images" },
} as const;

/** So many pages of one person hear of news at the same time. */
export const MOST_STREAMS = 30;
/** How many pages of each person listen. */
export const STREAMS = shelf<{ many: number }>("streams", 5_000);
/** So many notes that are not sent can one person have, over all change sets. */
export const MOST_UNSENT = 2_000;
/** So much can the images of one person take, in bytes. */
export const MOST_IMAGE_BYTES = 200 * 1024 * 1024;

const ALLOWANCES = shelf<{ since: number; many: number }>("allowances", 5_000);

/** Counts one more, or refuses it with a sentence. In memory: a restart forgives. */
export async function allow(
  app: AppContext,
  person: Person,
  action: keyof typeof HOURLY,
): Promise<Outcome<never> | null> {
  const { most, what } = HOURLY[action];
  const counted = await ALLOWANCES(app).get(`${action} ${person.id}`, async () => ({ since: app.now(), many: 0 }));
  if (app.now() - counted.since > HOUR) Object.assign(counted, { since: app.now(), many: 0 });
  if (counted.many >= most)
    return refuse("too-many", `${inFigures(most)} ${what} in an hour are the most for one person.`);
  counted.many++;
  return null;
}

/** How many tasks of one person may wait for the one that is being done. */
const MOST_WAITING = 8;

const NOBODY = refuse("too-many", "Nobody waits for this any more.");

const WAITING = shelf<{ many: number }>("waiting", 5_000);

/**
 * Does what takes long one after the other for each person, and a few at once for all: so that nobody's many keep others waiting. Refuses
 * when too many of theirs wait already; gives up its turn when who asked has gone.
 */
export async function inPersonsTurn<T>(
  app: AppContext,
  person: Person,
  signal: AbortSignal | null,
  work: () => Promise<Outcome<T>>,
): Promise<Outcome<T>> {
  const waiting = await WAITING(app).get(person.id, async () => ({ many: 0 }));
  if (waiting.many >= MOST_WAITING)
    return refuse("too-many", "Several things of yours are being worked out already. Try again in a moment.");
  waiting.many++;
  try {
    return await app.inTurn(`person ${person.id}`, async () => {
      if (signal?.aborted) return NOBODY;
      return (await gateOf(app)).through(work);
    });
  } catch (error) {
    if (signal?.aborted) return NOBODY;
    throw error;
  } finally {
    waiting.many--;
  }
}

/** Half of the processors: the others are for those who read. */
const AT_ONCE = Math.max(1, Math.floor(availableParallelism() / 2));

const NARROW = shelf<Narrow>("narrow", 1);

function gateOf(app: AppContext): Promise<Narrow> {
  return NARROW(app).get("", async () => new Narrow(AT_ONCE));
}
