import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Lexicon } from "./lexicon";

/** Words as they are defined, cut out of their line. */
const WORDS = /[\p{L}\p{N}\p{M}_]+|\s+|[^\s\p{L}\p{N}\p{M}_]/gu;

function wordsOf(line: string, ends: readonly number[], from = 0): string[] {
  return ends.map((end, n) => line.slice(n === 0 ? from : ends[n - 1], end));
}

describe("lexicon", () => {
  const text = fc.oneof(
    fc.string({ unit: "grapheme" }),
    fc.string(),
    fc
      .array(fc.constantFrom("tide", "Tide", "mole_7", " ", "  ", "\t", "(", "((", "é", "\u00a0", "🌊", "ё"))
      .map((parts) => parts.join("")),
  );

  it("finds the words of a line, and gives the same number to the same word and to no other", () => {
    fc.assert(
      fc.property(fc.array(text, { maxLength: 8 }), (lines) => {
        const lexicon = new Lexicon();
        const numbers = new Map<string, number>();
        for (const line of lines) {
          const { words, ends } = lexicon.read(line);
          expect(wordsOf(line, ends)).toEqual(line.match(WORDS) ?? []);
          for (const [n, word] of wordsOf(line, ends).entries()) {
            if (!numbers.has(word)) numbers.set(word, numbers.size);
            expect(words[n]).toBe(numbers.get(word));
            expect(lexicon.weights[words[n]]).toBe(word.trim() === "" ? 0 : word.length);
          }
        }
      }),
    );
  });

  it("reads a part of a line, and tells where its words end in the whole", () => {
    fc.assert(
      fc.property(text, text, text, (before, line, after) => {
        const [from, to] = [before.length, before.length + line.length];
        const { words, ends } = new Lexicon().read(before + line + after, from, to);
        expect(wordsOf(before + line + after, ends, from)).toEqual(line.match(WORDS) ?? []);
        expect(words).toEqual(new Lexicon().read(line).words);
      }),
    );
  });

  it("knows each of a great many words again", () => {
    const lexicon = new Lexicon();
    const all = Array.from({ length: 40_000 }, (_, n) => `berth_${(n * 7919).toString(36)}`);
    const numbers = all.map((word) => lexicon.read(word).words[0]);
    expect(numbers).toEqual(all.map((_, n) => n));
    expect(all.map((word) => lexicon.read(word).words[0])).toEqual(numbers);
  });

  it("tells words apart whose hashes meet", () => {
    // The places of all of these are the same, however large the table is: so they do not all find one.
    const same = new Map<number, string[]>();
    for (let n = 0; ; n++) {
      const word = `w${n.toString(36)}`;
      const place = placeOf(word) & 0x3ff;
      const words = [...(same.get(place) ?? []), word];
      same.set(place, words);
      if (words.length < 64) continue;
      const lexicon = new Lexicon();
      const numbers = words.map((one) => lexicon.read(one).words[0]);
      expect(numbers).toEqual(words.map((_, at) => at));
      expect(words.map((one) => lexicon.read(one).words[0])).toEqual(numbers);
      return;
    }
  });
});

/** Where a word is looked for: its hash by Fowler, Noll and Vo, the upper half mixed in. */
function placeOf(word: string): number {
  let hash = 0x811c9dc5 | 0;
  for (const character of word) hash = Math.imul(hash ^ character.charCodeAt(0), 0x01000193);
  return hash ^ (hash >>> 15);
}
