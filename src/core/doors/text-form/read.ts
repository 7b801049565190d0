import type { Verdict } from "../../review/shapes";
import { alignQuotes, isQuoted, MANY, squeezed } from "./align";
import type { FormLine, FormProblem, FormRemark, FormReview, FormView, Place } from "./form";
import { type Own, readOwn } from "./own";
import { formMark } from "./write";

/** The mark of a form, wherever it stands: by which one knows which change set and revision it is of. */
export function markIn(
  text: string,
): { repository: string; number: number; revision: number; since: number | null; key: string } | null {
  // Wrapped or not, quoted once or more often.
  const plain = text.slice(0, 20_000).replace(/[\s>]+/g, " ");
  const [, number, repository, revision, since, key] =
    /change set (\d{1,9}) of (\S{1,64}), r(\d{1,6})(?: since r(\d{1,6}))? \[([0-9A-Za-z-]{10,40})\]/.exec(plain) ?? [];
  if (!key) return null;
  return { repository, number: Number(number), revision: Number(revision), since: since ? Number(since) : null, key };
}

/**
 * Reads a form that somebody filled in: what is theirs, and what each part of it stands under. All that is wrong is told with its line; then nothing
 * of it is to be carried out. `strict` is for a form that came from an editor, where a quotation that is not as it was sent is one that somebody wrote
 * into; mail programs change them by themselves. What stands under nothing that is known is about `thread`, where one is
 * told: the only one that a message was about.
 */
export function readForm(
  text: string,
  form: readonly FormLine[],
  about: Pick<FormView, "repository" | "number" | "revision" | "since" | "key" | "own">,
  { strict = false, thread = null }: { strict?: boolean; thread?: string | null } = {},
): { review: FormReview; problems: FormProblem[] } {
  const lines = text.replace(/^\uFEFF/, "").split(/\r\n|\n|\r/);
  const quoted = alignQuotes(lines, form);
  const review: FormReview = {
    revision: about.revision,
    key: about.key,
    verdict: "none",
    word: "",
    remarks: [],
    replies: [],
    tasks: [],
  };
  const problems: FormProblem[] = [];
  const verdicts: { at: number; value: Verdict }[] = [];
  let place: Place | "unknown" | "many" = { kind: "whole" };
  const above = new Set<string>();
  const sent = strict ? linesOfFiles(form) : new Set<string>();
  const words: string[] = [];
  for (let i = 0; i < lines.length; ) {
    const at = quoted[i];
    if (at !== null || isQuoted(lines[i])) {
      // An empty quotation belongs to what stands above it.
      if (at !== null) {
        place = at === MANY ? "many" : form[at].place;
        if (at !== MANY) above.add(placeKey(form[at].place));
      } else if (lines[i].replace(/[\s>!]/g, "") !== "" && !isOurs(lines[i])) {
        // Words of a message around a form are about the whole; a line of a file that is none is not.
        place = strict || IS_ROW.test(lines[i]) ? "unknown" : { kind: "whole" };
        if (strict && wasWrittenIn(lines[i], sent))
          problems.push({
            line: i + 1,
            says: "This line is quoted, and is not as it was sent: what is written in it would be lost. Write on a line of its own.",
          });
      }
      i++;
      continue;
    }
    const from = i;
    while (i < lines.length && quoted[i] === null && !isQuoted(lines[i])) i++;
    const own = readOwn(lines.slice(from, i), from + 1);
    problems.push(...own.problems);
    verdicts.push(...own.verdicts);
    review.tasks.push(...own.tasks);
    const wrong = isEmpty(own) ? null : put(own, place, above);
    if (wrong) problems.push({ line: own.at, says: wrong });
  }
  if (new Set(verdicts.map(({ value }) => value)).size > 1)
    problems.push({ line: verdicts[1].at, says: "Two verdicts are given: leave one." });
  review.verdict = verdicts[0]?.value ?? "none";
  if (about.own && review.verdict !== "none")
    problems.push({ line: verdicts[0].at, says: "This is your own change set: the verdict is for others to give." });
  review.word = words.join("\n\n");
  return { review, problems: problems.sort((a, b) => a.line - b.line) };

  /** Puts what is somebody's own where it belongs; gives a sentence where it cannot stand there. */
  function put(own: Own, where: typeof place, before: ReadonlySet<string>): string | null {
    const { at, body, resolves, weight, suggests, span } = own;
    if (thread !== null && (where === "unknown" || where === "many" || where.kind === "whole"))
      return put(own, { kind: "thread", id: thread }, before);
    if (where === "unknown")
      return `What is quoted above this is nothing of ${formMark(about)}: leave a line of it as it was, so that one knows where it stands.`;
    if (where === "many")
      return "What is quoted above this stands at several places: leave the lines before it, too, so that one knows at which.";
    if (where.kind === "gone")
      return "That line is of an earlier revision: write under one that is there now, or under the name of the file.";
    if (where.kind === "hidden") return "Here lines are not shown: write under one that is.";
    if (where.kind === "thread") {
      if (suggests !== null) return "A suggestion stands under a line, not in a thread.";
      review.replies.push({ at, thread: where.id, body, resolves });
      return null;
    }
    if (resolves) return "Only a thread can be resolved: write that under one.";
    if (where.kind === "whole") {
      if (suggests !== null) return "A suggestion stands under a line.";
      words.push(body);
      return null;
    }
    if (where.kind === "file") {
      if (suggests !== null) return "A suggestion stands under a line, not under the name of a file.";
      review.remarks.push({ at, place: { kind: "file", path: where.path }, body, weight, suggests });
      return null;
    }
    const stretch = spanOf(where, span, before);
    if (typeof stretch === "string") return stretch;
    if (suggests !== null && where.side === "old") return "A suggestion stands under a line that is there afterwards.";
    review.remarks.push({ at, place: stretch, body, weight, suggests });
    return null;
  }
}

