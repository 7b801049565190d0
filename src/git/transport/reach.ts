import { git } from "../run";

/** How long a history is looked through for one object, in milliseconds. */
const LONGEST = 20_000;

/** Whether an object is a blob that some commit of a branch, tag or revision has or had. Looks through the history where it must. */
export async function isNamedObject(folder: string, id: string): Promise<boolean> {
  const kind = await git(folder, ["cat-file", "-t", id], { answers: [1, 128] });
  if (kind.code !== 0 || kind.stdout.toString().trim() !== "blob") return false;
  const args = ["log", "--all", "-m", "--max-count=1", "--format=%H", `--find-object=${id}`];
  const signal = AbortSignal.timeout(LONGEST);
  try {
    return (await git(folder, args, { signal })).stdout.length > 0;
  } catch (error) {
    if (signal.aborted) return false;
    throw error;
  }
}

/** Whether some branch, tag or revision leads to a commit. */
export async function isNamedCommit(folder: string, commit: string): Promise<boolean> {
  const args = ["for-each-ref", "--count=1", "--format=x", `--contains=${commit}`];
  const { code, stdout } = await git(folder, args, { answers: [1, 128, 129] });
  return code === 0 && stdout.length > 0;
}
