import { git } from "./run";

/** What a path got and lost by some commits, in lines; null where it is no text. */
type Sums = Map<string, [added: number, removed: number] | null>;

/** Beyond so many lines the patches of single commits are not compared. */
const MOST_LINES = 200_000;

/**
 * Whether the commits between two points do no more than lead from one to the other: nothing is put in by one of them and taken out by a
 * later one. What a single commit holds is then all in the result.
 */
export async function isStraight(folder: string, base: string, head: string): Promise<boolean> {
  const whole = await sums(folder, ["diff-tree", "-r", "--numstat", "-z", "--no-renames", base, head]);
  const single = await sums(folder, [
    "log",
    "--numstat",
    "-z",
    "--no-renames",
    "-m",
    "--first-parent",
    "--format=",
    `${base}..${head}`,
  ]);
  const touchedOnce = await timesTouched(folder, base, head);
  if (whole.size !== single.size) return false;
  return [...whole].every(([path, sum]) => {
    const other = single.get(path);
    if (!sum || !other) return other !== undefined && touchedOnce.get(path) === 1;
    return other[0] === sum[0] && other[1] === sum[1];
  });
}

async function sums(folder: string, args: string[]): Promise<Sums> {
  const result: Sums = new Map();
  const { stdout } = await git(folder, args);
  for (const entry of stdout.toString("latin1").split("\0")) {
    const [, added, removed, path] = /^\s*(\d+|-)\t(\d+|-)\t([\s\S]+)$/.exec(entry) ?? [];
    if (path === undefined) continue;
    const before = result.get(path) ?? [0, 0];
    if (added === "-" || result.get(path) === null) result.set(path, null);
    else result.set(path, [before[0] + Number(added), before[1] + Number(removed)]);
  }
  return result;
}

async function timesTouched(folder: string, base: string, head: string): Promise<Map<string, number>> {
  const times = new Map<string, number>();
  const { stdout } = await git(folder, [
    "log",
    "--name-only",
    "-z",
    "--no-renames",
    "-m",
    "--first-parent",
    "--format=",
    `${base}..${head}`,
  ]);
  for (const entry of stdout.toString("latin1").split("\0")) {
    const path = entry.replace(/^\n/, "");
    if (path !== "") times.set(path, (times.get(path) ?? 0) + 1);
  }
  return times;
}

/** Whether every commit of one series is, as a patch, one of another: a rebase alone. Merges have no patch, and make it none. */
export async function sameSeries(
  folder: string,
  before: { base: string; head: string },
  after: { base: string; head: string },
): Promise<boolean> {
  const merges = await git(folder, ["rev-list", "--min-parents=2", "--max-count=1", `${after.base}..${after.head}`]);
  if (merges.stdout.length > 0) return false;
  const [old, next] = await Promise.all([before, after].map((series) => patchIds(folder, series)));
  if (!old || !next) return false;
  const left = [...old];
  return next.every((id) => {
    const at = left.indexOf(id);
    if (at >= 0) left.splice(at, 1);
    return at >= 0;
  });
}

/** The patches of commits, whatever lines they stand at, as git names them; null where they are too large to be compared. */
async function patchIds(folder: string, { base, head }: { base: string; head: string }): Promise<string[] | null> {
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
  for (const sum of all.values()) lines += sum ? sum[0] + sum[1] : 0;
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
  const { stdout } = await git(folder, ["patch-id", "--stable"], { input: patches.stdout });
  return stdout
    .toString()
    .split("\n")
    .filter((line) => line !== "")
    .map((line) => line.split(" ")[0]);
}
