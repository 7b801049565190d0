import { inFigures, shortened } from "../plain/words";
import type { NameLeft } from "../quiet/leaving/names-left";
import type { QuietEnd, Transfer } from "../quiet/leaving/quiet-ends";
import type { Caution } from "./caution";

const MOST_NAMED = 3;
/** So much is quoted of a name or a path, in UTF-16 units. */
const LONGEST = 80;

type PathOf = (file: number) => string;

/**
 * What is said of a file in which code left a named block for another, or came into one, without a line of code beside it that is to read; or which definitions left while
 * their names are used on: what moved is quiet, since nothing of it is new, and what runs it, or what is run in its place, is another.
 *
 * @example movedCode([{ end: "both", transfer, line: 3 }], [], pathOf)
 * // [{ kind: "moved-code", line: 3, says: "Code went from “handle” to “log”. …" }]
 */
export function movedCode(ends: readonly QuietEnd[], left: readonly NameLeft[], pathOf: PathOf): Caution[] {
  return [...(ends.length > 0 ? [elsewhere(ends, pathOf)] : []), ...(left.length > 0 ? [usedOn(left, pathOf)] : [])];
}

function elsewhere(ends: readonly QuietEnd[], pathOf: PathOf): Caution {
  const first = ends.toSorted((a, b) => (a.line ?? 0) - (b.line ?? 0));
  const told = [...new Set(first.map((end) => wayOf(end, pathOf)))];
  const says = `Code went ${few(told)}. No code beside its fold is to read: look whether it still runs when it has to.`;
  return { kind: "moved-code", says, line: first[0].line };
}

function usedOn(left: readonly NameLeft[], pathOf: PathOf): Caution {
  const first = left.toSorted((a, b) => a.line - b.line);
  const told = first.map(({ name, to }) => `“${shortened(name, LONGEST)}” went to ${shortened(pathOf(to), LONGEST)}`);
  const says = `${few(told)}, and lines that did not change use it on: look what they mean by it now.`;
  return { kind: "moved-code", says, line: first[0].line };
}

function few(told: readonly string[]): string {
  const more = told.length - MOST_NAMED;
  return [...told.slice(0, MOST_NAMED), ...(more > 0 ? [`${inFigures(more)} more`] : [])].join("; ");
}

function wayOf({ end, transfer: { from, to } }: QuietEnd, pathOf: PathOf): string {
  const place = ({ within, file }: Transfer["from"], isElsewhere: boolean) => {
    const path = shortened(pathOf(file), LONGEST);
    if (within !== null) return `“${shortened(within, LONGEST)}”${isElsewhere ? ` of ${path}` : ""}`;
    if (isElsewhere) return path;
    return end === "both" ? "the top level" : "this file";
  };
  return `from ${place(from, end === "to")} to ${place(to, end === "from")}`;
}
