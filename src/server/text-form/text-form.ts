import type { FormProblem, FormRemark, FormReview } from "@/core/doors/text-form/form";
import { markIn, readForm } from "@/core/doors/text-form/read";
import { formLines, writeForm } from "@/core/doors/text-form/write";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { counted } from "@/core/plain/words";
import type { FileReading } from "@/core/quiet/whole-reading";
import type { SentRemark } from "@/core/review/shapes";
import { type ChangeSet, newest } from "@/core/review/state";
import { peopleIn } from "../access/people";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { fixAnchor, fixSuggestions } from "../changes/anchors";
import { findChange } from "../changes/changes";
import { execute, transact, wasCarriedOut } from "../changes/deciding";
import { readingOf } from "../reading/reading";
import { pointsOf, viewOf } from "./form-view";

/** A change set as text that can be written into and sent back: docs/text-form.md. `since` for what is new since a revision alone. */
export async function textForm(
  app: AppContext,
  person: Person,
  repository: string,
  number: number,
  { path, since, signal }: { path?: string; since?: number; signal?: AbortSignal } = {},
): Promise<Outcome<string>> {
  const found = await findChange(app, person, repository, number);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  const about = { revision: newest(change).number, since: since ?? null, key: app.newId() };
  const view = await viewOf(app, person, repository, change, folder, about, { only: path, signal });
  return view.ok ? done(writeForm(view.value)) : view;
}

/** What became of a form that was sent: what was carried out, in sentences; or what is wrong in it, and then nothing was. */
export interface FormAnswer {
  says: string[];
  problems: FormProblem[];
}

interface Sent {
  strict?: boolean;
  key?: string;
  thread?: string | null;
  /** Why a verdict in it does not count, where it does not; then nothing of it is carried out. */
  noVerdict?: string;
}

/**
 * Carries out what is written in a form, all of it as one review, or tells what is wrong. The same form sent again by the same person is carried out once.
 * `strict` for what comes from an editor, see {@link readForm}.
 */
export async function sendForm(
  app: AppContext,
  person: Person,
  repository: string,
  number: number,
  text: string,
  { strict = false, key: given, thread, noVerdict }: Sent = {},
): Promise<Outcome<FormAnswer>> {
  const found = await findChange(app, person, repository, number);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  const mark = markIn(text);
  if (mark && (mark.repository !== repository || mark.number !== number))
    return refuse("invalid", `This is a form for change set ${mark.number} of ${mark.repository}.`);
  if (!mark && strict)
    return refuse("invalid", "The first line is missing, by which one knows which change set and revision this is of.");
  const key = given ?? mark?.key ?? app.newId();
  if (await wasCarriedOut(app.db, person, key))
    return done({ says: ["This was sent already, and is not sent twice."], problems: [] });
  const revision = mark?.revision ?? newest(change).number;
  const whole = new Set(text.split("\n").flatMap((line) => /== file (.+)$/.exec(line)?.[1].trimEnd() ?? []));
  const about = { revision, since: mark?.since ?? null, key };
  const view = await viewOf(app, person, repository, change, folder, about, { whole });
  if (!view.ok) return view;
  const { review, problems } = readForm(text, formLines(view.value), view.value, { strict, thread });
  if (problems.length > 0) return done({ says: [], problems });
  if (noVerdict !== undefined && review.verdict !== "none") return refuse("forbidden", noVerdict);
  return carryOutForm({ app, person, change, folder, revision, key }, review);
}

interface Sending {
  app: AppContext;
  person: Person;
  change: ChangeSet;
  folder: string;
  revision: number;
  key: string;
}

