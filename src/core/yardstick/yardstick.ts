import type { FileChange } from "../diff/tree";

/**
 * How a file of a change set stands to a yardstick, such as what is released: *same* there already, so that there is nothing to bring;
 * *different*; *new* there; *gone* here and there still. *there* alone: not of the change set, and changed there in a way that the newest
 * revision does not have.
 */
export type YardstickState = "same" | "different" | "new" | "gone" | "there";

export interface YardstickFile {
  path: string;
  state: YardstickState;
  /** Someone changed it there since the two parted: merging and releasing this would lose that. */
  changedThere: boolean;
}

/**
 * `mine` are the files of the change set, `apart` those that differ from the yardstick (old side) to the newest revision (new side),
 * `since` those that the yardstick changed since it and the newest revision parted.
 */
export function againstYardstick(
  mine: readonly FileChange[],
  apart: readonly FileChange[],
  since: readonly FileChange[],
): YardstickFile[] {
  const differs = new Map(apart.map((file) => [file.path, file]));
  const changed = new Set(since.map(({ path }) => path));
  const own = new Set(mine.map(({ path }) => path));
  const files = mine.map(({ path }): YardstickFile => {
    const file = differs.get(path);
    if (!file) return { path, state: "same", changedThere: false };
    const state = file.oldId === null ? "new" : file.newId === null ? "gone" : "different";
    return { path, state, changedThere: changed.has(path) };
  });
  const others = apart
    .filter(({ path }) => !own.has(path) && changed.has(path))
    .map(({ path }): YardstickFile => ({ path, state: "there", changedThere: true }));
  return [...files, ...others];
}
