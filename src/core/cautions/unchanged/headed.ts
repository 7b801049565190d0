import { hunkAt, isChangedAt } from "../../diff/hunk";
import { indentOf } from "../../diff/scopes";
import { counted, shortened } from "../../plain/words";
import type { Caution } from "../caution";
import { goesOnIn } from "./likeness";
import { longRuns, saidOfRuns } from "./runs";
import type { Still } from "./still";

/** A line belongs to the nearest one above it of a lower rank. */
type Rank = number;
/** The rank of a line that nothing belongs to. */
const PLAIN: Rank = Number.POSITIVE_INFINITY;
/** That of one that says nothing, and which ends nothing. */
const NOTHING: Rank = Number.NaN;
/** That of one behind which lines belong to none. */
const END: Rank = Number.NEGATIVE_INFINITY;

/** A format in which lines belong to one that stands above them, by their look. */
interface Format {
  paths: RegExp;
  /** Of a line that is not blank. */
  rankOf: (line: string) => Rank;
  /** Whether something belongs to a line of a rank, or may; by its look. */
  mayHold?: RegExp;
}

/** What begins part of a file, and all below it belongs to, until the next one of these. */
const parts = (paths: RegExp, head: RegExp, comment: RegExp): Format => ({
  paths,
  rankOf: (line) => (head.test(line) ? 0 : comment.test(line) ? NOTHING : PLAIN),
});

