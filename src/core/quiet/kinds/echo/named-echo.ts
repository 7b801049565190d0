import { confusable } from "../../../cautions/confusable";
import { COMMENT, isKind, NAME, type Syntax, TEXT, tokenText } from "../../../grammar/syntax";
import type { ClassedFile, Side } from "../../classes";
import { ASCII, gapOf, isName, sameComment, tokensOn } from "../../names";
import { textFrom } from "../../places";
import { around, headsOf, type Names, type Stretch, textOf } from "./echo-stretch";

/** A part of a path has to have so many letters for names to go with it. */
const LEAST_PART = 2;
const WORD_CHARACTERS = /[\w$]+|[^\x00-\x7f]+/g;
const IDENTIFIERS = /[\p{L}_$][\p{L}\p{N}\p{M}_$]*/gu;
const ASCII_IDENTIFIERS = /[A-Za-z_$][\w$]*/g;
const identifiers = (text: string) => (ASCII.test(text) ? ASCII_IDENTIFIERS : IDENTIFIERS);

/** Equal for stretches that can be the same but for names: their lines with each word numbered by when it is first met. Cheap, and no proof. */
export function shapeOf(file: ClassedFile, stretch: Stretch): string {
  const numbers = new Map<string, number>();
  const shape = (word: string) => {
    let number = numbers.get(word);
    if (number === undefined) {
      number = numbers.size;
      numbers.set(word, number);
    }
    return `\u0001${number}`;
  };
  const text = textOf(file, stretch);
  return text.replace(identifiers(text), shape);
}

/** Equal wherever {@link shapeOf} is: what stands between words on the first line that went and the first that came. */
export function outlineOf({ old, next }: ClassedFile, stretch: Stretch): string {
  const between = (line = "") => line.replace(WORD_CHARACTERS, "");
  const went = stretch.old.end - stretch.old.start;
  const came = stretch.next.end - stretch.next.start;
  return `${went} ${came} ${went && between(old[stretch.old.start])}\0${came && between(next[stretch.next.start])}`;
}

/** The words of a stretch and of what surrounds it, each where it is first met. */
function wordsOf(file: ClassedFile, stretch: Stretch): readonly string[] {
  if (!stretch.words) {
    const text = textOf(file, stretch);
    stretch.words = [...new Set(text.match(identifiers(text)))];
  }
  return stretch.words;
}

/**
 * The names by which a stretch differs from one that is to be read, where nothing else differs; null where that is not proven. Proof: both
 * states of both files parse, and the lines of the stretch, the three around it and the heads of all that encloses it are made of the same
 * tokens with the same white space, save names. A name of which the part is one that the paths differ by stands for the one in which that
 * is replaced, in the same letters, and for no other: in `berth.ts` and `pier.ts` each `holdBerth` is a `holdPier`, and `allow` is
 * never `deny`. All other names, operators, numbers, keywords and texts are the same to the byte, so no single token can be another.
 */
export function namesBetween(one: ClassedFile, a: Stretch, other: ClassedFile, b: Stretch): Names | null {
  if (one.language !== other.language) return null;
  const [said, says] = [wordsOf(one, a), wordsOf(other, b)];
  const differs = said.findIndex((word, n) => word !== says[n]);
  if (differs < 0) return null;
  const kin = new Kin(one.path, other.path);
  if (!kin.allows(said[differs], says[differs]) || !said.every((word, n) => kin.allows(word, says[n]))) return null;
  const [left, right] = [one.syntaxes(), other.syntaxes()];
  if (!left || !right) return null;
  const pairs = new Pairs(kin);
  for (const side of ["old", "new"] as const) {
    const [first, second] = side === "old" ? [left.old, right.old] : [left.next, right.next];
    const [x, y] = [linesOf(one, a, side), linesOf(other, b, side)];
    if (!x || !y) return null;
    if (x.lines.length !== y.lines.length || x.before !== y.before || x.own !== y.own) return null;
    for (const [n, line] of x.lines.entries())
      if (!sameButNames(first, line, one.lines(side)[line], second, y.lines[n], other.lines(side)[y.lines[n]], pairs))
        return null;
  }
  const names = pairs.changed();
  return names?.length && !names.some(({ from, to }) => confusable(from, to)) ? names : null;
}

/** The heads of a stretch and its lines with those around it, and how far it is from the edges of them. */
function linesOf(file: ClassedFile, stretch: Stretch, side: Side) {
  const own = side === "old" ? stretch.old : stretch.next;
  const { start, end } = around(own, file.lines(side));
  const within = Array.from({ length: end - start }, (_, n) => start + n);
  const heads = headsOf(file, stretch)[side]?.filter((line) => line < start);
  if (!heads) return null;
  return { lines: [...heads, ...within], before: own.start - start, own: own.end - own.start };
}

