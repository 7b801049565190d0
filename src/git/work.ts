import { copyFile, mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gitText } from "./run";

/**
 * A commit of all that is in a clone and not committed yet, new files too and ignored ones not, on top of what is checked out; null where there is nothing. Neither
 * the index nor any ref of the clone is touched. `top` is where it is worked in.
 */
export async function commitOfWork(
  top: string,
  { fullName, email }: { fullName: string; email: string },
): Promise<string | null> {
  const here = (args: string[], env: Record<string, string> = {}) => gitText(null, ["-C", top, ...args], { env });
  const head = await here(["rev-parse", "--verify", "HEAD^{commit}"]);
  const place = await mkdtemp(join(tmpdir(), "lens-index-"));
  const env = { GIT_INDEX_FILE: join(place, "index") };
  try {
    // A copy knows which files were looked at already.
    const index = await here(["rev-parse", "--path-format=absolute", "--git-path", "index"]);
    await copyFile(index, env.GIT_INDEX_FILE).catch(() => here(["read-tree", "HEAD"], env));
    await here(["add", "--all"], env);
    const tree = await here(["write-tree"], env);
    if (tree === (await here(["rev-parse", "HEAD^{tree}"]))) return null;
    const who = { GIT_AUTHOR_NAME: fullName, GIT_AUTHOR_EMAIL: email, GIT_COMMITTER_NAME: fullName };
    return await here(["commit-tree", tree, "-p", head, "-m", "Not committed yet"], {
      ...who,
      GIT_COMMITTER_EMAIL: email,
    });
  } finally {
    await rm(place, { recursive: true, force: true });
  }
}
