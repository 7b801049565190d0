import { git } from "./run";

/** Writes all files of a commit into an empty folder, by way of an index of its own; no hook, filter or configuration of the repository runs. */
export async function checkOut(folder: string, commit: string, into: string, index: string): Promise<void> {
  const env = { GIT_INDEX_FILE: index };
  await git(folder, ["read-tree", `${commit}^{tree}`], { env });
  await git(
    folder,
    [
      "-c",
      "core.attributesFile=/dev/null",
      `--work-tree=${into}`,
      "checkout-index",
      "--all",
      "--force",
      `--prefix=${into}/`,
    ],
    { env },
  );
}
