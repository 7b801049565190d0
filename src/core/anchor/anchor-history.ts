import type { Hunk } from "../diff/hunk";
import { pairLines } from "../diff/line-pairs";
import { type Additions, type Passage, passageOf } from "./again";
import type { Anchor } from "./anchor";
import { followLines } from "./follow";
import { homeOf } from "./home";

/**
 * What became of the lines of a thread. *Unchanged*, *shifted* and *moved* promise that every line stands there with the text that the
 * thread was written about; *shifted* is the same place of the same file, *moved* another place or another file.
 */
export type AnchorStatus = "unchanged" | "shifted" | "moved" | "edited" | "gone";

/** How the lines of a thread stand in one revision, as compared with when it was written. */
export interface AnchorPosition {
  revision: number;
  status: AnchorStatus;
  /** Where they are, 1-based, both ends included. Of lines that are gone the path alone says something: where the file is now, or was. */
  path: string;
  start: number;
  end: number;
  /** The revision that last changed them: that edited, moved or removed them. */
  since: number;
  /** The whole file is gone with them: they stand in no file that could be read. */
  fileGone?: true;
  /** What stands there now where that is something else, cut where it is long. */
  now?: string[];
}

/** What became of a thread's lines, revision by revision, where it is another thing than before; told from the next revision on. */
export interface AnchorHistory {
  /** Whether its lines are followed through the states of the source branch, or through those it left the target from. */
  side: "old" | "new";
  positions: AnchorPosition[];
}

/** The lines of a thread on their way from revision to revision: all that is needed to follow them one step further. */
export interface Track {
  /** As it was written. */
  written: { path: string; start: number; end: number; text: readonly string[] };
  position: AnchorPosition;
  /** They were put elsewhere in the file. */
  jumped: boolean;
  /** What stood there when it was last there, once it is gone. */
  lost: Passage | null;
}

/** One file in two trees. A file that is not in the second has no `to`. */
export interface FileStep {
  to: string | null;
  old: readonly string[];
  next: readonly string[];
  hunks: readonly Hunk[];
}

/** Of what stands there now so much is kept, in lines and in characters a line. */
const MOST_NOW = 60;
const LONGEST_NOW = 500;

export function beginTrack(written: Track["written"], revision: number): Track {
  const { path, start, end } = written;
  return {
    written,
    position: { revision, status: "unchanged", path, start, end, since: revision },
    jumped: false,
    lost: null,
  };
}

/**
 * One step: through what happened to the file that the lines are in. `file` is null when nothing did. Lines that are not found there are
 * `sought`: {@link seekAgain} looks for them in the rest of what was added.
 */
export function stepTrack(track: Track, file: FileStep | null, revision: number): { track: Track; sought: boolean } {
  const { position } = track;
  const still = { ...track, position: { ...position, revision } };
  if (!file) return { track: still, sought: false };
  const path = file.to ?? position.path;
  if (track.lost) {
    const { fileGone: _, ...stood } = still.position;
    const position = { ...stood, path, ...(file.to === null ? { fileGone: true as const } : {}) };
    return { track: { ...still, position }, sought: file.to !== null };
  }
  const passage = passageOf(file.old, position.start, position.end);
  if (file.to === null) return { track: lose(track, passage, path, revision, true), sought: true };
  const place = followLines(position.start, position.end, file.hunks);
  if (place.status === "gone") return { track: lose(track, passage, path, revision), sought: true };
  if (place.status !== "edited") {
    const home = homeOf(passage, position.start, place.start, file);
    if (home === null) return { track: lose(track, passage, path, revision), sought: true };
    const [start, end] = [home, home + passage.lines.length - 1];
    return { track: settle(track, { path, start, end }, file.next, revision, passage.lines), sought: false };
  }
  const narrowed = narrow(position, place, file);
  if (!narrowed) return { track: lose(track, passage, path, revision), sought: true };
  const { start, end, sure } = narrowed;
  // Lines that were edited in their place are believed to be there, however many copies of the old ones stand elsewhere.
  return { track: settle(track, { path, start, end }, file.next, revision, passage.lines), sought: !sure };
}

/**
 * Looks for lines that are no longer in their place among all that the step added; `before` is the track as it was. What is found as it
 * was is believed before what merely stands in their place now; what was changed and moved only where nothing is left in the place.
 */
export function seekAgain(
  before: Track,
  after: Track,
  old: readonly string[] | null,
  additions: Additions,
  textOf: (path: string) => readonly string[],
): Track {
  const { start, end } = before.position;
  const passage = before.lost ?? (old && passageOf(old, start, end));
  if (!passage) return after;
  const found = additions.find(passage, after.position.path);
  if (!found || (!found.whole && after.lost === null)) return after;
  const { revision } = after.position;
  // What was gone and came back did not jump: between then and now it was nowhere.
  const jumped = before.jumped || (before.lost === null && found.path === after.position.path);
  return settle({ ...before, jumped, lost: null }, found, textOf(found.path), revision, passage.lines);
}

/** Where a thread stands at a revision, by what is told of it from revision to revision; null as long as it is where it was written. */
export function positionAt(positions: readonly AnchorPosition[], revision: number): AnchorPosition | null {
  return positions.findLast((position) => position.revision <= revision) ?? null;
}

