import { createHash, type Hash } from "node:crypto";
import { git } from "../run";

/** What a path got and lost by some commits, in lines, and how many of them touched it. Without lines where it is no text. */
interface Sum {
  lines: [added: number, removed: number] | null;
  times: number;
}

/** Beyond so many lines the patches of single commits are not compared. */
const MOST_LINES = 200_000;

/**
 * Whether the commits between two points do no more than lead from one to the other: nothing is put in by one of them and taken out by a
 * later one. What a single commit holds is then all in the result. A series with a merge is not straight: what came by its other side
 * could have come and gone there.
 */
export async function isStraight(folder: string, base: string, head: string): Promise<boolean> {
  if (await hasMerge(folder, base, head)) return false;
  const whole = await sums(folder, ["diff-tree", "-r", "--numstat", "-z", "--no-renames", base, head]);
  const single = await sums(folder, ["log", "--numstat", "-z", "--no-renames", "--format=", `${base}..${head}`]);
  if (whole.size !== single.size) return false;
  return [...whole].every(([path, { lines }]) => {
    const other = single.get(path);
    if (!other) return false;
    if (!lines || !other.lines) return other.times === 1;
    return other.lines[0] === lines[0] && other.lines[1] === lines[1];
  });
}

async function hasMerge(folder: string, base: string, head: string): Promise<boolean> {
  const { stdout } = await git(folder, ["rev-list", "--min-parents=2", "--max-count=1", `${base}..${head}`]);
  return stdout.length > 0;
}

async function sums(folder: string, args: string[]): Promise<Map<string, Sum>> {
  const result = new Map<string, Sum>();
  const { stdout } = await git(folder, args);
  for (const entry of stdout.toString("latin1").split("\0")) {
    const [, added, removed, path] = /^\s*(\d+|-)\t(\d+|-)\t([\s\S]+)$/.exec(entry) ?? [];
    if (path === undefined) continue;
    const { lines, times } = result.get(path) ?? { lines: [0, 0], times: 0 };
    const text = added !== "-" && lines !== null;
    result.set(path, {
      lines: text ? [lines[0] + Number(added), lines[1] + Number(removed)] : null,
      times: times + 1,
    });
  }
  return result;
}

/** Whether every commit of one series is, as a patch, one of another: a rebase alone. Merges have no patch, and make it none. */
export async function sameSeries(
  folder: string,
  before: { base: string; head: string },
  after: { base: string; head: string },
): Promise<boolean> {
  if (await hasMerge(folder, after.base, after.head)) return false;
  const [old, next] = await Promise.all([before, after].map((series) => patchesOf(folder, series)));
  if (!old || !next) return false;
  const left = [...old];
  return next.every((id) => {
    const at = left.indexOf(id);
    if (at >= 0) left.splice(at, 1);
    return at >= 0;
  });
}

/** The patches of commits, as {@link patchesIn} names them; null where they are too large to be compared. */
async function patchesOf(folder: string, { base, head }: { base: string; head: string }): Promise<string[] | null> {
  const all = await sums(folder, [
    "log",
    "--numstat",
    "-z",
    "--no-renames",
    "--no-merges",
    "--format=",
    `${base}..${head}`,
  ]);
  let lines = 0;
  for (const sum of all.values()) lines += sum.lines ? sum.lines[0] + sum.lines[1] : 0;
  if (lines > MOST_LINES) return null;
  const patches = await git(folder, [
    "log",
    "-p",
    "--binary",
    "--full-index",
    "--no-merges",
    "--no-renames",
    "--format=commit %H",
    `${base}..${head}`,
  ]);
  return [...patchesIn(patches.stdout)];
}

/**
 * What each commit does to its files, whatever lines and blobs they stand at, as a hash; none of a commit that does nothing. Byte for byte, which
 * `git patch-id` is not: it leaves white space aside, and an older one the contents of what is no text.
 */
function* patchesIn(log: Buffer): Generator<string> {
  let patch: Hash | null = null;
  // As latin1 each byte is one character, and none is lost.
  for (const line of log.toString("latin1").split("\n")) {
    if (/^commit [0-9a-f]+$/.test(line)) {
      if (patch) yield patch.digest("hex");
      patch = null;
    } else if (line !== "" && !line.startsWith("index ")) {
      patch ??= createHash("sha256");
      patch.update(`${line.startsWith("@@ ") ? "@@" : line}\n`, "latin1");
    }
  }
  if (patch) yield patch.digest("hex");
}
