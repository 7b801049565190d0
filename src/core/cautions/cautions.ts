import type { Hunk } from "../diff/hunk";
import type { LinePair } from "../diff/line-pairs";
import { EXECUTABLE, type FileChange, SUBMODULE, SYMLINK, TYPE } from "../diff/tree";
import { RIGHT_TO_LEFT } from "../plain/right-to-left";
import { counted, inFigures, shortened } from "../plain/words";
import type { ClassedFile } from "../quiet/classes";
import { LOCKFILE, type LockSummary } from "../quiet/kinds/lock/lockfile";
import { attributesSentence } from "./attributes";
import type { Caution, CautionKind } from "./caution";
import { isMixed, isPlain, oddCharacters } from "./characters";
import { confusable, looksPlain, skeleton } from "./confusable";
import { definedTwice } from "./defined-twice";
import { fallTogether } from "./name-twins";
import { readsOtherwise } from "./reads-otherwise";
import { visible } from "./visible";

/** Files that say what is checked, what is hidden and who decides. */
const SETTINGS = /(?:^|\/)(?:\.gitattributes|\.gitmodules|\.gitignore|\.mailmap)$|(?:^|\/)\.lens\//;
const VERY_LONG = 2_000;
/** So much white space within a line, in columns, takes what comes behind it out of sight; and so much at its beginning, where the line looks empty then. */
const PUSHED = 60;
const PUSHED_WHOLE = 100;
const TAB = 4;
const WIDE = /[ \t]{12}[^ \t\r]/;
const ASCII_WORDS = /[A-Za-z_$][\w$]*/g;
const WORDS = /[\p{L}_$][\p{L}\p{N}\p{M}_$]*/gu;
/** Words with a letter beyond ASCII. */
const FOREIGN = /(?<![\w$])[\w$]*[^\x00-\x7f][\p{L}\p{N}\p{M}_$]*/gu;
const MOST_NAMED = 3;
/** So much is quoted of a name, in UTF-16 units: thousands of files can each have one of a megabyte. */
const LONGEST_NAMED = 200;

/** What is in a path that is not seen, or that some machines read another way. */
const ODD_NAMES: [RegExp, string][] = [
  [/(?:^|\/) | (?:\/|$)/, "A name in this path begins or ends with a space."],
  [/\.(?:\/|$)/, "A name in this path ends with a dot, which some machines leave away."],
  [
    RIGHT_TO_LEFT,
    "This path holds letters that are written from right to left: its parts may be shown in another order.",
  ],
  [/[\\:]/, "This path has a sign in it by which some machines part folders or drives."],
  [
    /(?:^|\/)(?:con|prn|aux|nul|com[0-9]|lpt[0-9])[ .]*(?:\.[^/]*)?(?:\/|$)/i,
    "A name in this path is one of a device to some machines: they have no such file.",
  ],
  [
    /(?:^|\/)[^/]{1,6}~[0-9]+(?:\.[^/]{0,3})?(?:\/|$)/,
    "A name in this path looks like the short one that some machines give to another file.",
  ],
];

/** All cautions about one file: what happened to it as a whole, and those of its text, see {@link cautionsInText}. */
export function cautionsOf(
  file: ClassedFile,
  change: FileChange,
  inText: readonly Caution[],
  lock: LockSummary | null,
  attribute: boolean | null = null,
): Caution[] {
  return [
    ...aboutTheFile(file, change),
    ...(lock?.concerns.map((says): Caution => ({ kind: "lockfile", says, line: null })) ?? []),
    ...(lock === null && attribute === null ? unknownLock(file) : []),
    ...inText,
  ];
}

/** Two states of a text and how they differ. */
interface Texts {
  path: string;
  old: readonly string[];
  next: readonly string[];
  hunks: readonly Hunk[];
  pairs: readonly LinePair[];
}

function aboutTheFile(
  { path, oldPath, next, old }: ClassedFile,
  { oldMode, newMode, newId, twin }: FileChange,
): Caution[] {
  const cautions: Caution[] = [];
  const say = (kind: CautionKind, says: string) => cautions.push({ kind, says, line: null });
  if (newMode === EXECUTABLE && oldMode !== EXECUTABLE)
    say("executable", oldMode === 0 ? "A new file that can be run as a program." : "This file was made executable.");
  // Where it leads may have ends of lines in it.
  const target = (newMode & TYPE) === SYMLINK && newId !== null ? next.join("\n") : "";
  if (leavesTree(path, target))
    say("link", `This link leads out of the tree, or can by way of another one: ${shortened(target, LONGEST_NAMED)}`);
  if (oldMode === SUBMODULE && newMode !== SUBMODULE && newMode !== 0)
    say("settings", "What was a pointer into another repository is a file here now.");
  if (twin !== undefined) say("name", twinSentence(path, twin));
  if (oldMode === 0 || oldPath !== path) for (const [odd, says] of ODD_NAMES) if (odd.test(path)) say("name", says);
  if (SETTINGS.test(path)) say("settings", settingsSentence(path, old, next));
  return cautions;
}

