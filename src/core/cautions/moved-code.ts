import { inFigures, shortened } from "../plain/words";
import type { QuietEnd, Transfer } from "../quiet/kinds/moved-ends";
import type { Caution } from "./cautions";

const MOST_NAMED = 3;
/** So much is quoted of a name or a path, in UTF-16 units. */
const LONGEST = 80;

/**
 * What is said of a file in which code left a named block for another, or came into one, without a line beside it that is to read: what moved is
 * quiet, since nothing of it is new, and what runs it is another.
 *
 * @example movedCode([{ end: "both", transfer, line: 3 }], pathOf)
 * // [{ kind: "moved-code", line: 3, says: "Code went from “handle” to “log”. …" }]
 */
export function movedCode(ends: readonly QuietEnd[], pathOf: (file: number) => string): Caution[] {
  if (ends.length === 0) return [];
  const first = ends.toSorted((a, b) => (a.line ?? 0) - (b.line ?? 0));
  const told = [...new Set(first.map((end) => wayOf(end, pathOf)))];
  const more = told.length - MOST_NAMED;
  const ways = [...told.slice(0, MOST_NAMED), ...(more > 0 ? [`${inFigures(more)} more`] : [])];
  const says = `Code went ${ways.join("; ")}. Nothing beside its fold is to read: look whether it still runs when it has to.`;
  return [{ kind: "moved-code", says, line: first[0].line }];
}

function wayOf({ end, transfer: { from, to } }: QuietEnd, pathOf: (file: number) => string): string {
  const place = ({ within, file }: Transfer["from"], isElsewhere: boolean) => {
    const path = shortened(pathOf(file), LONGEST);
    if (within !== null) return `“${shortened(within, LONGEST)}”${isElsewhere ? ` of ${path}` : ""}`;
    if (isElsewhere) return path;
    return end === "both" ? "the top level" : "this file";
  };
  return `from ${place(from, end === "to")} to ${place(to, end === "from")}`;
}
