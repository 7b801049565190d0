import { LRUCache } from "lru-cache";
import { shortened } from "@/core/plain/words";
import { gitRecords } from "./fields";
import { timeOf } from "./history/commit-words";
import { pathOf } from "./paths";
import { splitAtNul } from "./raw";
import { GitEnded, git, gitText } from "./run";

export type MergeTree =
  | { clean: true; tree: string }
  /** `late` where git was ended before it was done: then the paths are those that both sides changed. */
  | { clean: false; paths: string[]; late?: true };

/** How long git may take to bring two commits together, in seconds. It takes the square of the conflicts of a file, and can be given 100,000. */
export const MERGED_WITHIN = 20;
/** What it was ended at: it is not tried again for ten minutes, since most likely it would be ended again. */
const ended = new LRUCache<string, string[]>({ max: 500, ttl: 600_000 });

/**
 * Merges two commits into a tree without touching any ref, or tells which files conflict. Where git takes too long, all files that both sides changed do: by
 * hand they can be brought together in the source.
 */
export async function mergeTree(
  folder: string,
  ours: string,
  theirs: string,
  within = MERGED_WITHIN,
): Promise<MergeTree> {
  const key = `${folder}\0${ours}\0${theirs}`;
  const known = ended.get(key);
  if (known) return { clean: false, paths: known, late: true };
  try {
    return await mergeNow(folder, ours, theirs, within);
  } catch (error) {
    if (!(error instanceof GitEnded)) throw error;
    const paths = await changedByBoth(folder, ours, theirs);
    ended.set(key, paths);
    return { clean: false, paths, late: true };
  }
}

/** The files that both sides changed; where that cannot be told, since they have no one commit in common, those that are not the same. */
async function changedByBoth(folder: string, ours: string, theirs: string): Promise<string[]> {
  const changed = async (from: string, to: string, ...since: string[]) => {
    const args = ["diff", "--name-only", "-z", "--no-renames", ...since, from, to];
    return splitAtNul((await git(folder, args, { answers: [128] })).stdout).map((bytes) => pathOf(bytes).path);
  };
  const mine = new Set(await changed(theirs, ours, "--merge-base"));
  const both = (await changed(ours, theirs, "--merge-base")).filter((path) => mine.has(path));
  return both.length > 0 ? both : changed(ours, theirs);
}

async function mergeNow(folder: string, ours: string, theirs: string, within: number): Promise<MergeTree> {
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
  const { code, stdout } = await git(folder, args, { answers: [1], within });
  const [tree, ...names] = splitAtNul(stdout).filter((part) => part.length > 0);
  return code === 0
    ? { clean: true, tree: tree.toString() }
    : { clean: false, paths: names.map((name) => pathOf(name).path) };
}

export interface Signature {
  name: string;
  email: string;
  /** Milliseconds since 1970. */
  at: number;
  /** How far that was from UTC where it was signed, as `+0130`; left out for UTC. */
  zone?: string;
}

/** Longer messages are put on no other commit: no one writes them. In bytes. */
const LONGEST = 1_000_000;
/** Characters of a name or an address that are written into another commit. */
const LONGEST_NAME = 1_000;

/** Who wrote a commit, with what message, and on what; the message is null where it is too long to be written anew. */
export async function signatureOf(
  folder: string,
  commit: string,
): Promise<{ author: Signature; parents: string[]; message: string | null }> {
  const format = "%P%x00%an%x00%ae%x00%at%x00%ad%x00%B%x00";
  const args = ["log", "--no-walk", "--date=raw", `--format=${format}`, "--end-of-options", commit];
  let told: string[] = [];
  await gitRecords(
    folder,
    args,
    6,
    (fields) => {
      told = fields;
    },
    { most: LONGEST },
  );
  const [parents, name, email, at, date, message] = told;
  return {
    author: {
      name: shortened(name, LONGEST_NAME),
      email: shortened(email, LONGEST_NAME),
      at: timeOf(at),
      zone: date.split(" ")[1],
    },
    parents: parents.split(" ").filter((id) => id !== ""),
    message: Buffer.byteLength(message) < LONGEST - 4 ? message : null,
  };
}

/** The tree of a commit. */
export function treeOf(folder: string, commit: string): Promise<string> {
  return gitText(folder, ["rev-parse", "--verify", "--end-of-options", `${commit}^{tree}`]);
}