function twinSentence(path: string, twin: string): string {
  // It may be a folder that it lies in which has the twin.
  const own = path.split("/").slice(0, twin.split("/").length).join("/");
  if (fallTogether(own, twin))
    return `Machines that do not tell upper from lower case, or one way of writing a letter from another, take this for “${visible(twin)}”: only one of the two is there.`;
  const foreign = /[^\x00-\x7f]/.test(twin) ? twin : own;
  return `“${visible(twin)}” looks the same, and is another name: ${spelled(foreign)}.`;
}

function settingsSentence(path: string, old: readonly string[], next: readonly string[]): string {
  if (path.endsWith(".gitattributes")) return attributesSentence(path, old, next);
  if (path.endsWith(".gitmodules")) return "This file says where the code of submodules comes from.";
  if (path.includes(".lens/")) return "This file says what is checked, or by which rules.";
  return "This file says how the repository is read.";
}

/**
 * Whether a link at a path leads to what does not lie in the tree, or may. What lies above a name is known only where the name is no link itself: behind one that is,
 * `..` can be anywhere. Some machines part folders by `\`, too.
 *
 * @example leavesTree("a/link", "../b") // false
 * @example leavesTree("link", "b/../c") // true: where b is a link to this very folder, c lies beside the tree
 */
export function leavesTree(path: string, target: string): boolean {
  if (/^(?:[/\\]|[A-Za-z]:)/.test(target)) return true;
  let depth = path.split("/").length - 1;
  let isBelow = false;
  for (const [part] of target.matchAll(/[^/\\]+/g)) {
    if (part === ".") continue;
    if (part !== "..") isBelow = true;
    else if (isBelow || --depth < 0) return true;
  }
  return false;
}

function unknownLock({ path, hunks }: ClassedFile): Caution[] {
  if (!LOCKFILE.test(path) || hunks.length === 0) return [];
  const says =
    "This pins what is depended on, and its form is not one that is summed up here: its lines are to be read.";
  return [{ kind: "lockfile", says, line: null }];
}

const SAYS: Record<"hidden" | "direction" | "control" | "space", (n: number, codes: string) => string> = {
  hidden: (n, codes) => `${counted(n, "character")} that cannot be seen: ${codes}.`,
  direction: (n, codes) =>
    `${counted(n, "character")} that ${n === 1 ? "turns" : "turn"} the direction of the text: ${codes}.`,
  control: (n, codes) => `${counted(n, "control character")} within lines: ${codes}.`,
  space: (n, codes) =>
    `${counted(n, "character")} that ${n === 1 ? "looks like a space and is" : "look like a space and are"} none: ${codes}.`,
};

/** What the eye does not see in the lines that were added to a text. */
export function cautionsInText(texts: Texts): Caution[] {
  const { path, next, hunks } = texts;
  const cautions: Caution[] = [];
  const odd = new Map<keyof typeof SAYS, { count: number; line: number; codes: Set<string> }>();
  const first: Partial<Record<"nul" | "long" | "pushed", number>> = {};
  const foreign = new Map<string, number>();
  for (const hunk of hunks) {
    for (let j = hunk.newStart; j < hunk.newEnd; j++) {
      const line = next[j];
      if (line.length > VERY_LONG) first.long ??= j + 1;
      if (line.length > PUSHED / TAB && isPushed(line)) first.pushed ??= j + 1;
      if (isPlain(line)) continue;
      for (const { kind, code, at } of oddCharacters(line)) {
        // Told word by word below.
        if (kind === "letter") continue;
        if (code === "U+FEFF" && j === 0 && at === 0) continue;
        if (code === "U+0000") first.nul ??= j + 1;
        const entry = odd.get(kind) ?? { count: 0, line: j + 1, codes: new Set() };
        entry.count++;
        entry.codes.add(code);
        odd.set(kind, entry);
      }
      for (const [word] of line.slice(0, 20_000).matchAll(FOREIGN)) if (!foreign.has(word)) foreign.set(word, j + 1);
    }
  }
  for (const [kind, { count, line, codes }] of odd)
    cautions.push({ kind, says: SAYS[kind](count, [...codes].slice(0, 6).join(", ")), line });
  if (first.nul) cautions.push({ kind: "nul", says: "A NUL stands in this text.", line: first.nul });
  cautions.push(...aboutWords(texts, foreign));
  if (first.pushed)
    cautions.push({
      kind: "pushed-aside",
      says: "Text stands far to the right, behind many spaces.",
      line: first.pushed,
    });
  if (first.long)
    cautions.push({
      kind: "long-lines",
      says: `Lines of more than ${inFigures(VERY_LONG)} characters.`,
      line: first.long,
    });
  cautions.push(...readsOtherwise(path, texts), ...definedTwice(path, texts));
  return cautions;
}