async function carryOutForm(sending: Sending, review: FormReview): Promise<Outcome<FormAnswer>> {
  const { app, person, change, revision, key } = sending;
  const { verdict, word } = review;
  const problems: FormProblem[] = [];
  const remarks = await remarksOf(sending, review, problems);
  const tasks = await tasksOf(sending, review, problems);
  // Who only resolves says nothing: that is an entry of its own.
  const replies = review.replies.filter(({ body }) => body !== "");
  const settled = review.replies.filter(({ body, resolves }) => body === "" && resolves);
  const nothing = verdict === "none" && word === "" && remarks.length + tasks.length + replies.length === 0;
  if (nothing && settled.length === 0 && problems.length === 0)
    problems.push({ line: 1, says: "Nothing is written in it yet." });
  if (problems.length > 0) return done({ says: [], problems });
  const says: string[] = [];
  if (!nothing) {
    const answers = replies.map(({ thread, body, resolves }) => ({
      thread,
      body,
      comment: app.newId(),
      ...(resolves ? { resolves } : {}),
    }));
    const command = { kind: "send-review" as const, revision, verdict, remark: word, remarks, tasks, replies: answers };
    const sent = await execute(app, person, change.id, "send-review", command, { key });
    if (!sent.ok) return sent;
    says.push(sentWords(verdict, remarks.length, replies.length, tasks.length));
  }
  for (const { thread } of settled) {
    const command = { kind: "resolve" as const, thread };
    const resolved = await transact(app, person, change.id, command, { key: `${key}-${thread}` });
    says.push(resolved.ok ? "A thread is resolved." : `A thread was not resolved: ${resolved.refusal.reason}`);
  }
  return done({ says, problems: [] });
}

function sentWords(verdict: FormReview["verdict"], remarks: number, replies: number, tasks: number): string {
  const parts = [
    { none: "", approve: "your approval", "request-changes": "your request for changes" }[verdict],
    ...[remarks > 0 ? counted(remarks, "remark") : "", replies > 0 ? counted(replies, "answer") : ""],
    tasks > 0 ? counted(tasks, "task") : "",
  ].filter(Boolean);
  return parts.length > 0 ? `Sent: ${parts.join(", ")}.` : "Sent: your word.";
}

async function remarksOf(sending: Sending, review: FormReview, problems: FormProblem[]): Promise<SentRemark[]> {
  if (review.remarks.length === 0) return [];
  const { app, change, folder, revision, person } = sending;
  const points = await pointsOf(app, person, change, folder, revision);
  if (!points.ok) {
    problems.push({ line: 1, says: points.refusal.reason });
    return [];
  }
  const { files } = await readingOf(app, folder, points.value);
  const made: SentRemark[] = [];
  for (const remark of review.remarks) {
    const file = files.find(({ path }) => path === remark.place.path);
    const sent = await remarkOf(sending, remark, file);
    if (sent.ok) made.push(sent.value);
    else problems.push({ line: remark.at, says: sent.refusal.reason });
  }
  return made;
}

/** A remark as it is sent: what it stands on, and what it suggests, held against the repository. */
async function remarkOf(
  { app, change, folder, revision }: Sending,
  { place, body, weight, suggests }: FormRemark,
  file: FileReading | undefined,
): Promise<Outcome<SentRemark>> {
  const side = place.kind === "lines" ? place.side : file?.newId ? "new" : "old";
  const blob = (side === "new" ? file?.newId : file?.oldId) ?? "";
  const inFile = { revision, blob, side, path: side === "old" ? (file?.oldPath ?? place.path) : place.path };
  const asked =
    place.kind === "lines"
      ? { kind: "lines" as const, ...inFile, start: place.start, end: place.end }
      : { kind: "file" as const, ...inFile };
  const anchor = await fixAnchor(app, change, folder, asked);
  if (!anchor.ok) return anchor;
  const wanted =
    suggests !== null && place.kind === "lines"
      ? [{ id: app.newId(), start: place.start, end: place.end, lines: suggests }]
      : [];
  const suggestions = await fixSuggestions(folder, anchor.value, wanted);
  if (!suggestions.ok) return suggestions;
  const ids = { thread: app.newId(), comment: app.newId() };
  return done({ ...ids, anchor: anchor.value, body, weight, suggestions: suggestions.value });
}

async function tasksOf({ app, change }: Sending, review: FormReview, problems: FormProblem[]) {
  const people = review.tasks.some(({ person }) => person !== null) ? await peopleIn(app.db, change.repository) : [];
  return review.tasks.map(({ at, body, person: name }) => {
    const id = people.find((one) => one.name === name)?.id ?? null;
    if (name !== null && id === null)
      problems.push({ line: at, says: `There is nobody of the name “${name}” in this repository.` });
    return { task: app.newId(), body, person: id };
  });
}
