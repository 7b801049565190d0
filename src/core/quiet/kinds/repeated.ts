import { confusable } from "../../cautions/confusable";
import type { LinePair } from "../../diff/line-pairs";
import type { Parse } from "../../grammar/parse";
import { COMMENT, isKind, NAME, type Syntax, TEXT, tokenText } from "../../grammar/syntax";
import type { ClassedFile } from "../classes";
import { goesOnInComment } from "../comment-lines";
import { compared, gapOf, isName, sameComment, tokensOn, WORDS } from "../names";
import { textFrom } from "../places";
import { NamesApart, type Renamed } from "./names-apart";

/** One or more names, each replaced by another wherever it stood on a line, and nothing else changed on it: on three lines or more. */
export interface Replacement {
  /** All of them, in the order in which they stand on the first such line. */
  names: { from: string; to: string }[];
  /** How many lines of the new text are nothing but this. */
  lines: number;
  /** In how many files. */
  files: number;
}

const LEAST_LINES = 3;
const LONGEST_LINE = 2_000;

/** The lines that by their look may be of class `repeated`, those that are too rare left out: nothing is parsed for it. */
export function guessReplacements(files: readonly ClassedFile[], pairsOf: readonly (readonly LinePair[])[]): Renamed[] {
  const likely: Renamed[] = [];
  for (const [at, file] of files.entries()) {
    if (!file.language?.identifiers) continue;
    for (const pair of pairsOf[at]) {
      const names = isOpen(file, pair) && guessed(file, pair);
      if (names) likely.push({ file: at, pair, names });
    }
  }
  return often(likely);
}

function isOpen(file: ClassedFile, { old, next }: LinePair): boolean {
  return file.isOpen("old", old) && file.isOpen("new", next);
}

/**
 * Classes lines in which nothing changed but names: each an identifier replaced by one identifier everywhere on the line, on three lines or
 * more across all files. Proof: both states parse, and the line is made of the same kinds of tokens, all of the same text save those
 * names, and the same words in comments. Not proven, and so to be read: operators, numbers, values, keywords, texts; names under three
 * letters; two names that change places; a name that takes the place of two, or of which two take the place, see {@link NamesApart}; names that look
 * alike.
 * `guesses` are those of {@link guessReplacements}.
 */
export function classReplacements(
  files: readonly ClassedFile[],
  guesses: readonly Renamed[],
  ahead: Parse["ahead"] = undefined,
): Replacement[] {
  // Sifted before the proof as well: what is too rare by its look is not parsed for.
  const likely = often(guesses.filter(({ file, pair }) => isOpen(files[file], pair)));
  ahead?.([...new Set(likely.map(({ file }) => file))].map((file) => files[file].unread("old", "new")));
  const proven: Renamed[] = [];
  for (const { file, pair } of likely) {
    const names = renamedNames(files[file], pair);
    if (names) proven.push({ file, pair, names });
  }
  const alone = withoutContradictions(files, proven);
  const apart = new NamesApart(files, alone);
  const lines = often(alone.filter((line) => apart.are(line)));
  const numbers = new Map<string, number>();
  const result: Replacement[] = [];
  const filesOf: Set<number>[] = [];
  for (const { file, pair, names } of lines) {
    const key = [...names]
      .map(([from, to]) => `${from}\0${to}`)
      .sort()
      .join("\0\0");
    let number = numbers.get(key);
    if (number === undefined) {
      number = result.length;
      numbers.set(key, number);
      result.push({ names: [...names].map(([from, to]) => ({ from, to })), lines: 0, files: 0 });
      filesOf.push(new Set());
    }
    result[number].lines += 1;
    filesOf[number].add(file);
    files[file].set("old", pair.old, "repeated", number);
    files[file].set("new", pair.next, "repeated", number);
  }
  for (const [number, set] of filesOf.entries()) result[number].files = set.size;
  return result;
}

/** Only lines of which every name is replaced often enough; taking some away may leave others too few. */
function often(lines: Renamed[]): Renamed[] {
  for (let now = lines; ; ) {
    const counts = new Map<string, number>();
    for (const { names } of now)
      for (const [from, to] of names) counts.set(`${from}\0${to}`, (counts.get(`${from}\0${to}`) ?? 0) + 1);
    const still = now.filter(({ names }) =>
      [...names].every(([from, to]) => counts.get(`${from}\0${to}`)! >= LEAST_LINES),
    );
    if (still.length === now.length) return now;
    now = still;
  }
}

