import type { ChangeSet } from "@/core/review/state";
import type { BlameView, FileHistoryView, FileStepView } from "@/core/views/around-view";
import { originsOfFile } from "@/git/history/blame";
import { commitsOfFile } from "@/git/history/file-log";
import type { AppContext } from "../../app/context";
import { TookTooLong } from "../../workers/workers";
import { agreedIn } from "../agreed";
import { noteShown } from "../shown";

/** A file of a commit. */
export interface FileAt {
  commit: string;
  path: string;
}

/** So many commits are told of at once. */
const MOST_STEPS = 30;
/** How long looking back may take, in milliseconds. */
const PATIENCE = 15_000;

/** The commits that touched a file, through its renames, the newest first, each with the change set in which it was agreed. */
export async function fileHistory(
  app: AppContext,
  folder: string,
  { repository }: Pick<ChangeSet, "repository">,
  { commit, path }: FileAt,
  signal: AbortSignal,
): Promise<FileHistoryView> {
  const found = await inPatience(signal, (until) =>
    commitsOfFile(folder, commit, path, { most: MOST_STEPS + 1, signal: until }),
  );
  const told = found.slice(0, MOST_STEPS);
  // What is told of can be opened.
  await noteShown(
    app,
    folder,
    told.map(({ file }) => file),
  );
  const ids = told.map(({ id }) => id);
  const agreed = await inPatience(signal, (until) => agreedIn(app, folder, repository, ids, commit, until));
  const steps = told.map(({ file, ...commit }): FileStepView => {
    const change = agreed.get(commit.id);
    return {
      commit,
      path: file.path,
      oldPath: file.oldPath,
      oldId: file.oldId,
      newId: file.newId,
      oldMode: file.oldMode,
      newMode: file.newMode,
      change: change ? { number: change.number, title: change.title } : null,
    };
  });
  return { steps, more: found.length > MOST_STEPS };
}

/** Which commit each line of a file came by, those of one commit together. */
export async function blameOf(folder: string, { commit, path }: FileAt, signal: AbortSignal): Promise<BlameView> {
  const runs = await inPatience(signal, (until) => originsOfFile(folder, commit, path, until));
  const commits = [...new Set(runs.map((run) => run.commit))];
  const places = new Map(commits.map((one, at) => [one, at]));
  return {
    commits: [...commits],
    runs: runs.map(({ start, count, commit: of }) => ({ start, end: start + count - 1, commit: places.get(of)! })),
  };
}

/** What takes too long is ended, and said to have. */
async function inPatience<T>(signal: AbortSignal, work: (signal: AbortSignal) => Promise<T>): Promise<T> {
  const late = AbortSignal.timeout(PATIENCE);
  try {
    return await work(AbortSignal.any([signal, late]));
  } catch (error) {
    if (late.aborted && !signal.aborted) throw new TookTooLong(PATIENCE / 1_000);
    throw error;
  }
}
