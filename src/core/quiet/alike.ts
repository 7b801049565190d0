import type { Hunk } from "../diff/hunk";
import { headText } from "../diff/scopes";
import type { ClassedFile } from "./classes";
import type { Lines } from "./stretch/range";

/** Where a change stands that stands elsewhere, too. Lines are 0-based, ends exclusive; the file by its place in the list. */
export interface AlikePlace {
  file: number;
  old: Lines;
  next: Lines;
  /** What heads the block that it lies in; null at the top level. */
  within: string | null;
}

/** So much text, white space aside, is more than chance. */
const LEAST_TEXT = 12;
const SPACE = 32;
/** A change of more lines is one of its own. */
const LONGEST = 400;
/** So many places of one change are kept. */
const MOST_PLACES = 1_000;
const LONGEST_HEAD = 80;

/**
 * Changes that are to be read at several places: the same lines taken away and put in, whatever surrounds them and however deep they lie. What
 * they do depends on the place, so none of them is quiet; but they are walked one after the other, and said once. Each list has two
 * places or more, in the order of reading.
 *
 * @example a check that goes from twenty functions gives one list of twenty places, each within its function
 */
export function alikeChanges(files: readonly ClassedFile[]): AlikePlace[][] {
  const groups = new Map<string, AlikePlace[]>();
  for (const [at, file] of files.entries()) {
    if (file.old.length === 0 || file.next.length === 0) continue;
    for (const hunk of file.hunks) {
      if (!isToRead(file, hunk)) continue;
      const old = file.old.slice(hunk.oldStart, hunk.oldEnd);
      const next = file.next.slice(hunk.newStart, hunk.newEnd);
      if (old.length + next.length > LONGEST || !saysEnough(old, next)) continue;
      const key = outdented(old, next);
      const places = groups.get(key) ?? [];
      groups.set(key, places);
      if (places.length === MOST_PLACES) continue;
      places.push({
        file: at,
        old: { start: hunk.oldStart, end: hunk.oldEnd },
        next: { start: hunk.newStart, end: hunk.newEnd },
        within: null,
      });
    }
  }
  const several = [...groups.values()].filter((places) => places.length > 1);
  for (const place of several.flat()) place.within = headOf(files[place.file], place);
  return several;
}

/** Whether lines have enough text, white space aside. */
function saysEnough(...sides: (readonly string[])[]): boolean {
  let text = 0;
  for (const lines of sides) {
    for (const line of lines) {
      for (let at = 0; at < line.length; at++) if (line.charCodeAt(at) > SPACE && ++text === LEAST_TEXT) return true;
    }
  }
  return false;
}

function isToRead(file: ClassedFile, { oldStart, oldEnd, newStart, newEnd }: Hunk): boolean {
  for (let i = oldStart; i < oldEnd; i++) if (!file.isOpen("old", i)) return false;
  for (let j = newStart; j < newEnd; j++) if (!file.isOpen("new", j)) return false;
  return true;
}

/** Both sides without the white space that all their lines begin with. */
function outdented(old: readonly string[], next: readonly string[]): string {
  let common: string | null = null;
  for (const line of [...old, ...next]) {
    if (line.trim() === "") continue;
    const [indent] = /^[ \t]*/.exec(line)!;
    if (common === null) common = indent;
    while (!indent.startsWith(common)) common = common.slice(0, -1);
  }
  const depth = common?.length ?? 0;
  const cut = (lines: readonly string[]) => lines.map((line) => line.slice(depth)).join("\n");
  return `${old.length}\0${cut(old)}\0${cut(next)}`;
}

function headOf(file: ClassedFile, { old, next }: AlikePlace): string | null {
  const went = next.start === next.end;
  const head = file
    .enclosing(went ? "old" : "new")
    .heads(went ? old.start : next.start)
    .at(-1);
  return head === undefined ? null : headText((went ? file.old : file.next)[head]).slice(0, LONGEST_HEAD);
}
