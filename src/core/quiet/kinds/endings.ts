import { diffLines } from "../../diff/lines";
import { beginsWithinText } from "../../grammar/syntax";
import type { ClassedFile } from "../classes";
import { printsText } from "./layout-stretches";

/** Texts for people, and markup whose readers take `\r\n` for `\n`. */
const MARKUP = /\.(?:md|markdown|rst|adoc|html?|xhtml|xml|svg)$/i;

/**
 * Finds the lines of which only the ending went from `\n` to `\r\n` or back. Proof: the language reads both alike, within its texts too or
 * the line does not end within one; never in a file that a first line `#!…` runs, nor in scripts of shells, nor where nothing is known.
 */
export function classEndings(file: ClassedFile): void {
  const language = file.language;
  const markup = !language && MARKUP.test(file.path) && MARKUP.test(file.oldPath);
  if (!markup && (!language || language.endings === "never")) return;
  if (file.old[0]?.startsWith("#!") || file.next[0]?.startsWith("#!")) return;
  for (const hunk of file.hunks) {
    if (hunk.oldStart === hunk.oldEnd || hunk.newStart === hunk.newEnd) continue;
    const old = file.old.slice(hunk.oldStart, hunk.oldEnd);
    const next = file.next.slice(hunk.newStart, hunk.newEnd);
    if (!old.some(returns) && !next.some(returns)) continue;
    let i = 0;
    let j = 0;
    const couple = (end: number) => {
      for (; i < end; i++, j++) {
        if (old[i] === next[j] || !mayEnd(file, hunk.oldStart + i, hunk.newStart + j)) continue;
        file.set("old", hunk.oldStart + i, "endings");
        file.set("new", hunk.newStart + j, "endings");
      }
    };
    for (const inner of diffLines(old.map(cut), next.map(cut))) {
      couple(inner.oldStart);
      i = inner.oldEnd;
      j = inner.newEnd;
    }
    couple(old.length);
  }
}

function returns(line: string): boolean {
  return line.endsWith("\r");
}

function cut(line: string): string {
  return line.endsWith("\r") ? line.slice(0, -1) : line;
}

function mayEnd(file: ClassedFile, i: number, j: number): boolean {
  const { language } = file;
  // A backslash before the end of a line takes the end away, in one of the two only.
  if (cut(file.next[j]).endsWith("\\")) return false;
  if (!language || language.endings === "free") return true;
  const syntaxes = file.syntaxes();
  if (!syntaxes || printsText(file)) return false;
  const { old, next } = syntaxes;
  const within = (syntax: typeof old, line: number) =>
    line + 2 < syntax.lines.length && beginsWithinText(syntax, line + 1);
  return !within(old, i) && !within(next, j);
}