/** Where a thread stands now, as an anchor: for going there. What is gone is about the file as a whole. */
export function anchorNow(anchor: Anchor, position: AnchorPosition | null): Anchor {
  if (!position || (anchor.kind !== "lines" && anchor.kind !== "file")) return anchor;
  const { path, start, end } = position;
  if (anchor.kind === "file") return { ...anchor, path };
  if (position.status === "gone") return { ...anchor, path, start: 1, end: 1 };
  return { ...anchor, path, start, end };
}

/** What became of the lines of a thread, to be read behind its place: "moved here in r3, was line 12 of quay.ts". Empty where nothing did. */
export function positionWords(anchor: Anchor, { status, path, start, since }: AnchorPosition): string {
  if (anchor.kind === "file")
    return status === "gone" ? `gone since r${since}` : path === anchor.path ? "" : `was ${anchor.path}`;
  if (anchor.kind !== "lines") return "";
  const from = path === anchor.path ? "" : ` of ${anchor.path}`;
  const was = `was ${anchor.start}${from} in r${anchor.revision}`;
  switch (status) {
    case "unchanged":
      return "";
    case "shifted":
      return was;
    case "moved":
      return `moved in r${since}, ${was}`;
    case "edited":
      return path === anchor.path && start === anchor.start ? `edited in r${since}` : `edited in r${since}, ${was}`;
    case "gone":
      return `gone since r${since}`;
  }
}

/** Whether the lines are gone together with their file. */
export function isHomeless(position: AnchorPosition | null): boolean {
  return position?.status === "gone" && position.fileGone === true;
}

/** Whether a stand says something else than the one before it. */
export function differs(a: AnchorPosition, b: AnchorPosition): boolean {
  return (
    a.status !== b.status ||
    a.path !== b.path ||
    a.start !== b.start ||
    a.end !== b.end ||
    (a.since !== b.since && !!a.now)
  );
}

function lose(track: Track, lost: Passage, path: string, revision: number, fileGone = false): Track {
  const { now: _, ...position } = track.position;
  const whole = fileGone ? { fileGone: true as const } : {};
  return { ...track, lost, position: { ...position, path, revision, since: revision, status: "gone", ...whole } };
}

/** The stand of lines at a place of a text, told by what is there. `was` is what stood there one step before. */
function settle(
  track: Track,
  place: { path: string; start: number; end: number },
  text: readonly string[],
  revision: number,
  was: readonly string[],
): Track {
  const { written, position } = track;
  const { path, start, end } = place;
  const here = text.slice(start - 1, end);
  const same = equal(here, written.text);
  const away = path !== written.path || (track.jumped && start !== written.start);
  const status: AnchorStatus = !same ? "edited" : away ? "moved" : start === written.start ? "unchanged" : "shifted";
  const touched =
    !equal(here, was) || path !== position.path || position.status === "gone" || (status === "moved" && !isAway(track));
  const now = same ? {} : { now: here.slice(0, MOST_NOW).map((line) => line.slice(0, LONGEST_NOW)) };
  const since = touched ? revision : position.since;
  return { ...track, lost: null, position: { revision, status, path, start, end, since, ...now } };
}

function isAway({ position, written }: Track): boolean {
  return position.status === "moved" || position.path !== written.path;
}

/** Compared as far as the text of an anchor is taken down. */
function equal(here: readonly string[], text: readonly string[]): boolean {
  return (
    here.length === text.length &&
    here.every((line, i) => line === text[i] || (text[i].length >= CUT && line.startsWith(text[i])))
  );
}

/** The text of an anchor is taken down to so many characters a line. */
export const CUT = 2_000;

/**
 * Of a hunk in which lines were edited, those that the lines became, where that can be told by what they have in common. Null when all
 * that stands there now came of other lines: then nothing stands in their place. `sure` when some line has enough in common.
 */
function narrow(
  { start, end }: { start: number; end: number },
  place: { start: number; end: number },
  { old, next, hunks }: FileStep,
): { start: number; end: number; sure: boolean } | null {
  const hunkAt = (line: number) => hunks.find(({ oldStart, oldEnd }) => line - 1 >= oldStart && line - 1 < oldEnd);
  const pairsAt = (line: number) => {
    const hunk = hunkAt(line);
    return hunk ? pairLines(old, next, hunk) : [];
  };
  const own = (pair: { old: number }) => pair.old >= start - 1 && pair.old < end;
  const first = pairsAt(start);
  const hunk = hunkAt(start);
  if (hunk && hunk === hunkAt(end) && !first.some(own) && first.length === hunk.newEnd - hunk.newStart) return null;
  const low = first.filter(own).map(({ next: line }) => line + 1);
  const high = pairsAt(end)
    .filter(own)
    .map(({ next: line }) => line + 1);
  return {
    start: low.length > 0 ? Math.max(place.start, Math.min(...low)) : place.start,
    end: high.length > 0 ? Math.min(place.end, Math.max(...high)) : place.end,
    sure: low.length > 0 || high.length > 0,
  };
}
