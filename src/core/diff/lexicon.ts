/** The words of a part of a line, in order: each as a number, and where it ends in the line, in UTF-16 units, 0-based, exclusive. */
export interface Worded {
  words: readonly number[];
  ends: readonly number[];
}

/** What a character of ASCII is: part of a word, white space, or a word of its own. */
const [PART, SPACE, ALONE] = [0, 1, 2];
const KINDS = Uint8Array.from({ length: 128 }, (_, code) => {
  const character = String.fromCharCode(code);
  if (/\w/.test(character)) return PART;
  return /\s/.test(character) ? SPACE : ALONE;
});
const ASCII = 128;

/** Words by Unicode's letters, digits and marks, runs of white space, and single other characters. */
const WORDS = /[\p{L}\p{N}\p{M}_]+|\s+|[^\s\p{L}\p{N}\p{M}_]/gu;

/** The hash of Fowler, Noll and Vo (FNV-1a), over UTF-16 units. */
const [BASIS, PRIME] = [0x811c9dc5 | 0, 0x01000193];
/** So many places are looked at for a word before it is looked up another way: words can be chosen so that their hashes meet. */
const PROBES = 16;

/**
 * Gives each word a number, the same for the same word, 0 and up in the order in which they are met. Words are found and known again without being
 * cut out of their lines, which is most of what comparing them took. One serves as long as its numbers are compared with each other.
 *
 * @example new Lexicon().read("at(at)") // { words: [0, 1, 0, 2], ends: [2, 3, 5, 6] }
 */
export class Lexicon {
  /** Of each number, how long its word is; 0 for white space. */
  readonly weights: number[] = [];
  private readonly texts: string[] = [];
  private readonly hashes: number[] = [];
  /** By hash, in the first free place from there on: a number and one more, 0 where none is. */
  private slots = new Int32Array(128);
  private readonly crowded = new Map<string, number>();

  /** The words of a line from one place to another. */
  read(line: string, from = 0, to = line.length): Worded {
    const words: number[] = [];
    const ends: number[] = [];
    for (let at = from; at < to; ) {
      const first = line.charCodeAt(at);
      if (first >= ASCII) return this.readAny(line, from, to);
      const kind = KINDS[first];
      let hash = Math.imul(BASIS ^ first, PRIME);
      let end = at + 1;
      for (; kind !== ALONE && end < to; end++) {
        const code = line.charCodeAt(end);
        if (code >= ASCII) return this.readAny(line, from, to);
        if (KINDS[code] !== kind) break;
        hash = Math.imul(hash ^ code, PRIME);
      }
      words.push(this.number(line, at, end, hash));
      ends.push(end);
      at = end;
    }
    return { words, ends };
  }

  private readAny(line: string, from: number, to: number): Worded {
    const words: number[] = [];
    const ends: number[] = [];
    for (const { 0: word, index } of line.slice(from, to).matchAll(WORDS)) {
      let hash = BASIS;
      for (let at = 0; at < word.length; at++) hash = Math.imul(hash ^ word.charCodeAt(at), PRIME);
      words.push(this.number(word, 0, word.length, hash));
      ends.push(from + index + word.length);
    }
    return { words, ends };
  }

  private number(line: string, from: number, to: number, hash: number): number {
    const mask = this.slots.length - 1;
    let at = (hash ^ (hash >>> 15)) & mask;
    for (let n = 1; this.slots[at] !== 0; n++) {
      const number = this.slots[at] - 1;
      if (this.hashes[number] === hash && this.isText(number, line, from, to)) return number;
      if (n === PROBES) break;
      at = (at + 1) & mask;
    }
    const word = line.slice(from, to);
    const known = this.crowded.size > 0 ? this.crowded.get(word) : undefined;
    if (known !== undefined) return known;
    const number = this.texts.push(word) - 1;
    this.hashes.push(hash);
    this.weights.push(word.trim() === "" ? 0 : word.length);
    if (this.slots[at] === 0) this.slots[at] = number + 1;
    else this.crowded.set(word, number);
    if (2 * this.texts.length > this.slots.length) this.grow();
    return number;
  }

  private isText(number: number, line: string, from: number, to: number): boolean {
    const text = this.texts[number];
    if (text.length !== to - from) return false;
    for (let n = 0; n < text.length; n++) if (text.charCodeAt(n) !== line.charCodeAt(from + n)) return false;
    return true;
  }

  /** Twice the room. What is crowded stays so. */
  private grow(): void {
    const slots = new Int32Array(2 * this.slots.length);
    const mask = slots.length - 1;
    for (const entry of this.slots) {
      if (entry === 0) continue;
      const hash = this.hashes[entry - 1];
      let at = (hash ^ (hash >>> 15)) & mask;
      for (let n = 1; n < PROBES && slots[at] !== 0; n++) at = (at + 1) & mask;
      if (slots[at] === 0) slots[at] = entry;
      else this.crowded.set(this.texts[entry - 1], entry - 1);
    }
    this.slots = slots;
  }
}

/** What a character is to the words of a line: everything beyond ASCII counts as part of one. */
export function isSpace(code: number): boolean {
  return code < ASCII && KINDS[code] === SPACE;
}

/** Whether one word surely ends and another begins between two characters. */
export function isBetweenWords(before: number, after: number): boolean {
  const kind = before < ASCII ? KINDS[before] : PART;
  return kind === ALONE || kind !== (after < ASCII ? KINDS[after] : PART);
}
