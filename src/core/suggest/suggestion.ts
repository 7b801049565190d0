import { done, type Outcome, refuse } from "../plain/outcome";
import { counted } from "../plain/words";

/** Other text for some lines of a file: 1-based, both ends included. Lines are without their endings, `was` as well as `lines`. */
export interface Suggestion {
  id: string;
  start: number;
  end: number;
  was: string[];
  /** Empty to take the lines away. */
  lines: string[];
}

export const MOST_SUGGESTIONS = 20;
export const LONGEST_SUGGESTION = 1_000;

/** What is wrong with the suggestions of one remark, in a sentence; null when nothing is. */
export function wrongSuggestions(suggestions: readonly Suggestion[], where: string): string | null {
  if (suggestions.length > MOST_SUGGESTIONS)
    return `One remark can carry ${MOST_SUGGESTIONS} suggestions; the one on ${where} has ${suggestions.length}.`;
  for (const { start, end, was, lines } of suggestions) {
    const lines_ = start === end ? `line ${start}` : `lines ${start} to ${end}`;
    if (start < 1 || end < start || was.length !== end - start + 1)
      return `A suggestion on ${where} stands on lines that do not exist.`;
    if (lines.length > LONGEST_SUGGESTION)
      return `A suggestion has at most ${LONGEST_SUGGESTION} lines; the one for ${lines_} of ${where} has ${lines.length}.`;
    if (sameLines(was, lines))
      return `The suggestion for ${lines_} of ${where} changes nothing: edit it, or take it out.`;
  }
  const clash = overlapping(suggestions);
  if (clash) return `Two suggestions in one remark on ${where} want the same line ${clash[1].start}.`;
  return null;
}

/** Whether each goes by an id that is in `known` for none yet, nor for another of them. Adds their ids to it. */
export function haveOwnIds(suggestions: readonly Suggestion[], known: Set<string>): boolean {
  for (const { id } of suggestions) {
    if (known.has(id)) return false;
    known.add(id);
  }
  return true;
}

/** Whether two suggest the same for the same lines, whichever ids they go by. */
export function sameSuggestion(a: Suggestion, b: Suggestion): boolean {
  return a.start === b.start && a.end === b.end && sameLines(a.was, b.was) && sameLines(a.lines, b.lines);
}

export function sameLines(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && a.every((line, i) => line === b[i]);
}

/** The first two that want the same lines; null when none do. */
export function overlapping<S extends { start: number; end: number }>(suggestions: readonly S[]): [S, S] | null {
  const sorted = [...suggestions].sort((a, b) => a.start - b.start || a.end - b.end);
  for (let i = 1; i < sorted.length; i++) if (sorted[i].start <= sorted[i - 1].end) return [sorted[i - 1], sorted[i]];
  return null;
}

/** The message a commit of taken suggestions gets unless someone edits it. */
export function suggestionMessage(titles: readonly string[]): string {
  const [only] = titles;
  if (titles.length === 1) return `Take a suggestion: ${only}\n`;
  return `Take ${counted(titles.length, "suggestion")}\n\n${titles.map((title) => `- ${title}`).join("\n")}\n`;
}

/** A commit message with a `Co-authored-by` trailer for each person, once, in a block of their own at the end. */
export function creditIn(message: string, people: readonly { name: string; email: string }[]): string {
  const known = new Set(message.split("\n").map((line) => line.trim().toLowerCase()));
  const trailers = new Set<string>();
  for (const { name, email } of people) {
    const clean = (text: string) => text.replace(/[<>\n\r]/g, " ").trim();
    const trailer = `Co-authored-by: ${clean(name)} <${clean(email)}>`;
    if (!known.has(trailer.toLowerCase())) trailers.add(trailer);
  }
  const text = message.trimEnd();
  if (trailers.size === 0) return `${text}\n`;
  const last = text.slice(text.lastIndexOf("\n\n") + 1).trim();
  const hasTrailers = text.includes("\n\n") && last.split("\n").every((line) => /^[A-Za-z][\w-]*: \S/.test(line));
  return `${text}${hasTrailers ? "\n" : "\n\n"}${[...trailers].join("\n")}\n`;
}

/** One suggestion to be carried out on a text as it is now. */
export interface Edit {
  start: number;
  end: number;
  was: readonly string[];
  lines: readonly string[];
  /** What to call it when it cannot be done. */
  name: string;
}

/**
 * Carries edits out on the lines of a text. Each has to find its lines there as they were, and no two may want the same line. New lines get
 * the ending that the ones they stand for had: `\r` where most of them, or else most of the text, ends so.
 */
export function applyEdits(lines: readonly string[], edits: readonly Edit[]): Outcome<string[]> {
  const clash = overlapping(edits);
  if (clash) {
    return refuse(
      "conflict",
      `${clash[0].name} and ${clash[1].name} want the same line ${clash[1].start}. Put one of them back.`,
    );
  }
  const returns = mostReturn(lines);
  const result: string[] = [];
  let at = 0;
  for (const edit of [...edits].sort((a, b) => a.start - b.start)) {
    const now = lines.slice(edit.start - 1, edit.end);
    if (!sameLines(now.map(bare), edit.was))
      return refuse("conflict", `The lines of ${edit.name} have changed since. Put it back, or ask for a new one.`);
    const ending = (now.length > 0 ? mostReturn(now) : returns) ? "\r" : "";
    result.push(...lines.slice(at, edit.start - 1), ...edit.lines.map((line) => bare(line) + ending));
    at = edit.end;
  }
  result.push(...lines.slice(at));
  return done(result);
}

/** A line without its `\r`. */
export function bare(line: string): string {
  return line.endsWith("\r") ? line.slice(0, -1) : line;
}

function mostReturn(lines: readonly string[]): boolean {
  let returns = 0;
  for (const line of lines) if (line.endsWith("\r")) returns++;
  return returns * 2 > lines.length;
}
