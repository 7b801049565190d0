import { EXECUTABLE, type FileChange, SUBMODULE, SYMLINK, TYPE } from "../diff/tree";
import { RIGHT_TO_LEFT } from "../plain/right-to-left";
import { counted, inFigures, shortened } from "../plain/words";
import type { ClassedFile } from "../quiet/classes";
import { LOCKFILE, type LockSummary } from "../quiet/kinds/lock/lockfile";
import { aboutWords, LONGEST_NAMED } from "./about-words";
import { deceivingAddress } from "./addresses";
import { attributesSentence } from "./attributes";
import type { Caution, CautionKind, Texts } from "./caution";
import { isPlain, oddCharacters, spelled } from "./characters";
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
/** Words with a letter beyond ASCII. */
const FOREIGN = /(?<![\w$])[\w$]*[^\x00-\x7f][\p{L}\p{N}\p{M}_$]*/gu;

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
  let address: { says: string; line: number } | null = null;
  const foreign = new Map<string, number>();
  for (const hunk of hunks) {
    for (let j = hunk.newStart; j < hunk.newEnd; j++) {
      const line = next[j];
      if (line.length > VERY_LONG) first.long ??= j + 1;
      if (line.length > PUSHED / TAB && isPushed(line)) first.pushed ??= j + 1;
      if (!address && line.includes("://")) {
        const says = deceivingAddress(line);
        if (says !== null) address = { says, line: j + 1 };
      }
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
  if (address) cautions.push({ kind: "confusable", ...address });
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
