import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { inFigures } from "@/core/plain/words";
import { MOST_LISTED } from "./repository";
import { git } from "./run";

/** So many bytes are written of a commit, and so many files: one small file can stand in it any number of times. */
const LARGEST_TREE = 4e9;
const MOST_FILES = 1_000_000;

/**
 * Writes all files of a commit into an empty folder, by way of an index of its own; no hook, filter or configuration of the repository runs. Refused
 * where they would fill the disk.
 */
export async function checkOut(folder: string, commit: string, into: string, index: string): Promise<Outcome<null>> {
  const { files, bytes } = await sizeOf(folder, commit);
  if (files > MOST_FILES) return refuse("invalid", `It has more than ${inFigures(MOST_FILES)} files.`);
  if (bytes > LARGEST_TREE)
    return refuse(
      "invalid",
      `Its files come to ${Math.ceil(bytes / 1e9)} GB; at most ${LARGEST_TREE / 1e9} are written.`,
    );
  const how = { env: { GIT_INDEX_FILE: index }, within: Number.POSITIVE_INFINITY };
  await git(folder, ["read-tree", `${commit}^{tree}`], how);
  const plainly = ["-c", "core.attributesFile=/dev/null", `--work-tree=${into}`];
  await git(folder, [...plainly, "checkout-index", "--all", "--force", `--prefix=${into}/`], how);
  return done(null);
}

/** What the files of a commit come to: how many they are, and how many bytes. */
async function sizeOf(folder: string, commit: string): Promise<{ files: number; bytes: number }> {
  const format = "--format=%(objectsize)";
  const { stdout } = await git(folder, ["ls-tree", "-r", format, "--full-tree", commit], { most: MOST_LISTED });
  const sizes = stdout.toString("latin1").split("\n");
  return { files: sizes.length - 1, bytes: sizes.reduce((sum, size) => sum + (Number.parseInt(size, 10) || 0), 0) };
}