/** Deletes a branch if it still is where it was; answers whether it did. */
export async function deleteBranch(folder: string, branch: string, at: string): Promise<boolean> {
  const args = ["update-ref", "--no-deref", "-d", "--end-of-options", `refs/heads/${branch}`, at];
  return (await git(folder, args, { answers: [1, 128] })).code === 0;
}

/** How far from UTC a place can be; git writes of others what it then refuses to read. */
const ZONE = /^[-+](?:0\d|1[0-4])[0-5]\d$/;

/** Writes a commit object and gives its id. No ref points at it yet. The author is who writes it, unless another is named. */
export async function writeCommit(
  folder: string,
  commit: { tree: string; parents: string[]; message: string; by: Signature; author?: Signature },
): Promise<string> {
  const plain = (text: string) => text.replace(/[<>\n\0]/g, " ").trim() || "unknown";
  const who = (role: "AUTHOR" | "COMMITTER", { name, email, at, zone = "+0000" }: Signature) => ({
    [`GIT_${role}_NAME`]: plain(name),
    [`GIT_${role}_EMAIL`]: plain(email),
    // The sign tells git that it is this number, also where that could be read as a day.
    [`GIT_${role}_DATE`]: `@${Math.max(0, Math.floor(at / 1000))} ${ZONE.test(zone) ? zone : "+0000"}`,
  });
  return gitText(
    folder,
    ["commit-tree", commit.tree, ...commit.parents.flatMap((parent) => ["-p", parent]), "-F", "-"],
    {
      input: commit.message.endsWith("\n") ? commit.message : `${commit.message}\n`,
      env: { ...who("AUTHOR", commit.author ?? commit.by), ...who("COMMITTER", commit.by) },
    },
  );
}

/** A ref could not be moved although it is where it was expected: most often because git left a lock behind when it was killed. */
export class RefStuck extends Error {}

/** How often a lock is waited for, and how long each time: another git may be at work on the same ref just now. */
const TRIES = 5;
const PAUSE = 80;

/**
 * Moves a branch from one commit to another, or leaves it and answers false when it no longer is where it was. Throws {@link RefStuck}, with
 * a sentence for the person, when it is there and git cannot move it all the same.
 */
export async function moveBranch(
  folder: string,
  branch: string,
  to: string,
  from: string,
  why: string,
): Promise<boolean> {
  const ref = `refs/heads/${branch}`;
  const args = ["update-ref", "--no-deref", "-m", why, "--end-of-options", ref, to, from];
  for (let n = 1; ; n++) {
    const { code, stderr } = await git(folder, args, { answers: [1, 128] });
    if (code === 0) return true;
    const now = await git(folder, ["rev-parse", "--verify", "--quiet", "--end-of-options", ref], { answers: [1, 128] });
    if (now.stdout.toString("utf8").trim() !== from) return false;
    if (n < TRIES) await new Promise((resolve) => setTimeout(resolve, PAUSE));
    else throw new RefStuck(stuckWords(branch, stderr));
  }
}

function stuckWords(branch: string, stderr: string): string {
  const [, lock] = /Unable to create '([^']+\.lock)'/.exec(stderr) ?? [];
  if (!lock) return `git could not move ${branch}: ${stderr.trim().slice(0, 300)}`;
  const place = lock.slice(lock.lastIndexOf(".git/") + ".git/".length);
  return `git could not move ${branch}: the lock ${place} is there. When no git is at work, it was left by one that was killed: “lens check” tells what to do.`;
}

/**
 * Merges two commits as if a third were what they have in common. This git cannot be told a base, so the three trees are put into commits
 * that are related just so; nothing refers to them.
 */
export async function mergeWithBase(folder: string, base: string, ours: string, theirs: string): Promise<MergeTree> {
  // Of nobody and of no time: the same three make the same commits.
  const by = { name: "stand-in", email: "stand-in", at: 0 };
  const standIn = async (of: string, parents: string[]) =>
    writeCommit(folder, { tree: await treeOf(folder, of), parents, message: "stand-in", by });
  const common = await standIn(base, []);
  return mergeTree(folder, await standIn(ours, [common]), await standIn(theirs, [common]));
}

/** Makes a branch that is not there yet; answers whether it did. */
export async function makeBranch(folder: string, branch: string, at: string): Promise<boolean> {
  const args = ["update-ref", "--no-deref", "--end-of-options", `refs/heads/${branch}`, at, "0".repeat(at.length)];
  return (await git(folder, args, { answers: [1, 128] })).code === 0;
}
