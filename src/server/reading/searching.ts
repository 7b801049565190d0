import { SUBMODULE } from "@/core/diff/tree";
import { type Found, type FoundPlace, findIn, MOST_FOUND, mindsCapitals, type Sought } from "@/core/reading/search";
import { linesWith } from "@/git/grep";
import type { AppContext } from "../app/context";
import { readingOf } from "./reading";
import type { ReadStates } from "./states";

/** Finds words in the changed lines of a reading, or in the whole of its files. */
export async function searchReading(
  app: AppContext,
  folder: string,
  points: ReadStates,
  sought: Sought,
  signal: AbortSignal,
): Promise<Found> {
  if (sought.where === "everywhere") return searchEverywhere(folder, points.to, sought, signal);
  const { files } = await readingOf(app, folder, points);
  const searched = files.map(({ path, oldId, oldMode, newId, newMode, runs }) => ({
    ...{ path, runs },
    oldId: oldMode === SUBMODULE ? null : oldId,
    newId: newMode === SUBMODULE ? null : newId,
  }));
  return app.workers.search({ folder, files: searched, sought }, signal);
}

/** The same in all files of a commit. */
async function searchEverywhere(folder: string, commit: string, sought: Sought, signal: AbortSignal): Promise<Found> {
  const within = { capitals: mindsCapitals(sought.words) };
  const { hits, more } = await linesWith(folder, commit, [sought.words], { most: MOST_FOUND, signal, within });
  const places = hits.flatMap(({ path, line, text }) =>
    findIn([text], "all", sought).map((found): FoundPlace => ({ ...found, path, line, side: "new" })),
  );
  return { places, more, searched: new Set(places.map(({ path }) => path)).size };
}