/** What was wrong before is told in lines of our own, which are no quotation of the form. */
function isOurs(line: string): boolean {
  return line.startsWith(PROBLEM);
}

/** A quotation that looks like a line of a file. */
const IS_ROW = /^[\s>]*>[ ]?[ +-] *\d+ /;

/**
 * Whether a quotation that is none of the form any more is one that somebody wrote into: a line of a file, which never changes, with something more
 * or something else in it; or a word that means something, behind a sign of quotation. A gate or a thread may say other things by now.
 */
function wasWrittenIn(line: string, sent: ReadonlySet<string>): boolean {
  const bare = line.replace(/^[\s>]+/, "");
  if (/^(?:verdict|suggest(?:ion)?|task|lines):/i.test(bare) || IS_ROW.test(line)) return true;
  const said = squeezed(line.slice(0, LONGEST_BEGINNING));
  for (let length = LEAST_BEGINNING; length <= said.length; length++) if (sent.has(said.slice(0, length))) return true;
  return false;
}

/** A line that begins as one of a file does was written into; looked for in so many characters. */
const LEAST_BEGINNING = 6;
const LONGEST_BEGINNING = 400;

/** The lines of files in a form, by which one tells what was written into them. */
function linesOfFiles(form: readonly FormLine[]): Set<string> {
  return new Set(
    form.flatMap(({ text, place }) => (place.kind === "whole" || place.kind === "thread" ? [] : squeezed(text))),
  );
}

/** How a problem is told within a form. */
export const PROBLEM = "> !! ";

/** A form with what is wrong in it, each above its line; what was told so before is gone. */
export function withProblems(text: string, problems: readonly FormProblem[]): string {
  const lines = text.split("\n");
  const written = lines.flatMap((line, i) => {
    const told = problems.filter((one) => one.line === i + 1).map(({ says }) => `${PROBLEM}${says}`);
    return isOurs(line) ? told : [...told, line];
  });
  return written.join("\n");
}

function isEmpty({ body, resolves, suggests }: Own): boolean {
  return body === "" && !resolves && suggests === null;
}

function placeKey(place: Place): string {
  return place.kind === "line" ? `${place.side} ${place.line} ${place.path}` : "";
}

/** So many lines up to one, on its side and following each other; they have to be quoted. */
function spanOf(
  { path, side, line }: Extract<Place, { kind: "line" }>,
  span: number,
  above: ReadonlySet<string>,
): FormRemark["place"] | string {
  const start = line - span + 1;
  for (let wanted = start; wanted <= line; wanted++)
    if (!above.has(placeKey({ kind: "line", path, side, line: wanted })))
      return `“lines: ${span}” asks for lines that are not quoted above this.`;
  return { kind: "lines", path, side, start, end: line };
}