/** The words by which two lines differ; null when that cannot be names alone, everywhere on the line. Cheap: nothing is parsed for it. */
function guessed(file: ClassedFile, { old, next, oldSpans, newSpans }: LinePair): Map<string, string> | null {
  const [before, after] = [file.old[old], file.next[next]];
  if (before.length > LONGEST_LINE || after.length > LONGEST_LINE) return null;
  if (oldSpans.length === 0 || oldSpans.length !== newSpans.length) return null;
  const said = new Map<string, string>();
  for (let s = 0; s < oldSpans.length; s += 2) {
    const from = before.slice(oldSpans[s], oldSpans[s + 1]);
    const to = after.slice(newSpans[s], newSpans[s + 1]);
    if (!isName(from) || !isName(to) || (said.get(from) ?? to) !== to) return null;
    if (isQuoted(before, oldSpans[s])) return null;
    said.set(from, to);
  }
  // Outside of comments, where the same word may change along or stay, each has to go wherever it stands.
  const left = before.match(WORDS) ?? [];
  const right = after.match(WORDS) ?? [];
  if (left.length !== right.length) return null;
  for (const [n, word] of left.entries()) if (word !== right[n] && said.get(word) !== right[n]) return null;
  return goesOnInComment(file.old, old) || goesOnInComment(file.next, next) ? null : said;
}

/** Whether a place of a line seems to lie within quotes. Where that errs, a line is left to be read. */
function isQuoted(line: string, place: number): boolean {
  let quote = "";
  for (let at = 0; at < place; at++) {
    const character = line[at];
    if (character === "\\") at++;
    else if (quote === "") quote = character === '"' || character === "`" || character === "'" ? character : "";
    else if (character === quote) quote = "";
  }
  return quote !== "";
}

/** The names replaced on a line, where that is all that changed and the grammar proves it; else null. */
function renamedNames(file: ClassedFile, { old: i, next: j }: LinePair): Map<string, string> | null {
  const syntaxes = file.syntaxes();
  if (!syntaxes) return null;
  const { old, next } = syntaxes;
  if (textFrom(old, i) >= 0 || textFrom(next, j) >= 0) return null;
  const left = tokensOn(old, i);
  const right = tokensOn(next, j);
  if (left.length !== right.length || left.length === 0) return null;
  const names = new Map<string, string>();
  for (const [n, a] of left.entries()) {
    const b = right[n];
    const [x, y] = [old.tokens[a], next.tokens[b]];
    if (old.type[x] !== next.type[y]) return null;
    if (n > 0 && old.depth[x] - old.depth[old.tokens[left[0]]] !== next.depth[y] - next.depth[next.tokens[right[0]]])
      return null;
    if (gapOf(old, a, i) !== gapOf(next, b, j)) return null;
    const [from, to] = [tokenText(old, a), tokenText(next, b)];
    if (isKind(old, x, COMMENT) || from === to) continue;
    if (isKind(old, x, TEXT) || !isKind(old, x, NAME) || !isName(from) || !isName(to)) return null;
    if ((names.get(from) ?? to) !== to || confusable(from, to)) return null;
    names.set(from, to);
  }
  if (names.size === 0 || file.old[i].slice(endOf(old, left, i)) !== file.next[j].slice(endOf(next, right, j)))
    return null;
  const targets = new Set(names.values());
  if (targets.size !== names.size) return null;
  for (const [n, a] of left.entries()) {
    const text = tokenText(old, a);
    const now = tokenText(next, right[n]);
    if (isKind(old, old.tokens[a], COMMENT)) {
      // A comment that goes on below is more than this line says.
      if (text.includes("\n") || now.includes("\n") || !sameComment(text, now, names)) return null;
    } else if (text === now && (names.has(text) || targets.has(text))) return null;
    // A name that comes in must not have stood there, nor one that goes still stand there.
    else if (targets.has(text) || names.has(now)) return null;
  }
  return names;
}

function endOf({ end, tokens, lines }: Syntax, on: readonly number[], line: number): number {
  return end[tokens[on[on.length - 1]]] - lines[line];
}

/** Takes away, file by file, the lines of names that change places with each other, or of which two become one or one becomes two. */
function withoutContradictions(files: readonly ClassedFile[], lines: readonly Renamed[]): Renamed[] {
  const toOf = new Map<string, Set<string>>();
  const fromOf = new Map<string, Set<string>>();
  const note = (map: Map<string, Set<string>>, key: string, value: string) => {
    const set = map.get(key) ?? new Set();
    map.set(key, set.add(value));
  };
  const keyed = lines.map((line) => {
    const key = (name: string) => `${line.file}\0${compared(files[line.file].language!, name)}`;
    return { line, names: [...line.names].map(([from, to]) => ({ from, to, fromKey: key(from), toKey: key(to) })) };
  });
  for (const { names } of keyed) {
    for (const { from, to, fromKey, toKey } of names) {
      note(toOf, fromKey, to);
      note(fromOf, toKey, from);
    }
  }
  const isAlone = ({ fromKey, toKey }: { fromKey: string; toKey: string }) =>
    toOf.get(fromKey)!.size === 1 && fromOf.get(toKey)!.size === 1 && !toOf.has(toKey) && !fromOf.has(fromKey);
  return keyed.flatMap(({ line, names }) => (names.every(isAlone) ? [line] : []));
}
