import { lineBefore } from "@/core/diff/history";
import { contentKey } from "@/core/diff/tree";
import { type FileView, readView } from "@/core/diff/view";
import type { ChangeSet } from "@/core/review/state";
import type { LineHistoryView, LineStep } from "@/core/views/around-view";
import { originOfLine } from "@/git/history/blame";
import { blobAt } from "@/git/repository";
import type { AppContext } from "../../app/context";
import { agreedIn } from "../agreed";
import { fileView } from "../reading";

/** A line of a file in a commit, 1-based. */
export interface LineAt {
  commit: string;
  path: string;
  line: number;
}

/** A step of which it is not known yet where it was agreed. */
type Untold = Omit<LineStep, "change">;

/** So many commits are told of at once. */
const MOST_STEPS = 12;
/** How long looking back may take before what is known is told, in milliseconds. */
const PATIENCE = 15_000;
const LONGEST = 400;
/** So many threads about the same lines are told of, in so many characters each. */
const MOST_THREADS = 3;
const MOST_WORDS = 240;
/** How far from a line a thread may be about it. */
const NEAR = 2;

/**
 * Every commit that touched a line, the newest first: git tells which one it has come by, and our own comparison of the file before and after it
 * where the line was until then, so that a line that was edited or indented goes on as the same. With each step the change set in which
 * it was agreed.
 */
export async function lineHistory(
  app: AppContext,
  folder: string,
  { repository }: Pick<ChangeSet, "repository">,
  from: LineAt,
  signal: AbortSignal,
): Promise<LineHistoryView> {
  const steps: Untold[] = [];
  const enough = AbortSignal.any([signal, AbortSignal.timeout(PATIENCE)]);
  let at: LineAt | null = from;
  while (at && steps.length < MOST_STEPS && !enough.aborted) {
    const found: Awaited<ReturnType<typeof stepTo>> = await stepTo(app, folder, at, enough).catch((error) => {
      // What took too long is left out, and it is said that there is more.
      if (enough.aborted && !signal.aborted) return null;
      throw error;
    });
    if (!found) break;
    steps.push(found.step);
    at = found.before;
  }
  const ids = steps.map(({ commit }) => commit.id);
  const agreed = await agreedIn(app, folder, repository, ids, from.commit, signal);
  const told = steps.map(async (step): Promise<LineStep> => {
    const change = agreed.get(step.commit.id);
    return { ...step, change: change ? await saidAbout(app, change, step.path, step.line) : null };
  });
  return { steps: await Promise.all(told), more: at !== null && (steps.length === MOST_STEPS || enough.aborted) };
}

/** The commit that a line has come by, and where it was before; null where there is no such line. */
async function stepTo(
  app: AppContext,
  folder: string,
  at: LineAt,
  signal: AbortSignal,
): Promise<{ step: Untold; before: LineAt | null } | null> {
  const origin = await originOfLine(folder, at.commit, at.path, at.line, signal);
  if (!origin) return null;
  const { commit, path, line, previous } = origin;
  const [newId, oldId] = await Promise.all([
    blobAt(folder, commit.id, path),
    previous ? blobAt(folder, previous.commit, previous.path) : null,
  ]);
  const view = newId ? await comparisonOf(app, folder, oldId, newId) : null;
  const was = view && previous ? lineBefore(view.comparison, line - 1) : null;
  const text = view && readView(view);
  const step: Untold = {
    commit,
    path,
    line,
    text: (text?.next[line - 1] ?? "").slice(0, LONGEST),
    before: was === null ? null : (text?.old(was) ?? "").slice(0, LONGEST),
  };
  const before = was === null || !previous ? null : { commit: previous.commit, path: previous.path, line: was + 1 };
  return { step, before };
}

async function comparisonOf(
  app: AppContext,
  folder: string,
  oldId: string | null,
  newId: string,
): Promise<FileView | null> {
  const view: FileView = JSON.parse(
    await fileView(app, folder, oldId && contentKey(oldId, 0o100644), contentKey(newId, 0o100644)),
  );
  return view.untold === null ? view : null;
}

/** A change set, with what was said in it about a line. */
async function saidAbout(app: AppContext, change: ChangeSet, path: string, line: number): Promise<LineStep["change"]> {
  const threads = change.threads
    .filter(({ anchor, comments: [first] }) => anchor.kind === "lines" && anchor.path === path && !first.erased)
    .filter(({ anchor }) => anchor.kind === "lines" && anchor.start - NEAR <= line && line <= anchor.end + NEAR)
    .slice(0, MOST_THREADS)
    .map(({ id, comments: [first] }) => ({ id, by: first.by, words: first.body.slice(0, MOST_WORDS) }));
  const people = threads.map(({ by }) => by);
  const names = people.length
    ? await app.db.selectFrom("people").select(["id", "full_name"]).where("id", "in", people).execute()
    : [];
  const nameOf = new Map(names.map(({ id, full_name }) => [id, full_name]));
  const { number, title } = change;
  return { number, title, threads: threads.map((one) => ({ ...one, by: nameOf.get(one.by) ?? "" })) };
}
