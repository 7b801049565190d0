import type { ClassedFile } from "./classes";
import { diffLines } from "./lines";

/** Languages in which indentation has a meaning: there a change of it is a change. */
const INDENTED = /\.(?:py|pyi|ya?ml|coffee|haml|slim|pug|nim|sass|styl|fs|fsx|hs|elm|mk)$|(?:^|\/)Makefile$/i;
/** Texts in which two spaces at the end of a line, or an indentation, mean something. */
const PROSE = /\.(?:md|markdown|rst|adoc)$/i;

/** Finds, hunk by hunk, the lines in which only white space or the line ending changed. What stands within quotes has to be the same. */
export function classWhitespace(file: ClassedFile): void {
  if (PROSE.test(file.path)) return;
  const indented = INDENTED.test(file.path);
  let within: { old: ReadonlySet<number>; new: ReadonlySet<number> } | null = null;
  const key = (line: string) => line.replace(/\s+/g, "");
  const indentOf = (line: string) => line.slice(0, line.length - line.trimStart().length);
  for (const hunk of file.hunks) {
    if (hunk.oldStart === hunk.oldEnd || hunk.newStart === hunk.newEnd) continue;
    const old = file.old.slice(hunk.oldStart, hunk.oldEnd).map(key);
    const next = file.next.slice(hunk.newStart, hunk.newEnd).map(key);
    let i = 0;
    let j = 0;
    const couple = (end: number) => {
      for (; i < end; i++, j++) {
        const before = file.old[hunk.oldStart + i];
        const after = file.next[hunk.newStart + j];
        if (before === after || before.trim() === "" || bareText(before) !== bareText(after)) continue;
        within ??= { old: linesWithinText(file.path, file.old), new: linesWithinText(file.path, file.next) };
        const long = within.old.has(hunk.oldStart + i) || within.new.has(hunk.newStart + j);
        if (long && before.replace(/\r$/, "") !== after.replace(/\r$/, "")) continue;
        if (indented && indentOf(before) !== indentOf(after)) continue;
        const kind = before.replace(/\r$/, "") === after.replace(/\r$/, "") ? "endings" : "whitespace";
        file.set("old", hunk.oldStart + i, kind);
        file.set("new", hunk.newStart + j, kind);
      }
    };
    for (const inner of diffLines(old, next)) {
      couple(inner.oldStart);
      i = inner.oldEnd;
      j = inner.newEnd;
    }
    couple(old.length);
  }
}

/** A line without its white space, save what keeps two words apart and what stands within quotes. */
export function bareText(line: string): string {
  let result = "";
  let quote = "";
  let gap = false;
  for (const character of line.trim()) {
    if (quote !== "") {
      result += character;
      if (character === quote) quote = "";
    } else if (/\s/.test(character)) gap = true;
    else {
      if (gap && /[\p{L}\p{N}_]$/u.test(result) && /[\p{L}\p{N}_]/u.test(character)) result += " ";
      gap = false;
      result += character;
      if (character === '"' || character === "'" || character === "`") quote = character;
    }
  }
  return result;
}

/** How texts that go over several lines begin and end, by language. */
const LONG_TEXTS: [files: RegExp, mark: RegExp][] = [
  [/\.(?:[cm]?[jt]sx?|vue|svelte|go)$/i, /`/],
  [/\.(?:pyi?)$/i, /"""|'''/],
  [/\.(?:java|kts?|scala|swift|cs|groovy)$/i, /"""/],
];

/**
 * The lines that begin within a text that was opened on an earlier line: there white space is part of what is said. Told by its marks alone,
 * those in short strings and behind comment signs aside; where it errs, a line is left to be read, or counted as it was before.
 */
function linesWithinText(path: string, lines: readonly string[]): ReadonlySet<number> {
  const within = new Set<number>();
  const mark = LONG_TEXTS.find(([files]) => files.test(path))?.[1];
  if (!mark) return within;
  const token = new RegExp(`\\\\.|${mark.source}|"|'|//|#`, "g");
  const isMark = new RegExp(`^(?:${mark.source})$`);
  const comment = /\.pyi?$/i.test(path) ? "#" : "//";
  let open = "";
  for (const [i, line] of lines.entries()) {
    if (open !== "") within.add(i);
    let short = "";
    for (const [sign] of line.matchAll(token)) {
      if (open !== "") {
        if (sign === open) open = "";
      } else if (short !== "") {
        if (sign === short) short = "";
      } else if (isMark.test(sign)) open = sign;
      else if (sign === comment) break;
      else if (sign === '"' || sign === "'") short = sign;
    }
  }
  return within;
}

/** Added and removed lines with nothing on them. In prose an empty line parts paragraphs: there it counts only beside other changes. */
export function classBlank(file: ClassedFile): void {
  const prose = PROSE.test(file.path);
  for (const hunk of file.hunks) {
    const all = [...file.old.slice(hunk.oldStart, hunk.oldEnd), ...file.next.slice(hunk.newStart, hunk.newEnd)];
    if (prose && all.every((line) => line.trim() === "")) continue;
    for (let i = hunk.oldStart; i < hunk.oldEnd; i++) if (file.old[i].trim() === "") file.set("old", i, "blank");
    for (let j = hunk.newStart; j < hunk.newEnd; j++) if (file.next[j].trim() === "") file.set("new", j, "blank");
  }
}

const IMPORT =
  /^\s*(?:import\s.+\sfrom\s+['"].+['"];?|import\s+(?:static\s+)?[\w.*]+(?:\s+as\s+\w+)?;?|from\s+[\w.]+\s+import\s.+|use\s+[\w:{}, *]+;|using\s+[\w.=\s]+;|#include\s+[<"].+[>"]|(?:const|let|var)\s.+=\s*require\(.+\);?)\s*$/;

/** Whether a line does nothing but bring names in from elsewhere. One imported only for what it does when loaded is none of these. */
export function isImport(line: string): boolean {
  return IMPORT.test(line);
}

/** Import lines that stand elsewhere in the same file, word for word: put into another order. */
export function classImports(file: ClassedFile): void {
  const removed = new Map<string, number[]>();
  for (const hunk of file.hunks) {
    for (let i = hunk.oldStart; i < hunk.oldEnd; i++) {
      const line = file.old[i];
      if (!isImport(line) || !file.isOpen("old", i)) continue;
      const key = line.trim();
      removed.set(key, [...(removed.get(key) ?? []), i]);
    }
  }
  if (removed.size === 0) return;
  for (const hunk of file.hunks) {
    for (let j = hunk.newStart; j < hunk.newEnd; j++) {
      if (!isImport(file.next[j]) || !file.isOpen("new", j)) continue;
      const from = removed.get(file.next[j].trim())?.shift();
      if (from === undefined) continue;
      file.set("old", from, "imports");
      file.set("new", j, "imports");
    }
  }
}
