import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { GitEnded, GitError, git, gitText } from "./run";

/** Who puts commits into a repository that others wrote. */
export interface Committer {
  name: string;
  email: string;
}

/**
 * Makes commits of mailed patches on top of a commit, and gives the last of them; nothing is named by it yet. The mails are as they came, in the order of the
 * series. No hook, filter or configuration runs, and git itself lets no patch leave the tree. Refuses a patch that does not apply, with what git said.
 */
export async function applySeries(
  folder: string,
  base: string,
  mails: readonly Buffer[],
  { name, email }: Committer,
): Promise<Outcome<string>> {
  const place = await mkdtemp(join(tmpdir(), "lens-series-"));
  const tree = join(place, "tree");
  const env = { GIT_COMMITTER_NAME: name, GIT_COMMITTER_EMAIL: email };
  try {
    await git(folder, ["worktree", "add", "--quiet", "--detach", "--end-of-options", tree, base], {
      within: Number.POSITIVE_INFINITY,
    });
    const files: string[] = [];
    for (const [i, mail] of mails.entries()) {
      files.push(join(place, `${String(i).padStart(4, "0")}.eml`));
      await writeFile(files[i], mail);
    }
    const plainly = ["-c", "core.hooksPath=/dev/null", "-c", "commit.gpgSign=false", "-c", "core.autocrlf=false"];
    await git(null, ["-C", tree, ...plainly, "am", "--quiet", "--3way", ...files], { env });
    return done(await gitText(null, ["-C", tree, "rev-parse", "HEAD"]));
  } catch (error) {
    if (error instanceof GitEnded) return refuse("invalid", error.message);
    if (!(error instanceof GitError)) throw error;
    const said = error.stderr.split("\n").filter((line) => /^(?:error|fatal|Patch failed)/.test(line));
    return refuse(
      "conflict",
      `It does not apply: ${said.join(" ").replaceAll(place, "").slice(0, 500) || "git gave no reason."}`,
    );
  } finally {
    await git(folder, ["worktree", "remove", "--force", "--force", "--end-of-options", tree], { answers: [128] });
    await rm(place, { recursive: true, force: true });
  }
}

/** What tells patches apart whatever they stand on: the ids of what commits between two change, by `git patch-id`. */
export async function patchIds(folder: string, from: string, to: string): Promise<Set<string>> {
  const { stdout } = await git(folder, [
    "log",
    "-p",
    "--no-merges",
    "--format=%H",
    "--end-of-options",
    `${from}..${to}`,
  ]);
  const { stdout: ids } = await git(null, ["patch-id", "--stable"], { input: stdout });
  return new Set(
    ids
      .toString()
      .split("\n")
      .flatMap((line) => line.split(" ")[0] || []),
  );
}
