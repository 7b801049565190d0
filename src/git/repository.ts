import { isObjectId } from "@/core/diff/tree";
import { gitRecords } from "./fields";
import { subjectOf, timeOf } from "./history/commit-words";
import { isBranchName } from "./names";
import { bytesOfPath, pathOf } from "./paths";
import { splitAtNul } from "./raw";
import { readerOf } from "./readers";
import { git, gitText } from "./run";

export interface Branch {
  name: string;
  commit: string;
  /** When its newest commit was made, milliseconds since 1970. */
  at: number;
  subject: string;
}

/** All branches, the newest first. */
export async function branches(folder: string): Promise<Branch[]> {
  const format = "%(refname:strip=2)%00%(objectname)%00%(committerdate:unix)%00%(contents:subject)%00";
  const args = ["for-each-ref", "--sort=-committerdate", `--format=${format}`, "refs/heads"];
  const result: Branch[] = [];
  await gitRecords(folder, args, 4, ([name, commit, at, subject]) => {
    result.push({ name: name.trimStart(), commit, at: timeOf(at), subject: subjectOf(subject) });
  });
  return result;
}

/** Every branch and tag with the commit it leads to, branches first. */
export async function namedCommits(
  folder: string,
): Promise<{ name: string; kind: "branch" | "tag"; commit: string }[]> {
  const format = "%(refname)%00%(objectname)%00%(*objectname)%00%(objecttype)%00%(*objecttype)";
  const text = await gitText(folder, ["for-each-ref", `--format=${format}`, "refs/heads", "refs/tags"]);
  return text.split("\n").flatMap((line) => {
    const [ref, id, peeled, type, peeledType] = line.split("\0");
    const [, kind, name] = /^refs\/(heads|tags)\/(.+)$/.exec(ref) ?? [];
    if (!name || (type !== "commit" && peeledType !== "commit")) return [];
    return [{ name, kind: kind === "heads" ? ("branch" as const) : ("tag" as const), commit: peeled || id }];
  });
}

/** The names of all branches and all tags, whatever they lead to. */
export async function refNames(folder: string): Promise<{ branches: string[]; tags: string[] }> {
  const text = await gitText(folder, ["for-each-ref", "--format=%(refname)", "refs/heads", "refs/tags"]);
  const under = (place: string) =>
    text.split("\n").flatMap((ref) => (ref.startsWith(place) ? [ref.slice(place.length)] : []));
  return { branches: under("refs/heads/"), tags: under("refs/tags/") };
}

/** Whether some branch or tag has a file in just this state. */
export async function isNamedState(folder: string, path: string, blob: string): Promise<boolean> {
  const commits = (await namedCommits(folder)).map(({ commit }) => commit);
  return (await blobsAt(folder, commits, path)).includes(blob);
}

/** The commit a branch points at; null when there is no such branch. */
export async function branchCommit(folder: string, name: string): Promise<string | null> {
  return isBranchName(name) ? readerOf(folder).tipOf(`refs/heads/${name}`) : null;
}

/** The same of several branches, in their order. */
export async function branchCommits(folder: string, names: readonly string[]): Promise<(string | null)[]> {
  const right = names.filter(isBranchName);
  const found = await readerOf(folder).commitsOf(right.map((name) => `refs/heads/${name}`));
  if (right.length === names.length) return found;
  const tips = new Map(right.map((name, at) => [name, found[at]]));
  return names.map((name) => tips.get(name) ?? null);
}

/** Whether two commits, by their ids, hold the same files. */
export async function sameTree(folder: string, one: string, other: string): Promise<boolean> {
  const reader = readerOf(folder);
  const [a, b] = await Promise.all([reader.treeOf(one), reader.treeOf(other)]);
  return a !== null && a === b;
}

/** A list of files is at most so long, in bytes: a million files, or half as many with long paths. */
export const MOST_LISTED = 64_000_000;

/** All files of a commit or tree, by path, with the ids of their contents. */
export async function filesIn(folder: string, tree: string): Promise<{ path: string; id: string; mode: number }[]> {
  const { stdout } = await git(folder, ["ls-tree", "-r", "-z", "--full-tree", tree], { most: MOST_LISTED });
  return splitAtNul(stdout).flatMap((entry) => {
    const tab = entry.indexOf(9);
    const [mode, type, id] = entry.toString("latin1", 0, tab).split(" ");
    return type === "blob" ? [{ path: pathOf(entry.subarray(tab + 1)).path, id, mode: Number.parseInt(mode, 8) }] : [];
  });
}

