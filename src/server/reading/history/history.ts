import { type ContentKey, contentKey } from "@/core/diff/tree";
import { readPoints } from "@/core/reading/points";
import { type ChangeSet, newest, type Revision } from "@/core/review/state";
import type { CommitView, LineOrigins } from "@/core/views/api";
import { mergeBase, type Step, stepsBetween } from "@/git/history/commits";
import { resolveCommit } from "@/git/repository";
import type { AppContext } from "../../app/context";
import { shelf } from "../../app/kept";
import { readingOf } from "../reading";
import type { ReadStates } from "../states";

/**
 * Which commits touched the changed lines of a file between the two states of a reading. Where the second has grown out of the first,
 * those between them tell of both. After a rebase or an amended commit they do not: then the new lines are told by what has happened
 * since the target, and the old ones by the history that the earlier revision had.
 */
export async function originsOf(
  app: AppContext,
  folder: string,
  change: ChangeSet,
  points: ReadStates & { name: { from: string; to: string } },
  path: string,
): Promise<LineOrigins> {
  const from = await resolveCommit(folder, points.from);
  const base = await mergeBase(folder, from ?? newest(change).base, points.to);
  const since = await wayOf(app, folder, base, points.to, path);
  const traced = await traceWay(app, folder, since);
  if (from !== null && base === from) return { commits: since.map(toldOf), earlier: 0, ...traced };
  const before = earlierRevision(change, points.name);
  if (!before) return { commits: since.map(toldOf), earlier: 0, old: [], next: traced.next };

  const { files } = await readingOf(app, folder, points);
  const file = files.find((one) => one.path === path);
  const was = await wayOf(app, folder, before.base, before.head, file?.oldPath ?? path);
  // What the target brought meanwhile stands between what that revision said and the state that is compared: a step without a commit.
  const there = file ? contentKey(file.oldId, file.oldMode) : null;
  const carried = was.length > 0 && there !== was[was.length - 1].newKey;
  const { next: old } = await traceWay(app, folder, [
    ...was,
    ...(carried ? [{ oldKey: was[was.length - 1].newKey, newKey: there }] : []),
  ]);
  const own = (steps: number[]) => steps.filter((step) => step < was.length);
  return {
    commits: [...was, ...since].map(toldOf),
    earlier: was.length,
    old: old.map((run) => ({ ...run, steps: own(run.steps) })).filter(({ steps }) => steps.length > 0),
    next: traced.next.map((run) => ({ ...run, steps: run.steps.map((step) => step + was.length) })),
  };
}

/** The revision that a reading begins with: the one that it names, or for what was read, the one before the newest. */
function earlierRevision({ revisions }: ChangeSet, name: { from: string; to: string }): Revision | null {
  const points = readPoints(name);
  if (points?.kind !== "revision" || points.from === "base") return null;
  return revisions[(points.from === "read" ? points.to - 1 : points.from) - 1] ?? null;
}

function toldOf({ step: { id, author, at, subject, body } }: OnTheWay): CommitView {
  return { id, author, at, subject, body };
}

function traceWay(app: AppContext, folder: string, way: readonly Keys[]) {
  return app.workers.trace({ folder, steps: way.map(({ oldKey, newKey }) => ({ oldKey, newKey })) });
}

/** As many files in all as one walk may tell of, and a little more. */
const WALKS = shelf<Step[]>("walks", 20, {
  of: (steps) => steps.reduce((sum, { files }) => sum + files.length, 0),
  most: 600_000,
});

interface Keys {
  oldKey: ContentKey | null;
  newKey: ContentKey | null;
}

interface OnTheWay extends Keys {
  step: Step;
}

/** The steps between two commits that changed a file, the oldest first, under whichever name it had then. `path` is its name in the end. */
async function wayOf(
  app: AppContext,
  folder: string,
  base: string | null,
  head: string,
  path: string,
): Promise<OnTheWay[]> {
  const steps = await WALKS(app).get(`${folder}\0${base}\0${head}`, () => stepsBetween(folder, base, head));
  const way: OnTheWay[] = [];
  let name = path;
  for (const step of [...steps].reverse()) {
    const change = step.files.find((file) => file.path === name);
    if (!change) continue;
    let { oldId, oldMode } = change;
    if (oldId === null && step.parent && step.files.some((file) => file.newId === null)) {
      const { files } = await readingOf(app, folder, {
        from: step.parent,
        to: step.id,
        settings: step.parent,
      });
      const renamed = files.find((file) => file.path === name && file.oldPath !== null && !file.copy);
      if (renamed?.oldPath) {
        ({ oldId, oldMode } = renamed);
        name = renamed.oldPath;
      }
    }
    way.unshift({ oldKey: contentKey(oldId, oldMode), newKey: contentKey(change.newId, change.newMode), step });
    if (oldId === null) break;
  }
  return way;
}
