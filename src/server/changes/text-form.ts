import { anchorName } from "@/core/anchor/anchor";
import { contentKey } from "@/core/diff/tree";
import { type FileView, readView } from "@/core/diff/view";
import { done, type Outcome, refuse } from "@/core/outcome";
import type { FileReading } from "@/core/quiet/reading";
import { foldWords } from "@/core/reading/folds";
import { ADDED, FOLD, foldRows, GAP, layRows, REMOVED } from "@/core/reading/rows";
import type { ChangeSet, Thread } from "@/core/review/state";
import { newest } from "@/core/review/state";
import { evaluateGate } from "@/core/rules/gate";
import type { FormFile, FormProblem, FormReview, FormRow, FormThread, FormView } from "@/core/text-form/form";
import { markIn, readForm } from "@/core/text-form/read";
import { formLines, writeForm } from "@/core/text-form/write";
import { counted } from "@/core/words";
import { namesOf, peopleIn } from "../access/people";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { classesOf } from "../reading/classes";
import { fileView, readingOf } from "../reading/reading";
import { type FoundStates, statesOf } from "../reading/states";
import { factsFor } from "../rules/facts";
import { fixAnchor, fixSuggestions } from "./anchors";
import { findChange } from "./changes";
import { execute, transact, wasCarriedOut } from "./deciding";

/** A file of more rows than this is told of by its head alone, unless it is asked for by name; and so are all when there are very many. */
const MOST_ROWS = 4_000;
const MOST_ROWS_IN_ALL = 40_000;

/** Which files a form shows: one alone, and whole; or all, and these whole. */
interface Shown {
  only?: string;
  whole?: ReadonlySet<string>;
}

/** A change set as text that can be written into and sent back: docs/text-form.md. */
export async function textForm(
  app: AppContext,
  person: Person,
  repository: string,
  number: number,
  { path }: { path?: string } = {},
): Promise<Outcome<string>> {
  const found = await findChange(app, person, repository, number);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  const view = await viewOf(app, person, repository, change, folder, newest(change).number, app.newId(), {
    only: path,
  });
  return view.ok ? done(writeForm(view.value)) : view;
}