/** The paths of what is not the same in two commits: files, links and pointers to other repositories, on either side. */
export async function pathsBetween(folder: string, one: string, other: string): Promise<Set<string>> {
  const how = ["diff-tree", "-r", "-z", "--name-only", "--no-renames", "--no-ext-diff"];
  const { stdout } = await git(folder, [...how, "--end-of-options", one, other]);
  return new Set(splitAtNul(stdout).map((bytes) => pathOf(bytes).path));
}

/** The commit that a revision in git's own notation names; null when there is none. */
export async function resolveCommit(folder: string, name: string): Promise<string | null> {
  if (isObjectId(name)) return readerOf(folder).commitOf(name);
  const { code, stdout } = await git(
    folder,
    ["rev-parse", "--verify", "--quiet", "--end-of-options", `${name}^{commit}`],
    { answers: [1, 128] },
  );
  const id = stdout.toString().trim();
  return code === 0 && isObjectId(id) ? id : null;
}

/** Where a revision's commits are kept alive, whatever becomes of its branch. */
export function revisionRef(change: string, revision: number, what: "head" | "target"): string {
  return `refs/lens/${change}/r${revision}/${what}`;
}

/** Ids of the change sets that have a commit as the head of a revision, by the refs that keep it. */
export async function changesAt(folder: string, commit: string): Promise<string[]> {
  const args = ["for-each-ref", `--points-at=${commit}`, "--format=%(refname)", "refs/lens"];
  const { code, stdout } = await git(folder, args, { answers: [128, 129] });
  if (code !== 0) return [];
  const ids = stdout
    .toString()
    .split("\n")
    .flatMap((ref) => /^refs\/lens\/([^/]+)\/r\d+\/head$/.exec(ref)?.[1] ?? []);
  return [...new Set(ids)];
}

/** Keeps a revision's commits from being collected. Naming the same commits again changes nothing. */
export async function keepRevision(
  folder: string,
  change: string,
  revision: number,
  head: string,
  target: string,
): Promise<void> {
  const input = `update ${revisionRef(change, revision, "head")}\0${head}\0\0update ${revisionRef(change, revision, "target")}\0${target}\0\0`;
  await git(folder, ["update-ref", "-z", "--stdin"], { input });
}

/** Lets go of a revision that was recorded nowhere. */
export async function dropRevision(folder: string, change: string, revision: number): Promise<void> {
  const names = ["head", "target"] as const;
  const input = names.map((name) => `delete ${revisionRef(change, revision, name)}\0\0`).join("");
  await git(folder, ["update-ref", "-z", "--stdin"], { input });
}

/** The id of the blob at a path of a commit; null when there is no file. */
export async function blobAt(folder: string, commit: string, path: string): Promise<string | null> {
  if (!isObjectId(commit)) return null;
  return (await blobsAt(folder, [commit], path))[0];
}

/** The ids of what stands at a path in some commits, in their order; null where there is nothing. */
async function blobsAt(folder: string, commits: readonly string[], path: string): Promise<(string | null)[]> {
  const bytes = bytesOfPath(path);
  // One question is one line.
  if (bytes.includes(10)) return commits.map(() => null);
  const input = Buffer.concat(commits.flatMap((commit) => [Buffer.from(`${commit}:`), bytes, Buffer.from("\n")]));
  const { stdout } = await git(folder, ["cat-file", "--batch-check=%(objectname)"], { input });
  const answers = stdout.toString("latin1").split("\n");
  return commits.map((_, n) => (isObjectId(answers[n] ?? "") ? answers[n] : null));
}

/** The size of a blob in bytes; null when there is none of that id. */
export async function objectSize(folder: string, id: string): Promise<number | null> {
  if (!isObjectId(id)) return null;
  return readerOf(folder).size(id);
}

/** What is larger is read by a git of its own, in bytes: others would have to wait for it to come through the one that all ask. */
const LARGE = 1_000_000;

/** The bytes of one blob. For many, use `ObjectReader`. */
export async function readObject(folder: string, id: string): Promise<Buffer> {
  const size = await objectSize(folder, id);
  if (size === null) throw new Error("There is no such object.");
  const bytes = size > LARGE ? null : await readerOf(folder).read(id);
  return bytes ?? (await git(folder, ["cat-file", "blob", id], { most: size })).stdout;
}