const FORMATS: readonly Format[] = [
  parts(
    /\.(?:ini|cfg|conf|cnf|editorconfig|gitconfig|gitmodules|hgrc|coveragerc|flake8|pylintrc|desktop|service|timer|socket|mount|target|network|netdev|reg|inf)$/i,
    // Many readers take what stands behind it on its line for a value, or for nothing.
    /^[ \t]*\[[^\]]*\]/,
    /^[ \t]*[#;]/,
  ),
  parts(/(?:\.toml|(?:^|\/)Pipfile)$/i, /^[ \t]*\[\[?(?:[^\]["',]|"[^"]*"|'[^']*')+\]\]?[ \t]*(?:#|\r?$)/, /^[ \t]*#/),
  parts(/(?:^|\/)(?:Docker|Container)file[^/]*$|\.dockerfile$/i, /^[ \t]*FROM[ \t]/i, /^[ \t]*#/),
  // What belongs to a target begins with a tab. Conditions between are no end of it, all else is.
  {
    paths: /(?:^|\/)(?:GNU)?makefile(?:\.[^/]*)?$|\.(?:mk|mak)$/i,
    rankOf: (line) => {
      if (line.startsWith("\t")) return PLAIN;
      if (/^(?:[ #]|(?:if(?:n?(?:def|eq))?|else|endif)\b)/.test(line)) return NOTHING;
      return /^[^\s#:=][^#:=]*::?(?![:=])/.test(line) ? 0 : END;
    },
  },
  // By how far it is indented; an item of a list belongs to a key that is indented as far.
  {
    paths: /\.ya?ml$/i,
    rankOf: (line) => {
      if (/^(?:---|\.\.\.)(?:[ \t]|\r?$)/.test(line)) return -1;
      if (/^[ \t]*#/.test(line)) return NOTHING;
      return 2 * indentOf(line) + (/^[ \t]*-(?:[ \t]|\r?$)/.test(line) ? 1 : 0);
    },
    // An item, or a key without a value, or with one that says no more than what it is.
    mayHold: /^[ \t]*-|[:{}[\]|>][ \t]*(?:[ \t]#.*)?\r?$|:[ \t]+[&!|>]/,
  },
];

/** So much is quoted of a head, in UTF-16 units. */
const LONGEST = 80;

/**
 * Where lines that did not change belong to another head than before, as in formats in which a line says what those below it are about: sections, targets, keys.
 *
 * @example // "[trial]" was put above ten lines of "[harbour]"
 * // [{ kind: "switched", says: "10 unchanged lines stand under “[trial]” now, and stood under “[harbour]”.", line: 3 }]
 */
export function headedLines(file: Still): Caution[] {
  const format = FORMATS.find(({ paths }) => paths.test(file.path));
  const runs = format ? longRuns(file) : [];
  if (!format || runs.length === 0) return [];
  const heads = new Heads(file, format);
  return saidOfRuns(
    runs,
    (old, next) => heads.says(old, next),
    (count) => `under ${counted(count, "other head")} now`,
  );
}

/** Of each line of a text, its rank, and which one it belongs to, 0-based; -1 for none. */
class Belonging {
  readonly rank: Float64Array;
  readonly head: Int32Array;

  constructor(lines: readonly string[], { rankOf }: Format) {
    this.rank = new Float64Array(lines.length);
    this.head = new Int32Array(lines.length);
    const open: number[] = [];
    let isFirst = true;
    for (let i = 0; i < lines.length; i++) {
      const rank = lines[i].trim() === "" ? NOTHING : rankOf(lines[i]);
      this.rank[i] = rank;
      while (open.length > 0 && this.rank[open[open.length - 1]] >= rank) open.pop();
      this.head[i] = Number.isNaN(rank) || open.length === 0 ? -1 : open[open.length - 1];
      // What begins a whole text parts nothing from anything.
      if (rank < PLAIN && rank > END && !(isFirst && rank < 0)) open.push(i);
      isFirst &&= Number.isNaN(rank);
    }
  }
}

/** Tells what lines belong to, before and after. */
class Heads {
  private readonly before: Belonging;
  private readonly after: Belonging;
  private readonly said = new Map<string, string | null>();

  constructor(
    private readonly file: Still,
    private readonly format: Format,
  ) {
    this.before = new Belonging(file.old, format);
    this.after = new Belonging(file.next, format);
  }

  /** Null where it belongs to what it did. Each two heads are looked at once, however many belong to them. */
  says(old: number, next: number): string | null {
    const passed: string[] = [];
    let [was, is] = [this.before.head[old], this.after.head[next]];
    let says: string | null = null;
    while (was >= 0 || is >= 0) {
      const key = `${was} ${is}`;
      const known = this.said.get(key);
      if (known !== undefined) {
        says = known;
        break;
      }
      passed.push(key);
      if (!this.areSame(was, is)) {
        says = this.sentence(was, is);
        break;
      }
      [was, is] = [this.before.head[was], this.after.head[is]];
    }
    for (const key of passed) this.said.set(key, says);
    return says;
  }

  private sentence(was: number, is: number): string {
    const quoted = (lines: readonly string[], line: number) =>
      line < 0 ? "nothing" : `“${shortened(lines[line].trim(), LONGEST)}”`;
    const [before, now] = [quoted(this.file.old, was), quoted(this.file.next, is)];
    return before === now ? `under another ${now} than before` : `under ${now} now, and stood under ${before}`;
  }

  /** Whether two heads are one: the same line, or one that was written anew, unless it goes on in another one. */
  private areSame(was: number, is: number): boolean {
    if (was < 0 || is < 0) return false;
    const { hunks, old, next } = this.file;
    const { mayHold } = this.format;
    const [from, to] = [hunkAt(hunks, "old", was), hunkAt(hunks, "new", is)];
    if (from.oldStart !== to.oldStart || from.newStart !== to.newStart) return false;
    if (!isChangedAt(hunks, "old", was)) return true;
    const heads = (lines: readonly string[], { rank }: Belonging, like: Rank, start: number, end: number) =>
      Array.from({ length: end - start }, (_, n) => start + n).filter(
        (i) => rank[i] === like && (mayHold?.test(lines[i]) ?? true),
      );
    const begun = heads(old, this.before, this.before.rank[was], from.oldStart, from.oldEnd);
    const others = heads(next, this.after, this.after.rank[is], to.newStart, to.newEnd).filter((line) => line !== is);
    const said = others.map((line) => next[line]);
    return others.length < begun.length || !goesOnIn(old[was], next[is], said);
  }
}
