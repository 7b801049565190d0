import { addTo, groupedBy } from "../../plain/grouped";
import type { ClassedFile } from "../classes";

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

/** Words, but for those behind one dot: these belong to something else. */
const WORDS = /(?<![\p{L}\p{N}_$])(?<!(?<!\.\.)\.)[\p{L}_$][\p{L}\p{N}_$]*/gu;
const COMMENT_LINE = /^\s*(?:\/\/|#|\*|\/\*)/;
/** What says nothing of where a name comes from: texts, and comments behind code. */
const ASIDE = /"[^"]*"|'[^']*'|`[^`]*`|(?:\/\/|\/\*|\s#).*$/g;
/** So much of a line is looked at, in UTF-16 units. */
const LONGEST_LINE = 20_000;

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

/** Of some names those that unchanged lines use and no added one, with the first of those lines. */
function usedIn({ next, hunks }: ClassedFile, names: ReadonlySet<string>): Map<string, number> {
  const used = new Map<string, number>();
  const said = new Set<string>();
  let line = 0;
  const look = (until: number, isAdded: boolean) => {
    for (; line < until; line++) {
      if (COMMENT_LINE.test(next[line])) continue;
      const text = next[line].slice(0, LONGEST_LINE);
      for (const [word] of (isAdded ? text.replace(ASIDE, "") : text).matchAll(WORDS)) {
        if (!names.has(word)) continue;
        if (isAdded) said.add(word);
        else if (!used.has(word)) used.set(word, line + 1);
      }
    }
  };
  for (const { newStart, newEnd } of hunks) {
    look(newStart, false);
    look(newEnd, true);
  }
  look(next.length, false);
  for (const name of said) used.delete(name);
  return used;
}
