import type { ClassedFile, Side } from "../classes";
import { AROUND } from "./echo/echo-stretch";

/** A changed line of a file that was met before. */
export interface Place {
  file: number;
  line: number;
}

/** The lines of some files on one side that are changed and wait for a class, each known by itself and by those around it. */
export class KnownLines {
  private readonly numbers = new Map<string, number>();
  /** Lines as numbers from 1, equal where two are the same, file by file; 0 until one is asked for. */
  private readonly numbered = new Map<number, Int32Array>();
  /** By the number of a changed line: the file in which it was met first, and whether another says it, too. All that none does need not be looked for. */
  private readonly firsts: number[] = [];
  private readonly shared: boolean[] = [];
  /** By a number made of those of the lines around them. */
  private readonly places = new Map<number, Place[]>();

  constructor(
    private readonly files: readonly ClassedFile[],
    some: readonly number[],
    private readonly side: Side,
  ) {
    for (const at of some) this.meet(at);
  }

  /** The first line that was asked for and is the same, with the three lines before and behind it and as near the edges of its file; null for none. */
  like(file: number, line: number): Place | null {
    const own = this.numbered.get(file)!;
    if (!this.shared[own[line]] || !this.files[file].isOpen(this.side, line)) return null;
    this.numberAround(file, own, line);
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

  private meet(at: number): void {
    const file = this.files[at];
    const lines = file.lines(this.side);
    const numbered = new Int32Array(lines.length);
    this.numbered.set(at, numbered);
    for (const hunk of file.hunks) {
      const [start, end] = this.side === "old" ? [hunk.oldStart, hunk.oldEnd] : [hunk.newStart, hunk.newEnd];
      for (let line = start; line < end; line++) {
        if (!file.isOpen(this.side, line)) continue;
        const number = this.numberOf(lines[line]);
        numbered[line] = number;
        this.firsts[number] ??= at;
        if (this.firsts[number] !== at) this.shared[number] = true;
      }
    }
  }

  private numberAround(file: number, numbered: Int32Array, line: number): void {
    const lines = this.files[file].lines(this.side);
    for (let n = Math.max(0, line - AROUND); n <= line + AROUND && n < lines.length; n++)
      if (numbered[n] === 0) numbered[n] = this.numberOf(lines[n]);
  }

  private numberOf(text: string): number {
    let number = this.numbers.get(text);
    if (number === undefined) {
      number = this.numbers.size + 1;
      this.numbers.set(text, number);
    }
    return number;
  }
}
