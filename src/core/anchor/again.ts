import type { Hunk } from "../diff/hunk";
import { addTo } from "../plain/grouped";

/** A file as it is in the later of two trees, and what is new in it. */
export interface Grown {
  path: string;
  next: readonly string[];
  hunks: readonly Hunk[];
}

/** Lines that stood together, and what stood around them: up to {@link AROUND} lines on either side. */
export interface Passage {
  before: readonly string[];
  lines: readonly string[];
  after: readonly string[];
}

/** Where a passage was found; 1-based, both ends included. */
export interface FoundAgain {
  path: string;
  start: number;
  end: number;
  /** Every line is there as it was. */
  whole: boolean;
}

/** How many lines around a passage help to know it again. */
export const AROUND = 6;
/** A line that was added in more places says nothing about where another went; what stands around it has to. */
const COMMON = 64;
/** How many likely places are looked at. */
const LOOKED_AT = 8;
/** So many letters and digits, and a line can be known by itself: in the file where it was, and in any other. */
const KNOWN_HERE = 3;
const KNOWN_ELSEWHERE = 16;

/** The lines that a step added, by their text. */
export class Additions {
  private readonly places = new Map<string, { file: number; line: number }[]>();

  constructor(private readonly files: readonly Grown[]) {
    for (const [file, { next, hunks }] of files.entries()) {
      for (const { newStart, newEnd } of hunks) {
        for (let line = newStart; line < newEnd; line++) {
          const text = next[line].trim();
          if (text !== "") addTo(this.places, text, { file, line });
        }
      }
    }
  }

  /**
   * Where a passage that is no longer in its place was put: where most of its lines, and of those around it, were added at one distance.
   * Indentation does not count for finding it, but for `whole`. Null when what is found could as well be something else.
   */
  find(passage: Passage, home: string): FoundAgain | null {
    const { before, lines, after } = passage;
    const all = [...before, ...lines, ...after];
    const first = before.length;
    const beyond = first + lines.length;
    const votes = new Map<string, { file: number; offset: number; weight: number }>();
    for (const [i, line] of all.entries()) {
      const text = line.trim();
      const places = this.places.get(text);
      if (!places || places.length > COMMON) continue;
      const own = i >= first && i < beyond;
      for (const { file, line: at } of places) {
        const key = `${file}:${at - i}`;
        const vote = votes.get(key) ?? { file, offset: at - i, weight: 0 };
        vote.weight += own ? 2 * text.length : text.length;
        votes.set(key, vote);
      }
    }
    const ranked = [...votes.values()].sort(
      (a, b) =>
        b.weight - a.weight || Number(this.files[b.file].path === home) - Number(this.files[a.file].path === home),
    );
    let likely: FoundAgain | null = null;
    for (const { file, offset } of ranked.slice(0, LOOKED_AT)) {
      const found = this.weigh(passage, this.files[file], offset + first, home);
      if (found?.whole) return found;
      likely ??= found;
    }
    return likely;
  }

  private weigh({ before, lines, after }: Passage, file: Grown, start: number, home: string): FoundAgain | null {
    const { path, next } = file;
    if (start < 0 || start + lines.length > next.length) return null;
    const alike = (line: string, at: number) => next[at]?.trim() === line.trim();
    let own = 0;
    let total = 0;
    for (const [i, line] of lines.entries()) {
      total += letters(line);
      if (alike(line, start + i)) own += letters(line);
    }
    const above = before.filter((line, i) => letters(line) > 0 && alike(line, start - before.length + i)).length;
    const below = after.filter((line, i) => letters(line) > 0 && alike(line, start + lines.length + i)).length;
    const found = { path, start: start + 1, end: start + lines.length };
    const whole = lines.every((line, i) => next[start + i] === line);
    // Changed itself, between neighbours that went along with it.
    if (2 * own < total || total === 0) return above > 0 && below > 0 ? { ...found, whole } : null;
    if (above + below > 0) return { ...found, whole };
    const several = lines.filter((line, i) => letters(line) >= KNOWN_HERE && alike(line, start + i)).length > 1;
    const needed = path === home ? KNOWN_HERE : KNOWN_ELSEWHERE;
    const alone = lines.some((line) => letters(line) >= needed && this.places.get(line.trim())?.length === 1);
    return several || alone ? { ...found, whole } : null;
  }
}

/** How many letters and digits a line has. */
function letters(line: string): number {
  return line.match(/[\p{L}\p{N}]/gu)?.length ?? 0;
}

/** The lines `start` to `end` of a text (1-based, both included) with what stands around them. */
export function passageOf(text: readonly string[], start: number, end: number): Passage {
  return {
    before: text.slice(Math.max(0, start - 1 - AROUND), start - 1),
    lines: text.slice(start - 1, end),
    after: text.slice(end, end + AROUND),
  };
}
