import { anchorName } from "@/core/anchor/anchor";
import { contentKey } from "@/core/diff/tree";
import { type FileView, readView } from "@/core/diff/view";
import type { FormFile, FormRow, FormThread, FormView } from "@/core/doors/text-form/form";
import { done, type Outcome } from "@/core/plain/outcome";
import { counted, shortened } from "@/core/plain/words";
import type { FileReading } from "@/core/quiet/whole-reading";
import { foldWords } from "@/core/reading/folds";
import { ADDED, FOLD, foldRows, GAP, layRows, REMOVED } from "@/core/reading/rows";
import type { ChangeSet, Thread } from "@/core/review/state";
import { evaluateGate } from "@/core/rules/gate";
import { namesOf } from "../access/people";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { classesOf } from "../reading/classes";
import { fileView, readingOf } from "../reading/reading";
import { type FoundStates, statesOf } from "../reading/states";
import { factsFor } from "../rules/facts";

/** A file of more rows than this is told of by its head alone, unless it is asked for by name; and so are all when there are very many. */
const MOST_ROWS = 4_000;
const MOST_ROWS_IN_ALL = 40_000;
/** A file counts as so many rows beside its own: it has to be compared, and thousands may have one line each. */
const ROWS_OF_FILE = 40;

/** Of a longer line only so many characters are shown; and a file of more in all is told of by its head alone, as one of too many rows is. */
const LONGEST_LINE = 10_000;
const MOST_CHARACTERS = 1_000_000;

/** Which files a form shows: one alone, and whole; or all, and these whole. */
export interface Shown {
  only?: string;
  whole?: ReadonlySet<string>;
  /** Aborted when nobody waits for it any more. */
  signal?: AbortSignal;
}

/** The two states that a form of a revision compares: with the base, or with an earlier revision as it would be on this one's base. */
export function pointsOf(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  revision: number,
  since: number | null = null,
): Promise<Outcome<FoundStates>> {
  return statesOf(app, person, change, folder, since === null ? "base" : `r${since}`, `r${revision}`);
}

/** What a form of a revision tells, to one person. */
export async function viewOf(
  app: AppContext,
  person: Person,
  repository: string,
  change: ChangeSet,
  folder: string,
  { revision, since, key }: Pick<FormView, "revision" | "since" | "key">,
  shown: Shown,
): Promise<Outcome<FormView>> {
  const points = await pointsOf(app, person, change, folder, revision, since);
  if (!points.ok) return points;
  const { rule, gate: facts } = await factsFor(app, app.db, change, person);
  const names = await namesOf(app.db);
  const nameOf = (id: string) => names.get(id) ?? id;
  const { number, title, description, author, source, target, threads } = change;
  return done({
    repository,
    number,
    title,
    description,
    source,
    target,
    revision,
    since,
    key,
    author: nameOf(author),
    own: author === person.id,
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
  { only, whole, signal }: Shown,
): Promise<FormFile[]> {
  const { files } = await readingOf(app, folder, points);
  const made: FormFile[] = [];
  let rows = 0;
  for (const file of files) {
    if (only !== undefined && file.path !== only) continue;
    signal?.throwIfAborted();
    const few = file.added + file.removed <= MOST_ROWS && rows < MOST_ROWS_IN_ALL;
    const isWhole = only !== undefined || few || whole?.has(file.path) === true;
    const all = file.binary || !isWhole ? [] : await rowsOf(app, folder, points, file);
    const isLong = charactersIn(all) > MOST_CHARACTERS;
    const told = isLong && only === undefined && !whole?.has(file.path) ? [] : all;
    // Whether it was shown whole or not, what was written under it is found.
    const instead = (few && !isLong) || only !== undefined ? [] : hidden(file);
    rows += isWhole ? told.length + ROWS_OF_FILE : 0;
    const carried = points.conflicts.includes(file.path)
      ? ["! Both sides touch the same lines: compared with what the target has there."]
      : [];
    made.push({ path: file.path, says: [...saidOf(file), ...carried], rows: [...instead, ...told] });
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
    if (kind === REMOVED) return { kind: "removed", ...numbers, text: shownLine(old(rows.old[i])) };
    return { kind: kind === ADDED ? "added" : "same", ...numbers, text: shownLine(next[rows.next[i]]) };
  });
}

function charactersIn(rows: readonly FormRow[]): number {
  return rows.reduce((sum, row) => sum + ("text" in row ? row.text.length : 0), 0);
}

/** A line as a form shows it: what of it is left out is said in the line. */
function shownLine(text: string): string {
  if (text.length <= LONGEST_LINE) return text;
  return `${shortened(text, LONGEST_LINE)} [and ${counted(text.length - LONGEST_LINE, "more character")}]`;
}
