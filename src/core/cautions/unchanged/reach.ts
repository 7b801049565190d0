import type { LanguageId } from "../../grammar/languages";
import { QUOTED } from "./by-look/enclosures";
import type { Still } from "./still";

/** What begins or ends comments and texts that may go over several lines; of a language of its own where that is more. */
const SIGNS = /\/\*|\*\/|`/;
const OTHER_SIGNS: Partial<Record<LanguageId, RegExp>> = {
  json: /(?!)/,
  python: /"""|'''/,
  toml: /"""|'''/,
  java: /\/\*|\*\/|"""/,
  cpp: /\/\*|\*\/|R"/,
  csharp: /\/\*|\*\/|@|"""/,
  rust: /["`]|\/\*|\*\//,
  ruby: /["'`]|<<|^=|%[\w({[]|__END__/,
  php: /["'`?<]|\*\/|\/\*|__halt_compiler/i,
  bash: /["'`]|<</,
  powershell: /["'`]|<#|#>/,
  yaml: /["'|>]/,
};

/** What stands behind some lines, as far as their look tells; null where it does not. */
type Behind = "code" | "comment" | null;

/**
 * Whether a change may begin or end a comment or text of several lines beyond what changed. Cheap, since all changes are asked: nothing is parsed for it. Most changes hold
 * nothing that could; of others it is told from a few shapes that what stands behind both their states is the same: comments whose lines begin with `*`, texts in backticks that end on
 * their line, texts in three quotes that end within the hunk.
 *
 * @example // true of a hunk that begins a comment and does not end it, false of one with a whole comment above a function
 */
export function mayReachFurther({ old, next, hunks, language }: Still): boolean {
  if (!language) return false;
  const signs = OTHER_SIGNS[language.id] ?? SIGNS;
  const holds = (lines: readonly string[], from: number, to: number) => {
    for (let line = from; line < to; line++) if (signs.test(lines[line])) return true;
    return false;
  };
  const shape = SHAPES[language.id];
  let above: Behind = "code";
  let at = 0;
  for (const { oldStart, oldEnd, newStart, newEnd } of hunks) {
    if (!holds(next, newStart, newEnd) && !holds(old, oldStart, oldEnd)) continue;
    if (!shape) return true;
    for (; at < newStart; at++) above = aboveIt(next[at], above);
    const behind = above && shape(next.slice(newStart, newEnd), above);
    if (behind === null || behind !== shape(old.slice(oldStart, oldEnd), above!)) return true;
  }
  return false;
}

/** A comment goes on at most where one was begun and none was ended since; what begins it may be a text, where something that could hold one stands before it. */
function aboveIt(line: string, above: Behind): Behind {
  const [begins, ends] = [line.lastIndexOf("/*"), line.lastIndexOf("*/")];
  if (begins < 0 && ends < 0) return above;
  if (begins < ends) return "code";
  return mayHoldText(line.slice(0, begins)) ? null : "comment";
}

const HOLDS_TEXT = /["'`/\\]/;

/** Whether a text may stand open behind some code; quotes end on their line. */
function mayHoldText(code: string): boolean {
  return HOLDS_TEXT.test(code.includes("`") ? code : code.replace(QUOTED, ""));
}

/** By language, what stands behind some lines, given what stands above them; where there is none here, it is always asked further. */
const SHAPES: Partial<Record<LanguageId, (lines: readonly string[], above: "code" | "comment") => Behind>> = {
  ...Object.fromEntries(
    ["javascript", "typescript", "tsx", "go", "java", "c", "css"].map((id) => [id, behindComments] as const),
  ),
  python: behindTexts,
};

/** Comments begin behind nothing that could be a text, and backticks stand in pairs on lines that hold nothing else in which one could. */
function behindComments(lines: readonly string[], above: "code" | "comment"): Behind {
  let now = above;
  for (const line of lines) {
    let rest = line;
    if (now === "comment") {
      const end = rest.indexOf("*/");
      if ((end < 0 ? rest : rest.slice(0, end)).includes("`") && !/^[ \t]*\*/.test(rest)) return null;
      if (end < 0) continue;
      rest = rest.slice(end + 2);
      if (/`|"""/.test(rest)) return null;
      now = "code";
    }
    const begins = rest.indexOf("/*");
    const code = begins < 0 ? rest : rest.slice(0, begins);
    if (code.includes("*/") || code.includes('"""')) return null;
    if (begins < 0) {
      if (code.includes("`") && !holdsPairs(code)) return null;
      continue;
    }
    if (mayHoldText(code)) return null;
    const comment = rest.slice(begins + 2);
    const end = comment.indexOf("*/");
    if (ticksIn(comment) % 2 > 0 || /\/\*|\*\/|`|"""/.test(end < 0 ? "" : comment.slice(end + 2))) return null;
    if (end < 0) now = "comment";
  }
  return now;
}

/** Whether the backticks of a line of code stand in pairs: all of them in quotes, or in a comment, or none, with no quotes around what they hold. */
function holdsPairs(code: string): boolean {
  const parts = code.split("`");
  if (parts.length % 2 === 0) return false;
  const arePairs = parts.every((part, n) => (n % 2 > 0 ? !/\\|\/\//.test(part) : !mayHoldText(part)));
  const comment = code.indexOf("//");
  return (
    arePairs || (comment >= 0 && !mayHoldText(code.slice(0, comment))) || !HOLDS_TEXT.test(code.replace(QUOTED, ""))
  );
}

function ticksIn(text: string): number {
  let count = 0;
  for (let at = text.indexOf("`"); at >= 0; at = text.indexOf("`", at + 1)) count++;
  return count;
}

/** Texts in three quotes of one kind, as many ends as beginnings, on lines with nothing else in which such quotes could stand. */
function behindTexts(lines: readonly string[]): Behind {
  const counts = new Map<string, number>();
  for (const line of lines) {
    const parts = line.split(/("""|''')/);
    for (const [n, part] of parts.length > 1 ? parts.entries() : []) {
      if (n % 2 > 0) counts.set(part, (counts.get(part) ?? 0) + 1);
      else if (/["'#\\]/.test(part)) return null;
    }
  }
  return counts.size <= 1 && [...counts.values()].every((count) => count % 2 === 0) ? "code" : null;
}
