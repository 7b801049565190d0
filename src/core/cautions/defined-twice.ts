import { type Hunk, hunkAt, isChangedAt } from "../diff/hunk";
import { indentOf } from "../diff/scopes";
import { firstThat } from "../plain/first-that";
import { addTo } from "../plain/grouped";
import { counted, shortened } from "../plain/words";
import type { Caution } from "./caution";
import { visible } from "./visible";

/** A way in which a line gives something a name, where a later one of the same name counts and nothing is wrong about it. */
interface Naming {
  paths: RegExp;
  /** Told by one line; its last group that is there is the name. */
  names: RegExp;
  /** What stands above a line whose name may be there twice. */
  mayRepeat?: RegExp;
}

const NAMINGS: readonly Naming[] = [
  {
    paths: /\.pyi?$/i,
    names: /^[ \t]*(?:async[ \t]+)?(?:def|class)[ \t]+(\w+)/,
    // Properties have several of one name, and so have signatures for types alone.
    mayRepeat: /^[ \t]*@(?:.*\.(?:setter|getter|deleter|register)\b|(?:\w+\.)*(?:overload|property|cached_property)\b)/,
  },
  { paths: /\.(?:rb|rake)$/i, names: /^[ \t]*def[ \t]+((?:self\.)?\w+[?!=]?)/ },
  { paths: /\.(?:sh|bash|zsh|ksh|bats)$/i, names: /^[ \t]*(?:function[ \t]+([\w:.-]+)|([\w:.-]+)[ \t]*\(\))/ },
  {
    paths: /\.(?:[cm]?js|jsx)$/i,
    names:
      /^[ \t]*(?:(?:async[ \t]+)?function\b[ \t]*\*?[ \t]*([\w$]+)|(['"]?)(?!(?:default|case)\b)([\w$-]+)\2[ \t]*:[ \t]+[^;]*$)/,
  },
  { paths: /\.(?:json|geojson|webmanifest)$/i, names: /^[ \t]*"([^"\\]*)"[ \t]*:/ },
  { paths: /\.ya?ml$/i, names: /^[ \t]*(?:"([^"\\]+)"|'([^']+)'|([\w./$*@][^:#"'{}[\]]*))[ \t]*:(?:[ \t]|\r?$)/ },
  { paths: /(?:^|\/)\.env(?:\.[^/]*)?$|\.(?:env|properties)$/i, names: /^[ \t]*(?:export[ \t]+)?([\w.-]+)[ \t]*[=:]/ },
];
/** What belongs to such a line is a text, and names nothing. */
const HOLDS_TEXT = /:[ \t]*[|>][-+0-9]*[ \t]*(?:#.*)?\r?$/;
/** So much of a line is looked at, in UTF-16 units. */
const LOOKED_AT = 400;
/** So many lines beside a changed one are shown. */
const SHOWN = 3;
const LONGEST = 80;

/**
 * Where an added line names what a line that did not change names as well, in the same block and out of sight; and where a line is gone that named what one above it names: the later one counts, and nobody
 * is told. By the look of the lines.
 *
 * @example // a second "def allowed():" at the end of a module
 * // [{ kind: "reads-otherwise", says: "“allowed” is named in line 12 as well: what stands here counts.", line: 340 }]
 */
export function definedTwice(
  path: string,
  { old, next, hunks }: { old: readonly string[]; next: readonly string[]; hunks: readonly Hunk[] },
): Caution[] {
  const naming = NAMINGS.find(({ paths }) => paths.test(path));
  if (!naming || hunks.length === 0) return [];
  const [before, after] = [new Names(old, naming), new Names(next, naming)];
  return [...namedAgain(after, hunks), ...namedOnceLess(before, after, hunks)];
}

function namedAgain(after: Names, hunks: readonly Hunk[]): Caution[] {
  const found: { name: string; line: number; other: number }[] = [];
  for (const { newStart, newEnd } of hunks) {
    for (let line = newStart; line < newEnd; line++) {
      const name = after.nameOf(line);
      const isFar = (at: number) => (at < newStart - SHOWN || at >= newEnd + SHOWN) && !isChangedAt(hunks, "new", at);
      const other = name === null ? undefined : after.others(line, name).find(isFar);
      if (name !== null && other !== undefined && after.maySurprise(line, other)) found.push({ name, line, other });
    }
  }
  if (found.length === 0) return [];
  const [{ name, line, other }] = found;
  const counts = other < line ? "what stands here counts" : "what stands there counts";
  return [said(line, `${quoted(name)} is named in line ${other + 1} as well: ${counts}.`, found.length)];
}

/** Of names that were given twice: the later one counted, and is gone. */
function namedOnceLess(before: Names, after: Names, hunks: readonly Hunk[]): Caution[] {
  const found: { name: string; line: number }[] = [];
  for (const { oldStart, oldEnd } of hunks) {
    for (let line = oldStart; line < oldEnd; line++) {
      const name = before.nameOf(line);
      if (name === null) continue;
      const isFar = (at: number) => at < oldStart - SHOWN && !isChangedAt(hunks, "old", at);
      const other = before.others(line, name).findLast(isFar);
      if (other === undefined || !before.maySurprise(line, other)) continue;
      const now = hunkAt(hunks, "old", other).newStart;
      if (!after.others(now, name).some((at) => at > now)) found.push({ name, line: now });
    }
  }
  if (found.length === 0) return [];
  const [{ name, line }] = found;
  return [said(line, `The last ${quoted(name)} is gone: the one in line ${line + 1} counts now.`, found.length)];
}

const quoted = (name: string) => `“${shortened(visible(name), LONGEST)}”`;

function said(line: number, says: string, many: number): Caution {
  const more = many > 1 ? ` The same goes for ${counted(many - 1, "other name")}.` : "";
  return { kind: "reads-otherwise", says: says + more, line: line + 1 };
}

/** So many of one name are looked at, above a line and below it. */
const MOST = 20;
/** What says nothing, and ends no block. */
const ASIDE = /^[ \t]*(?:#|\/\/|\/?\*|\r?$)/;
const NONE = -1;
/** Of a line that is in no block, since it says nothing. */
const NOWHERE = -2;

/** What lines of a text name. */
class Names {
  private blocks: Blocks | null = null;

  constructor(
    private readonly lines: readonly string[],
    private readonly naming: Naming,
  ) {}

  nameOf(line: number): string | null {
    const [, ...groups] = this.naming.names.exec(this.lines[line].slice(0, LOOKED_AT)) ?? [];
    return groups.findLast((group) => group)?.trim() ?? null;
  }

  /** The nearest of the other lines of the same block that give the same name, 0-based, from above. */
  others(line: number, name: string): readonly number[] {
    this.blocks ??= new Blocks(this.lines, (at) => this.nameOf(at));
    return this.blocks.others(line, name);
  }

  /** Whether nothing above two lines says that they may name the same. */
  maySurprise(...lines: number[]): boolean {
    return !lines.some((line) => this.naming.mayRepeat?.test(this.lines[line - 1] ?? ""));
  }
}

/** What is named in which block of a text; blocks are told by indentation, and each is gone through once. */
class Blocks {
  /** The nearest line above each that is indented less, 0-based. */
  private readonly above: Int32Array;
  private readonly known = new Map<number, Map<string, number[]>>();

  constructor(
    private readonly lines: readonly string[],
    private readonly nameOf: (line: number) => string | null,
  ) {
    this.above = new Int32Array(lines.length).fill(NOWHERE);
    const open: { line: number; indent: number }[] = [];
    for (const [line, text] of lines.entries()) {
      if (ASIDE.test(text)) continue;
      // What parts one text from another.
      const indent = text.startsWith("---") ? -1 : indentOf(text);
      while (open.length > 0 && open[open.length - 1].indent >= indent) open.pop();
      this.above[line] = open.at(-1)?.line ?? NONE;
      open.push({ line, indent });
    }
  }

  others(line: number, name: string): readonly number[] {
    const head = this.above[line];
    if (head === NOWHERE || (head !== NONE && HOLDS_TEXT.test(this.lines[head]))) return [];
    let named = this.known.get(head);
    if (!named) {
      named = new Map();
      for (let at = head + 1; at < this.lines.length; at++) {
        const above = this.above[at];
        if (above !== NOWHERE && above < head) break;
        const found = above === head ? this.nameOf(at) : null;
        if (found !== null) addTo(named, found, at);
      }
      this.known.set(head, named);
    }
    const all = named.get(name) ?? [];
    const here = firstThat(all.length, (at) => all[at] >= line);
    return all.slice(Math.max(0, here - MOST), here + MOST + 1).filter((at) => at !== line);
  }
}
