import type { LineOrigins } from "@/core/api";
import { type ContentKey, contentKey } from "@/core/diff/tree";
import { mergeBase, resolveCommit, type Step, stepsBetween } from "@/git/repository";
import type { AppContext } from "../app/context";
import { readingOf } from "./reading";
import type { ReadStates } from "./states";

/**
 * Which commits touched the changed lines of a file between two commits. Where the first is not in the history of the second, only what
 * happened since they parted is known, and only of the new lines; so it is, from the commit `otherwise` on, where it is no commit.
 */
export async function originsOf(
  app: AppContext,
  folder: string,
  points: ReadStates,
  path: string,
  otherwise: string,
): Promise<LineOrigins> {
  const from = (await resolveCommit(folder, points.from)) ?? otherwise;
  const base = await mergeBase(folder, from, points.to);
  const steps = await app
    .kept<Step[]>("walks", 20)
    .get(`${folder}\0${base}\0${points.to}`, () => stepsBetween(folder, base, points.to));
  const way = await wayOf(app, folder, steps, path);
  const { old, next } = await app.workers.trace({
    folder,
    steps: way.map(({ oldKey, newKey }) => ({ oldKey, newKey })),
  });
  const commits = way.map(({ step: { id, author, at, subject, body } }) => ({ id, author, at, subject, body }));
  return { commits, old: base === points.from ? old : [], next };
}

interface OnTheWay {
  oldKey: ContentKey | null;
  newKey: ContentKey | null;
  step: Step;
}

/** The steps that changed a file, the oldest first, under whichever name it had then. */
async function wayOf(app: AppContext, folder: string, steps: readonly Step[], path: string): Promise<OnTheWay[]> {
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
