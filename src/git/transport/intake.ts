import { existsSync, statSync } from "node:fs";
import { mkdir, realpath, rename, rm, writeFile } from "node:fs/promises";
import { join, resolve } from "node:path";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { isAncestor } from "../history/commits";
import { branchCommit } from "../repository";
import { GitError, git, gitText } from "../run";
import { type Credentials, type Origin, wayToAddress, whyNot } from "./origin";

/** Where in the repository's own configuration it is kept where it was taken from. */
const SOURCE_KEY = "lens.source";
const INCOMING = "refs/lens-incoming";

/** Ownership of the folder a person names on their own terminal is theirs to judge, not git's. */
const TRUSTING = "[safe]\n\tdirectory = *\n";

/** How git comes to what is at an origin: where it asks, and under which settings. */
interface Way {
  from: string;
  env: Record<string, string>;
}

/**
 * Takes a repository in as a bare one at `destination`: its branches and tags with all they reach, sharing no file with where it came from.
 * Nothing is left behind when it is refused or cut short.
 */
export async function takeIn(
  origin: Origin,
  destination: string,
  options: { progress?: (words: string) => void; signal?: AbortSignal } = {},
): Promise<Outcome<{ defaultBranch: string; branches: number }>> {
  const temporary = `${destination}.taking-${process.pid}`;
  await mkdir(temporary, { recursive: true });
  try {
    const bare = join(temporary, "bare");
    const taken = await fillBare(origin, bare, temporary, options);
    if (!taken.ok) return taken;
    await git(bare, ["config", "core.logAllRefUpdates", "true"]);
    await git(bare, ["config", "gc.auto", "0"]);
    await rm(join(bare, "FETCH_HEAD"), { force: true });
    await rename(bare, destination);
    return taken;
  } catch (error) {
    if (options.signal?.aborted) return refuse("conflict", "It was cancelled; nothing was taken in.");
    if (error instanceof GitError && origin.kind !== "folder") return refuse("invalid", whyNot(error));
    throw error;
  } finally {
    await rm(temporary, { recursive: true, force: true });
  }
}

async function fillBare(
  origin: Origin,
  bare: string,
  temporary: string,
  options: { progress?: (words: string) => void; signal?: AbortSignal },
): Promise<Outcome<{ defaultBranch: string; branches: number }>> {
  const begin = (branch: string) =>
    git(null, ["init", "--quiet", "--bare", `--initial-branch=${branch}`, "--end-of-options", bare]);
  if (origin.kind === "nothing") {
    await begin(origin.branch);
    return done({ defaultBranch: origin.branch, branches: 0 });
  }
  const way = await wayTo(origin, temporary);
  if (!way.ok) return way;
  const { from, env } = way.value;
  const heads = await headsAt(from, env, options.signal);
  if (heads.names.length === 0)
    return refuse("invalid", `${sourceName(origin)} is empty: it has no branch with a commit.`);
  const defaultBranch = heads.head ?? (heads.names.includes("main") ? "main" : heads.names[0]);
  await begin(defaultBranch);
  const refs = ["refs/heads/*:refs/heads/*", "refs/tags/*:refs/tags/*"];
  await git(bare, ["fetch", "--progress", "--no-auto-gc", "--end-of-options", from, ...refs], {
    ...options,
    env,
    within: Number.POSITIVE_INFINITY,
  });
  if (origin.kind !== "bundle") await git(bare, ["config", SOURCE_KEY, from]);
  return done({ defaultBranch, branches: heads.names.length });
}

function sourceName(origin: Origin): string {
  if (origin.kind === "folder") return `The repository at ${resolve(origin.path)}`;
  return origin.kind === "bundle" ? "The bundle" : "The repository there";
}

/** The branches at a place, and which of them is checked out there: told by name, or by its commit as in a bundle. */
async function headsAt(
  from: string,
  env: Record<string, string>,
  signal?: AbortSignal,
): Promise<{ names: string[]; head: string | null }> {
  const listed = await gitText(null, ["ls-remote", "--symref", "--end-of-options", from], { env, signal });
  const refs = listed.split("\n").flatMap((line) => {
    const [, id, name] = /^([0-9a-f]{40,64})\t(.+)$/.exec(line) ?? [];
    return id ? [{ id, name }] : [];
  });
  const branchOf = (ref: string) => /^refs\/heads\/(.+)$/.exec(ref)?.[1];
  const names = refs.flatMap(({ name }) => branchOf(name) ?? []);
  const told = branchOf(/^ref: (\S+)\tHEAD$/m.exec(listed)?.[1] ?? "");
  if (told !== undefined && names.includes(told)) return { names, head: told };
  const at = refs.find(({ name }) => name === "HEAD")?.id;
  const same = refs.filter(({ id, name }) => id === at && branchOf(name)).map(({ name }) => branchOf(name)!);
  return { names, head: same.includes("main") ? "main" : (same[0] ?? null) };
}

/** Refuses what is no repository, and addresses of kinds that git is not to follow. */
async function wayTo(origin: Exclude<Origin, { kind: "nothing" }>, temporary: string): Promise<Outcome<Way>> {
  if (origin.kind === "address") return wayToAddress(origin);
  const source = resolve(origin.path);
  if (origin.kind === "bundle") return done({ from: source, env: { GIT_ALLOW_PROTOCOL: "file" } });
  if (!existsSync(source)) return refuse("missing", `There is nothing at ${source}.`);
  if (!statSync(source).isDirectory())
    return refuse("invalid", `${source} is a file, not the folder of a git repository.`);
  const config = join(temporary, "trusting");
  await writeFile(config, TRUSTING);
  const env = { GIT_CONFIG_GLOBAL: config };
  const folder = await repositoryFolder(source, env);
  return folder ? done({ from: folder, env }) : refuse("invalid", `${source} is not a git repository.`);
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
 * not told of. `credentials` are for one that was taken from an address.
 */
export async function fetchAgain(
  folder: string,
  mayRewrite: (branch: string) => boolean,
  credentials: Credentials = {},
): Promise<Outcome<Fetched[]>> {
  const source = await gitText(folder, ["config", "--get", SOURCE_KEY], { answers: [1] });
  const away = /^https?:/.test(source);
  if (source === "" || (!away && !existsSync(source)))
    return refuse("missing", `The repository it was taken from is not at ${source || "a known place"} any more.`);
  const config = `${folder}.trusting-${process.pid}`;
  await writeFile(config, TRUSTING);
  try {
    const way = away
      ? wayToAddress({ url: source, ...credentials })
      : done({ from: source, env: { GIT_CONFIG_GLOBAL: config } });
    if (!way.ok) return way;
    const { from, env } = way.value;
    const plainly = ["fetch", "--quiet", "--no-auto-gc", "--no-write-fetch-head"];
    const whole = { env, within: Number.POSITIVE_INFINITY };
    await git(folder, [...plainly, "--prune", "--end-of-options", from, `+refs/heads/*:${INCOMING}/*`], whole);
    await git(folder, [...plainly, "--end-of-options", from, "refs/tags/*:refs/tags/*"], { ...whole, answers: [1] });
  } catch (error) {
    if (away && error instanceof GitError) return refuse("unavailable", whyNot(error));
    throw error;
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
