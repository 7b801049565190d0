import { type Mention, mentionsIn } from "../../definitions/mentions";
import { addTo, groupedBy } from "../../plain/grouped";
import type { ClassedFile } from "../classes";
import { finderOf } from "../names";

/** A whole definition at the top of a file that went to another one, both by their places in the list. */
export interface Departure {
  name: string;
  from: number;
  to: number;
}

/** One whose name lines of its file go on to use that did not change: the first of them, in the new state, 1-based. */
export interface NameLeft extends Departure {
  line: number;
}

/** So much of a line is looked at, in UTF-16 units. */
const LONGEST_LINE = 20_000;
/** Of so many names in a file it is asked by the grammar how they are used; of more, words are taken for uses. */
const MOST_ASKED = 50;

/**
 * Names that are used where their definition went away from, while no added line says where they come from now: something else of that name takes its place there,
 * such as what all of another module was imported for, and no line tells. By the places of the files.
 */
export function namesLeft(files: readonly ClassedFile[], departures: readonly Departure[]): Map<number, NameLeft[]> {
  const left = new Map<number, NameLeft[]>();
  for (const [at, gone] of groupedBy(departures, ({ from }) => from)) {
    const used = usedIn(files[at], new Set(gone.map(({ name }) => name)));
    for (const departure of gone) {
      const line = used.get(departure.name);
      if (line !== undefined) addTo(left, at, { ...departure, line });
    }
  }
  return left;
}

/** Of some names those that unchanged lines use and that no added one names, with the first of those lines. */
function usedIn(file: ClassedFile, names: ReadonlySet<string>): Map<string, number> {
  const { next, hunks } = file;
  const added = new Uint8Array(next.length);
  for (const { newStart, newEnd } of hunks) added.fill(1, newStart, newEnd);
  const used = new Map<string, number>();
  const find = finderOf(names);
  for (const [line, text] of next.entries()) {
    if (added[line]) continue;
    find(text.slice(0, LONGEST_LINE), (name) => {
      if (!used.has(name)) used.set(name, line + 1);
    });
  }
  // What changed is taken apart already.
  const syntax = used.size > 0 ? file.syntax("new") : null;
  for (const name of [...used.keys()].slice(0, MOST_ASKED)) {
    const isSaid = ({ line, kind }: Mention) => added[line] === 1 && (kind === "code" || kind === "import");
    if (mentionsIn(next, name, syntax).some(isSaid)) used.delete(name);
  }
  const whole = used.size > 0 ? (file.detailed()?.next ?? null) : null;
  for (const name of [...used.keys()].slice(0, MOST_ASKED)) {
    const isUse = ({ line, kind, member }: Mention) => added[line] === 0 && kind === "code" && !member;
    const first = mentionsIn(next, name, whole).find(isUse);
    if (first) used.set(name, first.line + 1);
    else used.delete(name);
  }
  return used;
}