/** What became of a form that was sent: what was carried out, in sentences; or what is wrong in it, and then nothing was. */
export interface FormAnswer {
  says: string[];
  problems: FormProblem[];
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
  { strict = false, key: given, thread }: { strict?: boolean; key?: string; thread?: string | null } = {},
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
  const whole = new Set([...text.matchAll(/== file (.+?)\s*$/gm)].map(([, path]) => path));
  const view = await viewOf(app, person, repository, change, folder, revision, key, { whole });
  if (!view.ok) return view;
  const { review, problems } = readForm(text, formLines(view.value), view.value, { strict, thread });
  if (problems.length > 0) return done({ says: [], problems });
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
      ...{ thread, body, comment: app.newId() },
      ...(resolves ? { resolves } : {}),
    }));
    const command = { kind: "send-review" as const, revision, verdict, remark: word, remarks, tasks, replies: answers };
    const sent = await execute(app, person, change.id, "send-review", command, { key });
    if (!sent.ok) return sent;
    says.push(sentWords(verdict, remarks.length, replies.length, tasks.length));
  }
  for (const { thread } of settled) {
    const command = { kind: "resolve" as const, thread, body: "" };
    const resolved = await transact(app, person, change.id, command as never, { key: `${key}-${thread}` });
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

async function remarksOf(
  { app, change, folder, revision, person }: Sending,
  review: FormReview,
  problems: FormProblem[],
) {
  const made = [];
  if (review.remarks.length === 0) return [];
  const points = await pointsOf(app, person, change, folder, revision);
  if (!points.ok) return [];
  const { files } = await readingOf(app, folder, points.value);
  for (const { at, place, body, weight, suggests } of review.remarks) {
    const file = files.find(({ path }) => path === place.path);
    const side = place.kind === "lines" ? place.side : file?.newId ? "new" : "old";
    const blob = (side === "new" ? file?.newId : file?.oldId) ?? "";
    const path = side === "old" ? (file?.oldPath ?? place.path) : place.path;
    const inFile = { revision, blob, side, path };
    const anchor = await fixAnchor(
      app,
      change,
      folder,
      place.kind === "lines"
        ? { kind: "lines", ...inFile, start: place.start, end: place.end }
        : { kind: "file", ...inFile },
    );
    const change_ =
      suggests !== null && place.kind === "lines"
        ? [{ id: app.newId(), start: place.start, end: place.end, lines: suggests }]
        : [];
    const suggestions = anchor.ok ? await fixSuggestions(folder, anchor.value, change_) : anchor;
    if (!anchor.ok || !suggestions.ok)
      problems.push({ line: at, says: (suggestions as Extract<typeof suggestions, { ok: false }>).refusal.reason });
    else
      made.push({
        ...{ thread: app.newId(), comment: app.newId(), anchor: anchor.value, body, weight },
        suggestions: suggestions.value,
      });
  }
  return made;
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

function pointsOf(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  revision: number,
): Promise<Outcome<FoundStates>> {
  return statesOf(app, person, change, folder, "base", `r${revision}`);
}

async function viewOf(
  app: AppContext,
  person: Person,
  repository: string,
  change: ChangeSet,
  folder: string,
  revision: number,
  key: string,
  shown: Shown,
): Promise<Outcome<FormView>> {
  const points = await pointsOf(app, person, change, folder, revision);
  if (!points.ok) return points;
  const { rule, gate: facts } = await factsFor(app, app.db, change, person);
  const names = await namesOf(app.db);
  const nameOf = (id: string) => names.get(id) ?? id;
  const { number, title, description, author, source, target, threads } = change;
  return done({
    ...{ repository, number, title, description, source, target, revision, key },
    ...{ author: nameOf(author), own: author === person.id },
    gate: evaluateGate(change, rule, facts).conditions,
    threads: threads.map((thread) => formThread(thread, nameOf)),
    files: await formFiles(app, folder, points.value, shown),
  });
}

function formThread({ id, anchor, weight, resolved, comments }: Thread, nameOf: (id: string) => string): FormThread {
  return {
    id,
    where: `${anchorName(anchor)}, in r${anchor.revision}`,
    state: resolved ? "resolved" : weight === "aside" ? "an aside" : "open, to be settled",
    quoted: anchor.kind === "lines" ? anchor.text : [],
    comments: comments.map(({ by, body, erased }) => ({ by: nameOf(by), body: erased ? "(deleted)" : body })),
  };
}

async function formFiles(
  app: AppContext,
  folder: string,
  points: FoundStates,
  { only, whole }: Shown,
): Promise<FormFile[]> {
  const { files } = await readingOf(app, folder, points);
  const made: FormFile[] = [];
  let rows = 0;
  for (const file of files) {
    if (only !== undefined && file.path !== only) continue;
    const few = file.added + file.removed <= MOST_ROWS && rows < MOST_ROWS_IN_ALL;
    const isWhole = only !== undefined || few || whole?.has(file.path) === true;
    const told = file.binary || !isWhole ? [] : await rowsOf(app, folder, points, file);
    // Whether it was shown whole or not, what was written under it is found.
    const instead = few || only !== undefined ? [] : hidden(file);
    rows += told.length;
    made.push({ path: file.path, says: saidOf(file), rows: [...instead, ...told] });
  }
  return made;
}

/** What happened to a file beside its lines, and what the eye does not see in it. */
function saidOf({ status, oldPath, copy, facts, cautions, binary }: FileReading): string[] {
  const known = facts.some(({ kind }) => kind === "renamed" || kind === "copied");
  const first =
    oldPath !== null && !known
      ? [`${copy ? "Copied" : "Renamed"} from ${oldPath}.`]
      : oldPath === null && (status === "added" || status === "deleted")
        ? [`It is ${status}.`]
        : [];
  const more = [...facts.map(({ says }) => says), ...cautions.map(({ says }) => `! ${says}`)];
  return [...first, ...more, ...(binary ? ["It is no text."] : [])];
}

function hidden({ path, added, removed }: FileReading): FormRow[] {
  return [{ kind: "hidden", says: `${counted(added + removed, "changed line")}: lens text … --file ${path}` }];
}

async function rowsOf(app: AppContext, folder: string, points: FoundStates, file: FileReading): Promise<FormRow[]> {
  const { oldId, newId, oldMode, newMode, path, generated } = file;
  const keyOf = (id: string | null, mode: number) => (id === null ? null : contentKey(id, mode));
  const view: FileView = JSON.parse(await fileView(app, folder, keyOf(oldId, oldMode), keyOf(newId, newMode)));
  if (view.untold !== null) return [{ kind: "hidden", says: view.untold }];
  const { next, old } = readView(view);
  const classes = await classesOf(app, folder, points, path);
  const laid = layRows(view.comparison.hunks, view.comparison.newLines, [], undefined, classes.runs);
  const rows = foldRows(laid, classes.runs, () => false);
  return Array.from({ length: rows.count }, (_, i): FormRow => {
    const kind = rows.kind[i];
    if (kind === GAP) return { kind: "hidden", says: `${counted(rows.hidden[i], "line")} unchanged` };
    if (kind === FOLD) {
      const { kind: word, says } = foldWords(classes.runs[rows.run[i]], rows.hidden[i], classes, path, generated);
      return { kind: "hidden", says: `${word}: ${says}` };
    }
    const numbers = { old: rows.old[i] + 1, next: rows.next[i] + 1 };
    if (kind === REMOVED) return { kind: "removed", ...numbers, text: old(rows.old[i]) };
    return { kind: kind === ADDED ? "added" : "same", ...numbers, text: next[rows.next[i]] };
  });
}
