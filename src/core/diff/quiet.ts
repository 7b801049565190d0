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

/** Added and removed lines with nothing on them. */
export function classBlank(file: ClassedFile): void {
  for (const hunk of file.hunks) {
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
