import type { ClassedFile, Side } from "../classes";
import { AROUND } from "./echo-stretch";

/** A changed line of a file that was met before. */
export interface Place {
  file: number;
  line: number;
}

/** The lines of some files on one side that are changed and wait for a class, each known by itself and by those around it. */
export class KnownLines {
  private readonly shared: ReadonlySet<string>;
  private readonly numbers = new Map<string, number>();
  /** Lines as numbers, equal where two are the same, file by file; 0 until one is asked for. */
  private readonly numbered = new Map<number, Int32Array>();
  /** By a number made of those of the lines around them. */
  private readonly places = new Map<number, Place[]>();

  constructor(
    private readonly files: readonly ClassedFile[],
    some: readonly number[],
    private readonly side: Side,
  ) {
    this.shared = sharedLines(files, some, side);
  }

  /** The first line that was asked for and is the same, with the three lines before and behind it and as near the edges of its file; null for none. */
  like(file: number, line: number): Place | null {
    const lines = this.files[file].lines(this.side);
    if (!this.files[file].isOpen(this.side, line) || !this.shared.has(lines[line])) return null;
    const own = this.numberedAround(file, line);
    let key = 0;
    for (let n = line - AROUND; n <= line + AROUND; n++) key = (Math.imul(key, 31) + (own[n] ?? 0)) | 0;
    const places = this.places.get(key);
    if (!places) {
      this.places.set(key, [{ file, line }]);
      return null;
    }
    const found = places.find((place) => {
      const other = this.numbered.get(place.file)!;
      for (let n = -AROUND; n <= AROUND; n++) if (own[line + n] !== other[place.line + n]) return false;
      return true;
    });
    if (!found) places.push({ file, line });
    return found ?? null;
  }

  private numberedAround(file: number, line: number): Int32Array {
    const lines = this.files[file].lines(this.side);
    const numbered = this.numbered.get(file) ?? new Int32Array(lines.length);
    this.numbered.set(file, numbered);
    for (let n = Math.max(0, line - AROUND); n <= line + AROUND && n < lines.length; n++) {
      if (numbered[n] !== 0) continue;
      const number = this.numbers.get(lines[n]) ?? this.numbers.size + 1;
      this.numbers.set(lines[n], number);
      numbered[n] = number;
    }
    return numbered;
  }
}

/** What more than one of the files says on a changed line that waits for a class: all others need not be looked for. */
function sharedLines(files: readonly ClassedFile[], some: readonly number[], side: Side): Set<string> {
  const firsts = new Map<string, number>();
  const shared = new Set<string>();
  for (const at of some) {
    const lines = files[at].lines(side);
    for (const hunk of files[at].hunks) {
      const [start, end] = side === "old" ? [hunk.oldStart, hunk.oldEnd] : [hunk.newStart, hunk.newEnd];
      for (let line = start; line < end; line++) {
        if (!files[at].isOpen(side, line)) continue;
        const first = firsts.get(lines[line]);
        if (first === undefined) firsts.set(lines[line], at);
        else if (first !== at) shared.add(lines[line]);
      }
    }
  }
  return shared;
}
