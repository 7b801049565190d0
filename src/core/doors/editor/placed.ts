import type { AnchorHistory } from "../../anchor/anchor-history";
import { followLines } from "../../anchor/follow";
import { diffTexts } from "../../diff/lines";
import { readText } from "../../diff/text";
import { positionOf } from "../../review/answered";
import { type ChangeSet, newest, type Thread } from "../../review/state";
import type { Unsent, UnsentRemark } from "../../views/api";

/** Something that was said about lines of a file, and where those stand in the text that somebody works on: 1-based, both ends included. */
export interface Placed<T> {
  what: T;
  start: number;
  end: number;
  /** Somebody has changed what it is about, in a revision or since. */
  edited: boolean;
}

/** A text as an editor has it: with whatever ends its lines have. */
export type WorkingText = string;

/** How lines of a pushed text and of the one that is worked on belong together. Line numbers are 1-based, both ends included. */
export class LineMap {
  private readonly hunks;
  private readonly back;
  readonly pushed: readonly string[];
  readonly working: readonly string[];

  constructor(pushed: string, working: WorkingText) {
    const [old, next] = [textOf(pushed), textOf(working)];
    this.pushed = old.lines;
    this.working = next.lines;
    this.hunks = diffTexts(old, next);
    this.back = this.hunks.map(({ oldStart, oldEnd, newStart, newEnd }) => ({
      oldStart: newStart,
      oldEnd: newEnd,
      newStart: oldStart,
      newEnd: oldEnd,
    }));
  }

  /** Where pushed lines stand in the working text; null where nothing of them is left. */
  toWorking(start: number, end: number): { start: number; end: number; edited: boolean } | null {
    const place = followLines(start, end, this.hunks);
    return place.status === "gone" ? null : { start: place.start, end: place.end, edited: place.status === "edited" };
  }

  /** The pushed lines that working ones were made of; null where they are new. */
  toPushed(start: number, end: number): { start: number; end: number; edited: boolean } | null {
    const place = followLines(start, end, this.back);
    return place.status === "gone" ? null : { start: place.start, end: place.end, edited: place.status === "edited" };
  }
}

const encoder = new TextEncoder();
const textOf = (text: string) => readText(encoder.encode(text));

interface Said {
  change: Pick<ChangeSet, "threads" | "revisions">;
  histories: Record<string, AnchorHistory>;
  unsent: readonly Unsent[];
}

/** Where threads stand in the newest revision: those that are about lines of the new text, and are still there. */
export function threadsIn(said: Said, path: string): Placed<Thread>[] {
  return placed(said.change.threads, said, path);
}

/** The same of the remarks that somebody has written and not sent. */
export function unsentIn(said: Said, path: string): Placed<UnsentRemark>[] {
  const remarks = said.unsent.filter((note) => note.kind === "remark");
  return placed(remarks, said, path);
}

function placed<T extends Pick<Thread, "id" | "anchor">>(some: readonly T[], said: Said, path: string): Placed<T>[] {
  const { number } = newest(said.change);
  return some.flatMap((what): Placed<T>[] => {
    const { anchor } = what;
    if (anchor.kind !== "lines") return [];
    const position = positionOf(what, said.histories, number);
    const there = position ?? { path: anchor.path, start: anchor.start, end: anchor.end, status: "unchanged" };
    // What is about the text as it was before stands nowhere in a working file.
    if (anchor.side === "old" || there.status === "gone" || there.path !== path) return [];
    return [{ what, start: there.start, end: there.end, edited: there.status === "edited" }];
  });
}

/** The same in the text that is worked on; what is gone there is left out. */
export function inWorking<T>(placed: readonly Placed<T>[], map: LineMap): Placed<T>[] {
  return placed.flatMap((one) => {
    const there = map.toWorking(one.start, one.end);
    return there ? [{ ...one, ...there, edited: one.edited || there.edited }] : [];
  });
}

/** All paths that something is said about. */
export function pathsWithWords(said: Said): Set<string> {
  const { number } = newest(said.change);
  const paths = new Set<string>();
  for (const what of [...said.change.threads, ...said.unsent.filter((note) => note.kind === "remark")])
    if (what.anchor.kind === "lines") paths.add(positionOf(what, said.histories, number)?.path ?? what.anchor.path);
  return paths;
}

/**
 * What somebody has typed over pushed lines, as lines to stand there instead: for a suggestion. Null where nothing was typed over lines that were
 * pushed: what is only added is told with the line above it.
 */
export function typedOver(
  map: LineMap,
  start: number,
  end: number,
): { start: number; end: number; lines: string[] } | null {
  const pushed = map.toPushed(start, end);
  if (!pushed) {
    // Only new lines: the pushed line above them is said again, with them behind it.
    const above = start > 1 ? map.toPushed(start - 1, start - 1) : null;
    return above && !above.edited
      ? { start: above.start, end: above.end, lines: map.working.slice(start - 2, end) as string[] }
      : null;
  }
  const whole = map.toWorking(pushed.start, pushed.end);
  if (!whole) return null;
  // What is chosen beyond those lines is new, and stands right before or behind them.
  const lines = map.working.slice(Math.min(start, whole.start) - 1, Math.max(end, whole.end)) as string[];
  const was = map.pushed.slice(pushed.start - 1, pushed.end);
  const same = lines.length === was.length && lines.every((line, i) => line === was[i]);
  return same ? null : { start: pushed.start, end: pushed.end, lines };
}
