"use client";
import { createContext } from "react";
import { visible } from "@/core/cautions/visible";
import { counted, inFigures } from "@/core/plain/words";
import type { Rows } from "@/core/reading/rows";
import type { AlikeChange, SidedEnd } from "@/core/views/api";
import { Key } from "../../parts/key";

/** So many changes of a file are told of, each in a line, and so many other places of each. */
const MOST = 3;
const MOST_NAMED = 6;

/** What of the file that is open stands elsewhere, too: for whoever remarks on it. */
export const AlikeContext = createContext<readonly AlikeChange[]>([]);

/** Said above a file in which a change stands that stands elsewhere, too: where, and the way from one place to the next. */
export function Alike({
  changes,
  onGo,
  onNext,
}: {
  changes: readonly AlikeChange[];
  onGo: (path: string, side: "old" | "new", line: number) => void;
  onNext: () => void;
}) {
  const several = [...new Map(changes.map((change) => [nameOf(change), change])).values()];
  if (several.length === 0) return null;
  const rest = several.length - MOST;
  return (
    <div className="flex-none border-b border-rule px-4 py-1.5 text-[13.5px]">
      {several.slice(0, MOST).map((change, n) => (
        <p key={nameOf(change)} className="flex items-baseline gap-1.5">
          <span className="min-w-0 truncate">
            The same change at {inFigures(change.of)} places, each to be read where it stands:{" "}
            {change.places.slice(0, MOST_NAMED).map(({ path, side, start, within }, i) => (
              <span key={`${path} ${side} ${start}`}>
                {i > 0 && ", "}
                <button
                  type="button"
                  className="quiet-button"
                  title={within === null ? undefined : visible(within)}
                  onClick={() => onGo(path, side, start)}
                >
                  {path === change.here.path ? `line ${start}` : `${visible(path)} ${start}`}
                </button>
              </span>
            ))}
            {change.of > MOST_NAMED && " …"}
          </span>
          {n === 0 && (
            <button type="button" className="quiet-button flex-none" onClick={onNext}>
              next place <Key>=</Key>
            </button>
          )}
        </p>
      ))}
      {rest > 0 && (
        <p className="text-soft">
          {counted(rest, "change")} more of this file {rest === 1 ? "stands" : "stand"} elsewhere, too.
        </p>
      )}
    </div>
  );
}

/** The same for all places of one change. */
function nameOf({ of, places: [first] }: AlikeChange): string {
  return `${of} ${first.path} ${first.side} ${first.start}`;
}

/** The change that lines of a file lie in, at one of its places, if they do. */
export function changeWith(
  changes: readonly AlikeChange[],
  lines: { side: "old" | "new"; start: number; end: number },
): AlikeChange | undefined {
  return changes.find(({ here }) => here.side === lines.side && here.start <= lines.end && lines.start <= here.end);
}

/** A sentence that lists the other places of a change, for a remark that is meant of all. */
export function otherPlaces({ here, of, places }: AlikeChange): string {
  const others = places.filter((place) => !isSame(place, here));
  const more = of - 1 - others.length;
  const named = others.map(({ path, start }) => (path === here.path ? `line ${start}` : `\`${path}\` line ${start}`));
  return `The same goes for ${named.join(", ")}${more > 0 ? ` and ${counted(more, "place")} more` : ""}.`;
}

function isSame(a: SidedEnd, b: SidedEnd): boolean {
  return a.path === b.path && a.start === b.start && a.side === b.side;
}

/** The change that a row lies in, else the first behind it, else the first of all. */
export function changeAt(changes: readonly AlikeChange[], rows: Rows | null, row: number): AlikeChange | undefined {
  const line = (lines: Int32Array) => {
    for (let at = Math.max(0, row); rows && at < rows.count; at++) if (lines[at] >= 0) return lines[at] + 1;
    return Number.POSITIVE_INFINITY;
  };
  const at = rows ? { old: line(rows.old), new: line(rows.next) } : null;
  return changes.find(({ here }) => at && here.end >= at[here.side]) ?? changes[0];
}
