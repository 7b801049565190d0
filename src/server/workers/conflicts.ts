import { isBinary, readText } from "@/core/diff/text";
import { conflictsBetween } from "@/core/merge/conflicts";
import { counted, shortened } from "@/core/plain/words";
import { bare } from "@/core/suggest/suggestion";
import type { ConflictView } from "@/core/views/keeping-view";
import type { Objects } from "./carrying";

/** In files of at most this size, in bytes and in lines, places are looked for. */
const LARGEST = 2 * 1024 * 1024;
const MOST_LINES = 50_000;
/** So many places of one are shown, with so many lines of each side, cut where they are very long. */
const MOST_PLACES = 100;
const MOST_SHOWN = 200;
const LONGEST = 1_000;

/** The contents of a file that both sides of a merge changed; null where there is none. */
export interface ConflictsTask {
  base: string | null;
  target: string | null;
  source: string | null;
}

/** Where two changes of a file meet, or why no places are shown. */
export async function conflictsOf(
  task: ConflictsTask,
  objects: Objects,
): Promise<Pick<ConflictView, "places" | "why">> {
  const [base, target, source] = await Promise.all(
    [task.base, task.target, task.source].map((id) => linesOf(objects, id)),
  );
  if (base === LONG || target === LONG || source === LONG)
    return { places: [], why: "It is too long for its places to be looked for here." };
  if (!target || !source) {
    const gone = target === null && source === null ? "both" : target === null ? "the target" : "the source";
    const why = base ? `One changed it, and ${gone} has it no more or not as text.` : "It cannot be shown as text.";
    return { places: [], why };
  }
  const all = conflictsBetween(base ?? [], target, source);
  const places = all.slice(0, MOST_PLACES).map((place) => ({
    line: place.ours[0] + 1,
    base: shownLines(base ?? [], place.base),
    target: shownLines(target, place.ours),
    source: shownLines(source, place.theirs),
  }));
  if (places.length === 0) return { places, why: "Its name, mode or place was changed by both." };
  const shown = `${counted(all.length, "place")}, of which the first ${MOST_PLACES} are shown`;
  return { places, why: all.length > MOST_PLACES ? shown : null };
}

function shownLines(lines: readonly string[], [start, end]: readonly [number, number]): string[] {
  const shown = lines.slice(start, Math.min(end, start + MOST_SHOWN)).map((line) => shortened(bare(line), LONGEST));
  return end - start > MOST_SHOWN ? [...shown, `… and ${counted(end - start - MOST_SHOWN, "more line")}`] : shown;
}

/** Of a file that is too large. */
const LONG = Symbol("long");

/** The lines of a text; null where there is none, or what there is is no text. */
async function linesOf(objects: Objects, id: string | null): Promise<string[] | null | typeof LONG> {
  const size = id === null ? null : await objects.size(id);
  if (id === null || size === null) return null;
  if (size > LARGEST) return LONG;
  const bytes = await objects.read(id);
  const lines = !bytes || isBinary(bytes) ? null : readText(bytes).lines;
  return lines && lines.length > MOST_LINES ? LONG : lines;
}
