import { type Verdict, verdict, type Weight } from "../../review/shapes";
import type { FormProblem } from "./form";

/** What somebody wrote at one place of a form. */
export interface Own {
  /** The line at which it begins, 1-based. */
  at: number;
  body: string;
  weight: Weight;
  resolves: boolean;
  /** How many lines it is about. */
  span: number;
  suggests: string[] | null;
  verdicts: { at: number; value: Verdict }[];
  tasks: { at: number; body: string; person: string | null }[];
  problems: FormProblem[];
}

type Take = (own: Own, said: string, at: number) => void;

const no = (own: Own, line: number, says: string) => void own.problems.push({ line, says });

/** The words of a form that mean something, each at the beginning of a line and before a colon. */
const WORDS: Record<string, Take> = {
  verdict: (own, said, at) => {
    const value = verdict.options.find((one) => one === said.toLowerCase().replace(/\s+/g, "-"));
    if (value) own.verdicts.push({ at, value });
    else no(own, at, `“${said}” is no verdict: it is ${verdict.options.join(", ")}.`);
  },
  task: (own, said, at) => {
    const [, person = null, body] = /^(?:@([a-z0-9][a-z0-9._-]*)[:,]?\s+)?(.*)$/s.exec(said) ?? [null, null, ""];
    if (body === "") no(own, at, "Say what the task is, behind “task:”.");
    else own.tasks.push({ at, body, person });
  },
  lines: (own, said, at) => {
    if (/^[1-9]\d{0,2}$/.test(said)) own.span = Number(said);
    else no(own, at, "Say how many lines it is about: “lines: 3” are this one and the two above it.");
  },
};

/** Words that stand alone on a line. */
const ALONE: Record<string, (own: Own) => void> = {
  resolve: (own) => {
    own.resolves = true;
  },
  aside: (own) => {
    own.weight = "aside";
  },
};

const SUGGEST = /^suggest(?:ion)?:\s*(.*)$/i;

/**
 * Reads what somebody wrote between two quotations. `first` is its line, 1-based. A word that is meant for us and misspelt is a problem; a line that is
 * to begin with such a word, or with `>`, has a backslash before it.
 */
export function readOwn(lines: readonly string[], first: number): Own {
  const own: Own = {
    at: first,
    body: "",
    weight: "settle",
    resolves: false,
    span: 1,
    suggests: null,
    verdicts: [],
    tasks: [],
    problems: [],
  };
  const body: string[] = [];
  const begun = lines.findIndex((line) => line.trim() !== "");
  if (begun > 0) own.at = first + begun;
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i];
    const at = first + i;
    const [, told] = SUGGEST.exec(line) ?? [];
    if (told !== undefined) {
      const until = lines.findIndex((one, n) => n > i && /^end$/i.test(one.trim()));
      const end = until < 0 ? lines.length : until;
      takeSuggestion(own, lines.slice(i + 1, end), told.trim(), at);
      i = end;
      continue;
    }
    const [, word, said] = /^([a-z]+):(?:\s+(.*))?$/i.exec(line) ?? [];
    const key = word?.toLowerCase() ?? "";
    if (Object.hasOwn(WORDS, key)) WORDS[key](own, (said ?? "").trim(), at);
    else if (Object.hasOwn(ALONE, line.trim().toLowerCase())) ALONE[line.trim().toLowerCase()](own);
    else if (word !== undefined && meant(key))
      no(
        own,
        at,
        `“${word}:” means nothing here. Is it “${meant(key)}:”? A line that is to begin so has a backslash before it.`,
      );
    else body.push(line.replace(/^\\(?=[>\\a-z])/i, ""));
  }
  own.body = body.join("\n").trim();
  return own;
}

function takeSuggestion(own: Own, lines: readonly string[], told: string, at: number): void {
  if (own.suggests !== null) {
    no(own, at, "Two suggestions for the same lines: leave one, or end it with a line “end”.");
    return;
  }
  let end = lines.length;
  while (end > 0 && lines[end - 1].trim() === "") end--;
  const given = lines.slice(0, end);
  if (/^nothing$/i.test(told)) {
    own.suggests = [];
    if (given.length > 0)
      no(own, at, "“suggest: nothing” removes the line, and something stands under it. End it with a line “end”.");
  } else if (told !== "") no(own, at, "The lines to stand there begin on the line after “suggest:”.");
  else if (given.length === 0) no(own, at, "Nothing stands under “suggest:”. To remove the line: “suggest: nothing”.");
  else own.suggests = given;
}

/** The word that a misspelt one is one letter away from. */
function meant(word: string): string | null {
  return ["verdict", "suggest", "task", "lines"].find((one) => one !== word && isNear(word, one)) ?? null;
}

/** One letter more, less, or another one; or two that changed places. */
function isNear(a: string, b: string): boolean {
  if (Math.abs(a.length - b.length) > 1) return false;
  let start = 0;
  while (start < a.length && a[start] === b[start]) start++;
  const rest = (n: number, m: number) => a.slice(start + n) === b.slice(start + m);
  const swapped = a[start] === b[start + 1] && a[start + 1] === b[start] && rest(2, 2);
  return rest(1, 1) || rest(1, 0) || rest(0, 1) || swapped;
}
