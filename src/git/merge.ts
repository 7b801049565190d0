import { git, gitText } from "./run";

export type MergeTree = { clean: true; tree: string } | { clean: false; paths: string[] };

/** Merges two commits into a tree without touching any ref, or tells which files conflict. */
export async function mergeTree(folder: string, ours: string, theirs: string): Promise<MergeTree> {
  const args = [
    "merge-tree",
    "--write-tree",
    "-z",
    "--name-only",
    "--no-messages",
    "--allow-unrelated-histories",
    ours,
    theirs,
  ];
  const { code, stdout } = await git(folder, args, { answers: [1] });
  const [tree, ...paths] = stdout
    .toString("utf8")
    .split("\0")
    .filter((part) => part !== "");
  return code === 0 ? { clean: true, tree } : { clean: false, paths };
}

export interface Signature {
  name: string;
  email: string;
  /** Milliseconds since 1970. */
  at: number;
}

/** Writes a commit object and gives its id. No ref points at it yet. */
export async function writeCommit(
  folder: string,
  commit: { tree: string; parents: string[]; message: string; by: Signature },
): Promise<string> {
  const { name, email, at } = commit.by;
  const date = `${Math.floor(at / 1000)} +0000`;
  const plain = (text: string) => text.replace(/[<>\n\0]/g, " ").trim() || "unknown";
  return gitText(
    folder,
    ["commit-tree", commit.tree, ...commit.parents.flatMap((parent) => ["-p", parent]), "-F", "-"],
    {
      input: commit.message.endsWith("\n") ? commit.message : `${commit.message}\n`,
      env: {
        GIT_AUTHOR_NAME: plain(name),
        GIT_AUTHOR_EMAIL: plain(email),
        GIT_AUTHOR_DATE: date,
        GIT_COMMITTER_NAME: plain(name),
        GIT_COMMITTER_EMAIL: plain(email),
        GIT_COMMITTER_DATE: date,
      },
    },
  );
}

/** Moves a branch from one commit to another, or leaves it and answers false when it no longer is where it was. */
export async function moveBranch(
  folder: string,
  branch: string,
  to: string,
  from: string,
  why: string,
): Promise<boolean> {
  const args = ["update-ref", "--no-deref", "-m", why, "--end-of-options", `refs/heads/${branch}`, to, from];
  return (await git(folder, args, { answers: [1, 128] })).code === 0;
}
