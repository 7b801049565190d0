import { existsSync, statSync } from "node:fs";
import { mkdir, realpath, rename, rm, writeFile } from "node:fs/promises";
import { join, resolve } from "node:path";
import { done, type Outcome, refuse } from "@/core/outcome";
import { branchCommit, isAncestor } from "./repository";
import { git, gitText } from "./run";

/** Where in the repository's own configuration it is kept where it was taken from. */
const SOURCE_KEY = "lens.source";
const INCOMING = "refs/lens-incoming";

/** Ownership of the folder a person names on their own terminal is theirs to judge, not git's. */
const TRUSTING = "[safe]\n\tdirectory = *\n";

/**
 * Takes a local repository, bare or not, in as a bare one at `destination`: its branches and tags with all they reach, sharing no file
 * with it. Nothing is left behind when it is refused or cut short.
 */
export async function takeIn(
  path: string,
  destination: string,
  options: { progress?: (words: string) => void; signal?: AbortSignal } = {},
): Promise<Outcome<{ defaultBranch: string; branches: number }>> {
  const source = resolve(path);
  if (!existsSync(source)) return refuse("missing", `There is nothing at ${source}.`);
  if (!statSync(source).isDirectory())
    return refuse("invalid", `${source} is a file, not the folder of a git repository.`);
  const temporary = `${destination}.taking-${process.pid}`;
  await mkdir(temporary, { recursive: true });
  try {
    const config = join(temporary, "trusting");
    await writeFile(config, TRUSTING);
    const env = { GIT_CONFIG_GLOBAL: config };
    const folder = await repositoryFolder(source, env);
    if (!folder) return refuse("invalid", `${source} is not a git repository.`);
    const heads = await gitText(folder, ["for-each-ref", "--format=%(refname:strip=2)", "refs/heads"], { env });
    if (heads === "") return refuse("invalid", `The repository at ${source} is empty: it has no branch with a commit.`);
    const names = heads.split("\n");
    const head = await gitText(folder, ["symbolic-ref", "--short", "-q", "HEAD"], { env, answers: [1] });
    const defaultBranch = names.includes(head) ? head : names.includes("main") ? "main" : names[0];

    const bare = join(temporary, "bare");
    await git(null, ["init", "--quiet", "--bare", `--initial-branch=${defaultBranch}`, "--end-of-options", bare]);
    const refs = ["refs/heads/*:refs/heads/*", "refs/tags/*:refs/tags/*"];
    const fetching = { env, progress: options.progress, signal: options.signal };
    await git(bare, ["fetch", "--progress", "--no-auto-gc", "--end-of-options", folder, ...refs], fetching);
    await git(bare, ["config", SOURCE_KEY, folder]);
    await git(bare, ["config", "core.logAllRefUpdates", "true"]);
    await git(bare, ["config", "gc.auto", "0"]);
    await rm(join(bare, "FETCH_HEAD"), { force: true });
    await rename(bare, destination);
    return done({ defaultBranch, branches: names.length });
  } finally {
    await rm(temporary, { recursive: true, force: true });
  }
}

/** The git folder of the repository at a place on this machine; null when there is none. */
export async function gitFolderOf(path: string): Promise<string | null> {
  return existsSync(path) && statSync(path).isDirectory() ? repositoryFolder(path, {}) : null;
}

/** The git folder of the repository whose top is exactly here; null when here is no repository, or some place inside one. */
async function repositoryFolder(source: string, env: Record<string, string>): Promise<string | null> {
  const options = { env, answers: [128] };
  const { code, stdout } = await git(null, ["-C", source, "rev-parse", "--absolute-git-dir"], options);
  if (code !== 0) return null;
  const folder = await realpath(stdout.toString("utf8").replace(/\n$/, ""));
  const here = await realpath(source);
  if (folder === here || folder === join(here, ".git")) return folder;
  const top = await git(null, ["-C", source, "rev-parse", "--show-toplevel"], options);
  return top.code === 0 && (await realpath(top.stdout.toString("utf8").replace(/\n$/, ""))) === here ? folder : null;
}

/** What became of one branch when its repository was fetched again. */
export interface Fetched {
  branch: string;
  what: "new" | "moved on" | "rewritten" | "kept";
}

/**
 * Brings in what came to the branches of the repository that this one was taken from. A branch moves forward only; one that was
 * rewritten there is moved if `mayRewrite` says so, and kept otherwise. What is ahead here is never moved back. Unchanged branches are
 * not told of.
 */
export async function fetchAgain(folder: string, mayRewrite: (branch: string) => boolean): Promise<Outcome<Fetched[]>> {
  const source = await gitText(folder, ["config", "--get", SOURCE_KEY], { answers: [1] });
  if (source === "" || !existsSync(source))
    return refuse("missing", `The repository it was taken from is not at ${source || "a known place"} any more.`);
  const config = `${folder}.trusting-${process.pid}`;
  await writeFile(config, TRUSTING);
  try {
    const env = { GIT_CONFIG_GLOBAL: config };
    await git(
      folder,
      [
        "fetch",
        "--quiet",
        "--prune",
        "--no-auto-gc",
        "--no-write-fetch-head",
        "--end-of-options",
        source,
        `+refs/heads/*:${INCOMING}/*`,
      ],
      { env },
    );
    await git(
      folder,
      [
        "fetch",
        "--quiet",
        "--no-auto-gc",
        "--no-write-fetch-head",
        "--end-of-options",
        source,
        "refs/tags/*:refs/tags/*",
      ],
      { env, answers: [1] },
    );
  } finally {
    await rm(config, { force: true });
  }
  const result: Fetched[] = [];
  const incoming = await gitText(folder, ["for-each-ref", "--format=%(refname) %(objectname)", INCOMING]);
  for (const line of incoming === "" ? [] : incoming.split("\n")) {
    const [ref, theirs] = line.split(" ");
    const branch = ref.slice(INCOMING.length + 1);
    const ours = await branchCommit(folder, branch);
    const what = await compareBranches(folder, ours, theirs, mayRewrite(branch));
    if (what === null) continue;
    result.push({ branch, what });
    if (what !== "kept")
      await git(folder, [
        "update-ref",
        "-m",
        "fetched",
        "--end-of-options",
        `refs/heads/${branch}`,
        theirs,
        ours ?? "0".repeat(theirs.length),
      ]);
  }
  return done(result);
}

async function compareBranches(
  folder: string,
  ours: string | null,
  theirs: string,
  mayRewrite: boolean,
): Promise<Fetched["what"] | null> {
  if (ours === null) return "new";
  if (ours === theirs || (await isAncestor(folder, theirs, ours))) return null;
  if (await isAncestor(folder, ours, theirs)) return "moved on";
  return mayRewrite ? "rewritten" : "kept";
}
