import { visible } from "../../cautions/visible";
import type { FormFile, FormLine, FormThread, FormView, Place } from "./form";

const WHOLE: Place = { kind: "whole" };

/**
 * The lines of a form, in order. Every line of a file has its numbers and its sign, so that one alone tells where it stands; odd characters
 * are written out.
 *
 * @example A line of a file: ` 12   14    return berth;`, an added one: `+     15    return null;`
 */
export function formLines(view: FormView): FormLine[] {
  return [...head(view), ...toFill(view), ...view.threads.flatMap(threadLines), ...view.files.flatMap(linesOf(view))];
}

/** A form as it is sent out: every line of ours behind `> `, and what is to be filled in. */
export function writeForm(view: FormView): string {
  const quoted = (lines: readonly FormLine[]) => lines.map(({ text }) => `> ${text}`.trimEnd());
  const parts = [
    quoted(head(view)),
    view.own ? [] : ["", ...toFill(view).map(({ text }) => text), ""],
    quoted([...view.threads.flatMap(threadLines), ...view.files.flatMap(linesOf(view))]),
  ];
  return `${parts.flat().join("\n")}\n`;
}

/** By which a form is known again: written first, and read from wherever it stands. */
export function formMark({
  repository,
  number,
  revision,
  since,
  key,
}: Pick<FormView, "repository" | "number" | "revision" | "since" | "key">): string {
  const later = since === null ? "" : ` since r${since}`;
  return `change set ${number} of ${repository}, r${revision}${later} [${key}]`;
}

const HELP = [
  "Write under a line to remark on it, under a thread to answer, up here for a closing word.",
  "A line that begins with > is not yours, and can be left away. Other words: docs/text-form.md",
];

function head(view: FormView): FormLine[] {
  const { title, description, author, source, target, gate, own, since } = view;
  const verdicts = own ? [] : ["verdict: none, approve or request-changes."];
  const part = since === null ? [] : [`Only what is new since r${since} is shown; without --since it is the whole.`];
  const lines = [
    ...[formMark(view), ...HELP, ...verdicts, ...part, ""],
    ...[title, `by ${author}, from ${source} into ${target}`, ""],
    ...description.split("\n"),
    ...["", "Before it merges:"],
    ...gate.map(({ met, says, who }) => `  ${met ? "met    " : "not met"}  ${says}${who ? ` ${who}` : ""}`),
    "",
  ];
  return lines.map((text) => ({ text: visible(text), place: WHOLE }));
}

/** What is to be filled in: as it was sent, where an answer quotes it. */
function toFill({ own }: FormView): FormLine[] {
  return own ? [] : [{ text: "verdict: none", place: WHOLE }];
}

function threadLines({ id, where, state, quoted, comments }: FormThread): FormLine[] {
  const lines = [
    `== thread ${id}: ${where} (${state})`,
    ...quoted.map((text) => `   | ${text}`),
    ...comments.flatMap(({ by, body }) => [`-- ${by}:`, ...body.split("\n").map((text) => `   ${text}`)]),
    "",
  ];
  return lines.map((text) => ({ text: visible(text), place: { kind: "thread", id } }));
}

const linesOf =
  ({ since }: FormView) =>
  (file: FormFile) =>
    fileLines(file, since);

function fileLines({ path, says, rows }: FormFile, since: number | null): FormLine[] {
  const about: Place = { kind: "file", path };
  const heads = [`== file ${path}`, ...says.map((words) => `   ${words}`)].map((text) => ({
    text: visible(text),
    place: about,
  }));
  const width = String(
    rows.reduce((most, row) => (row.kind === "hidden" ? most : Math.max(most, row.old, row.next)), 0),
  ).length;
  const number = (n: number) => (n > 0 ? String(n) : "").padStart(width);
  const lines = rows.map((row): FormLine => {
    if (row.kind === "hidden") return { text: `.. ${visible(row.says)}`, place: { kind: "hidden", path } };
    const { kind, old, next, text } = row;
    const sign = { same: " ", removed: "-", added: "+" }[kind];
    const side = kind === "removed" ? "old" : "new";
    return {
      text: `${sign}${number(kind === "added" ? 0 : old)} ${number(kind === "removed" ? 0 : next)}  ${visible(text)}`,
      place:
        since !== null && side === "old"
          ? { kind: "gone", path }
          : { kind: "line", path, side, line: side === "old" ? old : next },
    };
  });
  return [...heads, ...lines, { text: "", place: about }];
}
