import { DEFINITIONS_ENGINE } from "@/core/definitions/definitions";
import { SUBMODULE } from "@/core/diff/tree";
import type { FileReading } from "@/core/quiet/whole-reading";
import type { LeftAloneView } from "@/core/views/around-view";
import { keepResults, keptResult } from "@/store/kept-by-use";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { readingOf } from "../reading/reading";
import type { ReadStates } from "../reading/states";
import { tryToKeep } from "../reading/worked-out";

/** In change sets of more files nothing is looked for. */
const MOST_FILES = 400;

const LEFT_ALONE = shelf<LeftAloneView>("left alone", 40);

/** What a change makes of definitions that are used where it leaves lines alone: kept from before, or looked for now. */
export async function leftAloneBy(app: AppContext, folder: string, points: ReadStates): Promise<LeftAloneView> {
  const answers = LEFT_ALONE(app);
  return answers.get(`${folder}\0${points.from}\0${points.to}\0${points.settings}`, async () => {
    const { from, to, settings } = points;
    const of = { engine: DEFINITIONS_ENGINE, from_commit: from, to_commit: to, settings_commit: settings };
    const kept = await keptResult(app.db, app.now(), "left_alone", of);
    if (kept !== null) return JSON.parse(kept);
    const found = await lookForLeftAlone(app, folder, points);
    const rows = [{ ...of, result: JSON.stringify(found) }];
    await tryToKeep(app, "left alone", keepResults(app.db, app.now(), "left_alone", rows));
    return found;
  });
}

async function lookForLeftAlone(app: AppContext, folder: string, points: ReadStates): Promise<LeftAloneView> {
  const { files } = await readingOf(app, folder, points);
  const isWritten = ({ generated, lock, binary }: FileReading) => !generated && !lock && !binary;
  // What changes nearly everything leaves little alone: that is not looked for.
  if (files.filter(isWritten).length > MOST_FILES) return { items: [], more: true };
  // Of what nobody wrote the lines count as changed, and what it defines is nobody's.
  const changed = files.map((file) => ({
    path: file.path,
    oldPath: file.oldPath ?? file.path,
    oldId: !isWritten(file) || file.copy || file.oldMode === SUBMODULE ? null : file.oldId,
    newId: !isWritten(file) || file.newMode === SUBMODULE ? null : file.newId,
    lines: file.runs.filter(({ side }) => side === "new").map(({ start, end }) => ({ start, end })),
  }));
  return app.workers.leftAlone({ folder, to: points.to, files: changed });
}