/** Names and what they stand for, one for one. */
class Pairs {
  private readonly forth = new Map<string, string>();
  private readonly back = new Map<string, string>();
  private readonly comments: [string, string][] = [];

  constructor(private readonly kin: Kin) {}

  /** Whether a name can stand for another beside all that are known. */
  pair(from: string, to: string): boolean {
    if ((this.forth.get(from) ?? to) !== to || (this.back.get(to) ?? from) !== from) return false;
    this.forth.set(from, to);
    this.back.set(to, from);
    return this.kin.allows(from, to);
  }

  comment(from: string, to: string): void {
    if (from !== to) this.comments.push([from, to]);
  }

  /** The pairs of two different names; null where one is no name, or a comment says something else. */
  changed(): Names | null {
    const changed = new Map([...this.forth].filter(([from, to]) => from !== to));
    const names = [...changed].map(([from, to]) => ({ from, to }));
    if (!names.every(({ from, to }) => isName(from) && isName(to))) return null;
    return this.comments.every(([from, to]) => sameComment(from, to, changed)) ? names : null;
  }
}

function sameButNames(
  one: Syntax,
  i: number,
  text: string,
  other: Syntax,
  j: number,
  otherText: string,
  pairs: Pairs,
): boolean {
  if (textFrom(one, i) >= 0 || textFrom(other, j) >= 0) return text === otherText;
  const [left, right] = [tokensOn(one, i), tokensOn(other, j)];
  if (left.length !== right.length) return false;
  if (left.length === 0) return text === otherText;
  for (const [n, a] of left.entries()) {
    const b = right[n];
    const [x, y] = [one.tokens[a], other.tokens[b]];
    if (one.type[x] !== other.type[y] || gapOf(one, a, i) !== gapOf(other, b, j)) return false;
    const [from, to] = [tokenText(one, a), tokenText(other, b)];
    if (isKind(one, x, COMMENT)) pairs.comment(from, to);
    else if (isKind(one, x, TEXT) || !isKind(one, x, NAME)) {
      if (from !== to) return false;
    } else if (!pairs.pair(from, to)) return false;
  }
  const rest = (of: Syntax, on: readonly number[], line: number, whole: string) =>
    whole.slice(Math.max(0, of.end[of.tokens[on[on.length - 1]]] - of.lines[line]));
  return rest(one, left, i, text) === rest(other, right, j, otherText);
}

/** The parts by which two paths differ, as they can stand in names. */
class Kin {
  private readonly parts: { flat: string; forms: [from: string, to: string][] }[];

  constructor(one: string, other: string) {
    const [a, b] = [one.split("/"), other.split("/")];
    this.parts =
      a.length !== b.length
        ? []
        : a.flatMap((part, n) => {
            const [x, y] = [wordsIn(part), wordsIn(b[n])];
            if (x.join() === y.join() || Math.min(x.join("").length, y.join("").length) < LEAST_PART) return [];
            return { flat: x.join(""), forms: FORMS.map((form): [string, string] => [form(x), form(y)]) };
          });
  }

  /** Whether a name may stand for another: replaced where it has a part of the one path, and the same where it has none. */
  allows(from: string, to: string | undefined): boolean {
    const flat = wordsIn(from).join("");
    const parts = this.parts.filter((part) => flat.includes(part.flat));
    if (parts.length === 0) return from === to;
    return parts.some(({ forms }) => forms.some(([a, b]) => from.includes(a) && from.replaceAll(a, b) === to));
  }
}

const WORDS = new Map<string, readonly string[]>();
/** So many parts and names are remembered: they come again in pair after pair. */
const REMEMBERED = 20_000;

/** The words of a part of a path or of a name, in small letters; what follows a last dot is none of them. */
function wordsIn(part: string): readonly string[] {
  let words = WORDS.get(part);
  if (!words) {
    const found = part.replace(/(?<=.)\.[^.]*$/, "").match(/\p{Lu}?[\p{Ll}\p{Lo}]+|\p{Lu}+(?!\p{Ll})|\p{N}+/gu);
    words = (found ?? []).map((word) => word.toLowerCase());
    if (WORDS.size >= REMEMBERED) WORDS.clear();
    WORDS.set(part, words);
  }
  return words;
}

const capital = (word: string) => word.slice(0, 1).toUpperCase() + word.slice(1);
/** How words are written as one name. */
const FORMS: ((words: readonly string[]) => string)[] = [
  (words) => words.map((word, n) => (n === 0 ? word : capital(word))).join(""),
  (words) => words.map(capital).join(""),
  (words) => words.join("_"),
  (words) => words.join("_").toUpperCase(),
  (words) => words.join(""),
];
