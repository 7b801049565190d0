import type { Hunk } from "../diff/hunk";
import { withoutEnd } from "../plain/without-end";
import type { Caution } from "./caution";

/** A text after the change, and where it was changed. */
interface Changed {
  next: readonly string[];
  hunks: readonly Hunk[];
}

/** A way in which a language reads a text otherwise than it looks. */
interface Trick {
  paths: RegExp;
  /** Whether a line does so, given the one behind it; lines without their ends. */
  holds: (line: string, behind: string) => boolean;
  says: string;
}

/** So much of a line is looked at but for its end, in UTF-16 units: longer ones have a caution of their own. */
const LOOKED_AT = 20_000;

const C_KIN = /\.(?:[ch]|cc|cpp|cxx|hh|hpp|hxx|ipp|inl|mm?|cu|ino)$/i;
const MADE = /(?:^|\/)(?:GNU)?[Mm]akefile(?:\.[^/]*)?$|\.(?:mk|mak|tcl)$/;
const IN_SHELLS = /\.(?:sh|bash|zsh|ksh|bats)$|(?:^|\/)(?:(?:Docker|Container)file[^/]*|[^./]+)$/;

/** Escapes of Java for signs that are on every keyboard, and for the ends of lines. */
const PLAIN_ESCAPE = /(?<!\\)(?:\\\\)*\\u+00(?:0[ad]|[2-6][0-9a-f]|7[0-9a-e])/i;

/** An escape for a letter, a digit, `_` or `$`, right beside another of them: a name that is not what it looks like, or a word of a text that is none. */
const NAME_ESCAPE =
  /(?:[A-Za-z0-9_$]|(?<!\\)(?=\\u(?:00|0{6}|\{0*)[0-9a-f]{2}\}?[A-Za-z0-9_$]))\\u(?:00|0{6}|\{0*)(?:24|3\d|4[1-9a-f]|5[0-9af]|6[1-9a-f]|7[0-9a])/i;

const TRICKS: readonly Trick[] = [
  {
    paths: C_KIN,
    holds: (line, behind) => goesOn(line) && endsInComment(line, "//") && isCode(behind, "//"),
    says: "A comment that ends in a backslash takes in the line below it, which is no code then.",
  },
  {
    paths: MADE,
    holds: (line, behind) => goesOn(line) && endsInComment(line, "#") && isCode(behind, "#"),
    says: "A comment that ends in a backslash takes in the line below it, which is no code then.",
  },
  {
    paths: IN_SHELLS,
    holds: (line, behind) =>
      /\\[ \t]+\r?$/.test(line.slice(-LOOKED_AT)) && !endsInComment(line, "#") && isCode(behind, "#"),
    says: "Behind a backslash at the end of a line stands a space: the command ends there, and the line below it is another one.",
  },
  {
    paths: /\.psm?1$/i,
    holds: (line, behind) => /`[ \t]+\r?$/.test(line.slice(-LOOKED_AT)) && isCode(behind, "#"),
    says: "Behind a backtick at the end of a line stands a space: the command ends there, and the line below it is another one.",
  },
  {
    paths: /\.java$/,
    holds: (line) => line.includes("\\u") && PLAIN_ESCAPE.test(line.slice(0, LOOKED_AT)),
    says: "An escape stands for a sign of code or for the end of a line: Java reads it as that before anything else, in comments and texts, too.",
  },
  {
    paths: /\.(?:[cm]?[jt]sx?|cs|vue|svelte)$/i,
    holds: (line) => /\\u/i.test(line) && NAME_ESCAPE.test(line.slice(0, LOOKED_AT)),
    says: "An escape stands for a letter within a word: what the word is does not show.",
  },
  {
    paths: /\.(?:php|phtml|inc)$/i,
    holds: leavesComment,
    says: "What stands behind “?>” on the line of a comment is not part of it: PHP ends the comment there.",
  },
  {
    paths: /\.sql$/i,
    holds: (line) => /\/\*M?!/.test(line),
    says: "A comment that begins with “/*!” is run as code by some databases.",
  },
];

/** What a text is written in, as its first or second line says it. */
const CODING = /^[ \t\f]*#.{0,200}?coding[:=][ \t]*([-\w.]{1,40})/;
/** Those in which each sign of ASCII is the one that it looks like. */
const USUAL =
  /^(?:utf[-_]?8(?:[-_]sig)?|(?:us[-_])?ascii|latin[-_]?1|iso[-_]8859[-_]\d+|windows[-_]125\d|cp125\d|binary)$/i;

/** What a language reads otherwise than it looks, in the lines that were added to a text, each way once. */
export function readsOtherwise(path: string, { next, hunks }: Changed): Caution[] {
  const cautions: Caution[] = [];
  const say = (says: string, line: number) => cautions.push({ kind: "reads-otherwise", says, line });
  for (const { paths, holds, says } of TRICKS) {
    if (!paths.test(path)) continue;
    const line = firstLine(next, hunks, holds);
    if (line !== null) say(says, line + 1);
  }
  if (/\.(?:pyw?|rb|rake)$/i.test(path) && hunks.length > 0) {
    for (const [n, line] of next.slice(0, 2).entries()) {
      const coding = CODING.exec(line)?.[1];
      if (coding && !USUAL.test(coding))
        say(
          `The text says that it is written in “${coding}”: its signs, those of comments too, can mean others.`,
          n + 1,
        );
    }
  }
  return cautions;
}

/** The first line, 0-based, of which something holds that was added, or has an added one behind it. */
function firstLine(next: readonly string[], hunks: readonly Hunk[], holds: Trick["holds"]): number | null {
  for (const { newStart, newEnd } of hunks) {
    for (let line = Math.max(0, newStart - 1); line < newEnd; line++)
      if (holds(next[line], next[line + 1] ?? "")) return line;
  }
  return null;
}

/** Whether a line ends in a backslash, or in what stands for one; compilers overlook white space behind it. */
function goesOn(line: string): boolean {
  const end = withoutEnd(line.slice(-LOOKED_AT), " \t\r");
  return end.endsWith("\\") || end.endsWith("??/");
}

/** Whether a comment begins on a line, outside of texts in double quotes: `#` only behind white space. */
function endsInComment(line: string, sign: "//" | "#"): boolean {
  let isQuoted = false;
  for (let at = 0; at < line.length && at < LOOKED_AT; at++) {
    if (line[at] === '"' && line[at - 1] !== "\\") isQuoted = !isQuoted;
    else if (!isQuoted && line.startsWith(sign, at) && (sign !== "#" || /^\s?$/.test(line[at - 1] ?? ""))) return true;
  }
  return false;
}

/** Whether the code of PHP ends within a comment of one line, and something follows. */
function leavesComment(line: string): boolean {
  const looked = line.slice(0, LOOKED_AT);
  const end = looked.indexOf("?>");
  const comment = looked.search(/(?:^|[;{}])[ \t]*(?:\/\/|#(?!\[))/);
  return (
    comment >= 0 && comment < end && !looked.slice(comment, end).includes("<?") && looked.slice(end + 2).trim() !== ""
  );
}

/** Whether a line says something that is no comment. */
function isCode(line: string, sign: string): boolean {
  const said = line.trim();
  return said !== "" && !said.startsWith(sign);
}
