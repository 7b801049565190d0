import { SUBMODULE } from "@/core/diff/tree";
import { done, type Outcome } from "@/core/plain/outcome";
import { finderOf } from "@/core/reading/finding/finder";
import type { FoundPlace, SearchEnd, Sought } from "@/core/reading/finding/search";
import type { AppContext } from "../app/context";
import { readingOf } from "./reading";
import type { ReadStates } from "./states";

/**
 * Finds words in the changed lines of a reading, in the whole of its files, or in all files of its later state; `told` hears of places as they are
 * found, in their order.
 */
export async function searchReading(
  app: AppContext,
  folder: string,
  points: ReadStates,
  sought: Sought,
  told: (places: FoundPlace[]) => void,
  signal: AbortSignal,
): Promise<Outcome<SearchEnd>> {
  const finder = finderOf(sought.words, sought.as);
  if (!finder.ok) return finder;
  if (sought.where === "everywhere")
    return done(await app.workers.searchTree({ folder, commit: points.to, sought }, told, signal));
  const { files } = await readingOf(app, folder, points);
  const searched = files.map(({ path, oldId, oldMode, newId, newMode, runs }) => ({
    path,
    runs,
    oldId: oldMode === SUBMODULE ? null : oldId,
    newId: newMode === SUBMODULE ? null : newId,
  }));
  return done(await app.workers.search({ folder, files: searched, sought }, told, signal));
}
