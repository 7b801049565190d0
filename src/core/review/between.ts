import { canonical } from "../doors/ledger/canonical";
import type { ReviewEvent } from "./events";
import { evolve, replay } from "./evolve";
import type { ChangeSet } from "./state";

/**
 * Why an entry cannot take the place in a log that its id gives it, in a sentence; null where it can. It was decided by how things stand now; put in front of
 * what others did since, it must not change what that meant: reviews name revisions by their numbers, and whoever asked for a merge asked for what was there.
 *
 * @param events the log of one change set, in order; `entry` is not in it
 */
export function whyNotBetween(events: readonly ReviewEvent[], entry: ReviewEvent): string | null {
  const at = events.findIndex(({ id }) => id > entry.id);
  if (at < 0) return null;
  const decided = evolve(replay(events), entry);
  const placed = replay(events.toSpliced(at, 0, entry))!;
  if (canonical(whatCounts(decided)) === canonical(whatCounts(placed))) return null;
  return "It would come before what was done here since, and change what that meant.";
}

/** What others rely on that an earlier entry could take from them, or give another meaning. */
function whatCounts({ state, target, settled, revisions, threads, leftOut, mergeAsked }: ChangeSet) {
  const taken = threads.flatMap((thread) =>
    thread.suggestions.flatMap((made) => (made.taken ? [[thread.id, made.id, made.taken.revision]] : [])),
  );
  return { state, target, settled, revisions, taken, leftOut: leftOut.map(({ id }) => id), mergeAsked };
}
