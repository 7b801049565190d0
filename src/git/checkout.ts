import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { MOST_LISTED } from "./repository";
import { git } from "./run";

/** So many bytes are written of a commit: one small file can stand in it any number of times. */
const LARGEST_TREE = 4e9;

/**
 * Writes all files of a commit into an empty folder, by way of an index of its own; no hook, filter or configuration of the repository runs. Refused
 * where they would fill the disk.
 */
export async function checkOut(folder: string, commit: string, into: string, index: string): Promise<Outcome<null>> {
  const size = await sizeOf(folder, commit);
  if (size > LARGEST_TREE)
    return refuse(
      "invalid",
      `Its files come to ${Math.ceil(size / 1e9)} GB; at most ${LARGEST_TREE / 1e9} are written.`,
    );
  const how = { env: { GIT_INDEX_FILE: index }, within: Number.POSITIVE_INFINITY };
  await git(folder, ["read-tree", `${commit}^{tree}`], how);
  const plainly = ["-c", "core.attributesFile=/dev/null", `--work-tree=${into}`];
  await git(folder, [...plainly, "checkout-index", "--all", "--force", `--prefix=${into}/`], how);
  return done(null);
}

/** What the files of a commit come to, in bytes. */
async function sizeOf(folder: string, commit: string): Promise<number> {
  const format = "--format=%(objectsize)";
  const { stdout } = await git(folder, ["ls-tree", "-r", format, "--full-tree", commit], { most: MOST_LISTED });
  let sum = 0;
  for (const size of stdout.toString("latin1").split("\n")) sum += Number.parseInt(size, 10) || 0;
  return sum;
}