/** Whether a line goes on behind a long stretch of white space. Each run of it is looked at once. */
function isPushed(line: string): boolean {
  if (!WIDE.test(line)) return false;
  for (const { 0: run, index } of line.matchAll(/[ \t]{12,}/g)) {
    if (index + run.length === line.length || line.slice(index + run.length) === "\r") continue;
    let columns = 0;
    for (const character of run) columns += character === "\t" ? TAB : 1;
    if (columns >= (index === 0 ? PUSHED_WHOLE : PUSHED)) return true;
  }
  return false;
}

/** Words of mixed scripts, and words that look like another of the same file. */
function aboutWords(texts: Texts, foreign: ReadonlyMap<string, number>): Caution[] {
  const cautions: Caution[] = [];
  const mixed = [...foreign].filter(([word]) => isMixed(word));
  if (mixed.length > 0) {
    const named = mixed.slice(0, MOST_NAMED).map(([word]) => quoted(word));
    const says = `${counted(mixed.length, "word")} made of letters of several scripts: ${named.join(", ")}.`;
    cautions.push({ kind: "mixed-scripts", says, line: mixed[0][1] });
  }
  const alike = [...lookalikes(texts, foreign)];
  if (alike.length > 0) {
    const named = alike
      .slice(0, MOST_NAMED)
      .map(({ word, other }) => `${quoted(word)} (${spelled(word)}) and ${quoted(other)}`);
    const says = `Names that look the same and are not: ${named.join("; ")}.`;
    cautions.push({ kind: "confusable", says, line: alike[0].line });
  }
  return cautions;
}

function quoted(word: string): string {
  return `“${shortened(word, LONGEST_NAMED)}”`;
}

/** The characters of a word that are not ASCII, as code points. */
function spelled(word: string): string {
  const odd = [...word].filter((character) => character > "\x7f");
  const shown = odd.length > 0 ? odd : [...word];
  return shown
    .slice(0, 4)
    .map((c) => `U+${c.codePointAt(0)!.toString(16).toUpperCase().padStart(4, "0")}`)
    .join(" ");
}

/** Letters and digits of ASCII that are taken for each other. */
const FOLDS = /[1I|0]|rn/;
/** Sets of characters, one of each of two words at the first place where they differ, if they are the same once folded. */
const FOLDED = ["1Il|", "0O", "rm"];
const fold = (word: string) => word.replace(/[1I|]/g, "l").replaceAll("0", "O").replaceAll("rn", "m");

function canLookAlike(next: string, at: number, end: number, old: string, from: number, to: number): boolean {
  if (end - at <= 2) return false;
  let n = 0;
  while (at + n < end && from + n < to && next[at + n] === old[from + n]) n++;
  const differ = at + n < end && from + n < to;
  return differ && FOLDED.some((set) => set.includes(next[at + n]) && set.includes(old[from + n]));
}

/** The words of two texts, but for some, that look like one of those given, by what they look like; the last one of each. */
function wordsOfLooks(
  texts: readonly (readonly string[])[],
  looks: ReadonlySet<string>,
  but: ReadonlyMap<string, number>,
): Map<string, string> {
  const found = new Map<string, string>();
  const seen = new Set<string>();
  let longest = 0;
  for (const { length } of looks) longest = Math.max(longest, length);
  for (const line of texts.flat()) {
    const text = line.slice(0, 20_000);
    const isAscii = isPlain(text);
    for (const [word] of text.matchAll(isAscii ? ASCII_WORDS : WORDS)) {
      // What ASCII looks like is never shorter.
      if (word.length <= 2 || (isAscii && word.length > longest) || seen.has(word) || but.has(word)) continue;
      seen.add(word);
      const look = skeleton(word);
      if (looks.has(look)) found.set(look, word);
    }
  }
  return found;
}

function* lookalikes(
  { old, next, pairs }: Texts,
  foreign: ReadonlyMap<string, number>,
): Generator<{ word: string; other: string; line: number }> {
  for (const { old: i, next: j, oldSpans, newSpans } of pairs) {
    if (oldSpans.length !== newSpans.length) continue;
    for (let s = 0; s < newSpans.length; s += 2) {
      // Nearly all words that stand for each other differ at once.
      if (!canLookAlike(next[j], newSpans[s], newSpans[s + 1], old[i], oldSpans[s], oldSpans[s + 1])) continue;
      const word = next[j].slice(newSpans[s], newSpans[s + 1]);
      const other = old[i].slice(oldSpans[s], oldSpans[s + 1]);
      if (word.length <= 2 || (!FOLDS.test(word) && !FOLDS.test(other))) continue;
      if (/^[A-Za-z_]\w*$/.test(word) && fold(word) === fold(other)) yield { word, other, line: j + 1 };
    }
  }
  // Only what looks like a word of ASCII alone is taken for another: a word of another language is not.
  const likely = [...foreign].filter(([word]) => looksPlain(word));
  if (likely.length === 0) return;
  const looks = likely.map(([word]) => skeleton(word));
  const found = wordsOfLooks([old, next], new Set(looks), foreign);
  for (const [n, [word, line]] of likely.entries()) {
    const other = found.get(looks[n]);
    if (other && confusable(word, other)) yield { word, other, line };
  }
}
