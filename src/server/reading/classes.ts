import { addTo } from "@/core/plain/grouped";
import type { AlikePlace } from "@/core/quiet/alike";
import type { MovePlace } from "@/core/quiet/kinds/moved";
import type { FileReading, Reading } from "@/core/quiet/whole-reading";
import type { AlikeChange, FileClasses, MoveEnd, SidedEnd } from "@/core/views/api";
import type { AppContext } from "../app/context";
import { readingOf } from "./reading";
import type { ReadStates } from "./states";

/** The quiet lines of one file of a reading, with what they refer to. */
export async function classesOf(
  app: AppContext,
  folder: string,
  points: ReadStates,
  path: string,
): Promise<FileClasses> {
  const reading = await readingOf(app, folder, points);
  const { files, moves, replacements, echoes } = reading;
  const { byPath, alike } = placesIn(reading);
  const at = byPath.get(path) ?? -1;
  const file = at < 0 ? undefined : files[at];
  const answer: FileClasses = {
    runs: file?.runs.filter((run) => run.class !== "read") ?? [],
    moves: {},
    replacements: {},
    echoes: {},
    echoed: echoedBy(files, echoes, at),
    alike: alikeIn(files, alike.get(at) ?? []),
  };
  const end = (side: MovePlace, old: boolean): MoveEnd => {
    const { path: now, oldPath } = files[side.file];
    return { path: old ? (oldPath ?? now) : now, start: side.start + 1, end: side.end, within: side.within };
  };
  for (const { class: kind, ref } of answer.runs) {
    if (kind === "moved")
      answer.moves[ref] = {
        from: end(moves[ref].from, true),
        to: end(moves[ref].to, false),
        edited: moves[ref].edited,
      };
    if (kind === "repeated") answer.replacements[ref] = replacements[ref];
    if (kind === "echo") {
      const { file: at, old, next, times, names } = echoes[ref];
      const place = { file: at, within: null };
      const [before, after] = [end({ ...place, ...old }, true), end({ ...place, ...next }, false)];
      answer.echoes[ref] = { old: before, next: after, times, names };
    }
  }
  return answer;
}

/** Where the files of a reading are in it, and of each which of its changes stand elsewhere as well. */
interface Places {
  byPath: Map<string, number>;
  alike: Map<number, { places: readonly AlikePlace[]; n: number }[]>;
}

const known = new WeakMap<Reading, Places>();

/** Looked for once in a reading, and not once for each of its files. */
function placesIn(reading: Reading): Places {
  let found = known.get(reading);
  if (!found) {
    found = { byPath: new Map(reading.files.map(({ path }, at) => [path, at])), alike: new Map() };
    for (const places of reading.alike)
      for (const [n, { file }] of places.entries()) addTo(found.alike, file, { places, n });
    known.set(reading, found);
  }
  return found;
}

/** The changes of one file that stand elsewhere as well, by where they stand in it. */
function alikeIn(
  files: readonly FileReading[],
  own: readonly { places: readonly AlikePlace[]; n: number }[],
): AlikeChange[] {
  const end = ({ file, old, next, within }: AlikePlace): SidedEnd => {
    const { path, oldPath } = files[file];
    return next.end > next.start
      ? { path, side: "new", start: next.start + 1, end: next.end, within }
      : { path: oldPath ?? path, side: "old", start: old.start + 1, end: old.end, within };
  };
  return own
    .map(({ places, n }): AlikeChange => {
      const near = (step: number) => end(places[(n + step + places.length) % places.length]);
      const first = places.slice(0, MOST_PLACES).map(end);
      return { at: n + 1, of: places.length, here: end(places[n]), next: near(1), previous: near(-1), places: first };
    })
    .sort((a, b) => a.here.start - b.here.start);
}

/** So many places of one change are named beside it. */
const MOST_PLACES = 50;

/** So many places are named that are read along with a file. */
const MOST_ECHOES = 12;

/** Where lines of one file are echoed: a place for each file and stretch, and how many echoes there are in all. */
function echoedBy(files: readonly FileReading[], echoes: Reading["echoes"], at: number): FileClasses["echoed"] {
  const many = echoes.reduce((sum, { file, times }) => sum + (file === at ? times : 0), 0);
  const places = new Map<string, FileClasses["echoed"]["places"][number]>();
  for (const { path, oldPath, runs } of many > 0 ? files : []) {
    for (const { class: kind, ref, side, start, end } of runs) {
      if (kind !== "echo" || echoes[ref].file !== at) continue;
      const name = `${path} ${ref}`;
      // Where it stands by now, or for what only went, where it stood.
      const known = places.get(name);
      if (known?.side === "new" || (!known && places.size >= MOST_ECHOES)) continue;
      places.set(name, { path: side === "old" ? (oldPath ?? path) : path, side, start: start + 1, end, within: null });
    }
  }
  return { places: [...places.values()], many };
}
