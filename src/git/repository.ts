import { visibleWords } from "@/core/cautions/visible";
import { type FileChange, isObjectId } from "@/core/diff/tree";
import { isBranchName } from "./names";
import { bytesOfPath, pathOf } from "./paths";
import { readChange, splitAtNul } from "./raw";
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
  const { stdout } = await git(folder, ["for-each-ref", "--sort=-committerdate", `--format=${format}`, "refs/heads"]);
  const fields = stdout.toString("utf8").split("\0");
  const result: Branch[] = [];
  for (let i = 0; i + 3 < fields.length; i += 4) {
    result.push({
      name: fields[i].trimStart(),
      commit: fields[i + 1],
      at: Number(fields[i + 2]) * 1000,
      subject: visibleWords(fields[i + 3]),
    });
  }
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
  return isBranchName(name) ? readerOf(folder).commitOf(`refs/heads/${name}`) : null;
}

/** The same of several branches, in their order. */
export async function branchCommits(folder: string, names: readonly string[]): Promise<(string | null)[]> {
  const right = names.filter(isBranchName);
  const found = await readerOf(folder).commitsOf(right.map((name) => `refs/heads/${name}`));
  if (right.length === names.length) return found;
  const tips = new Map(right.map((name, at) => [name, found[at]]));
  return names.map((name) => tips.get(name) ?? null);
}

/** The best common ancestor of two commits; null when their histories have nothing in common. */
export async function mergeBase(folder: string, a: string, b: string): Promise<string | null> {
  const { code, stdout } = await git(folder, ["merge-base", a, b], { answers: [1] });
  return code === 0 ? stdout.toString().trim() : null;
}

/** Whether one commit is in the history of another; a commit is in its own. */
export async function isAncestor(folder: string, commit: string, of: string): Promise<boolean> {
  return (await git(folder, ["merge-base", "--is-ancestor", commit, of], { answers: [1] })).code === 0;
}

/** Whether two commits hold the same files. */
export async function sameTree(folder: string, one: string, other: string): Promise<boolean> {
  const ids = await gitText(folder, ["rev-parse", "--end-of-options", `${one}^{tree}`, `${other}^{tree}`]);
  const [a, b] = ids.split("\n").filter((line) => line !== "--end-of-options");
  return a === b;
}

/** A commit as people are told of it: in its words and the name of its author nothing hides or turns the rest around. */
export interface Commit {
  id: string;
  author: string;
  at: number;
  subject: string;
  body: string;
}

/** The commits that `head` has and `base` has not, the newest first, `most` at the most. */
export async function commitsBetween(folder: string, base: string, head: string, most = 500): Promise<Commit[]> {
  const args = ["log", "-z", `--max-count=${most}`, "--format=%H%x00%an%x00%at%x00%s%x00%b", `${base}..${head}`];
  const fields = (await git(folder, args)).stdout.toString("utf8").split("\0");
  const commits: Commit[] = [];
  for (let i = 0; i + 4 < fields.length; i += 5) {
    const [id, author, at, subject, body] = fields.slice(i, i + 5);
    commits.push({ id, at: Number(at) * 1000, ...wordsOf(author, subject, body) });
  }
  return commits;
}

function wordsOf(author: string, subject: string, body: string): Pick<Commit, "author" | "subject" | "body"> {
  return { author: visibleWords(author), subject: visibleWords(subject), body: visibleWords(body.trim()) };
}

/** What rules may ask of a commit. */
export interface CommitShape {
  id: string;
  subject: string;
  /** The whole message. */
  message: string;
  merge: boolean;
  /** The mail addresses of who wrote and who committed it. */
  addresses: [author: string, committer: string];
}

/** The commits that `head` has and `base` has not, the newest first, with their messages whole. */
export async function commitShapes(folder: string, base: string, head: string): Promise<CommitShape[]> {
  const { stdout } = await git(folder, [
    "log",
    "-z",
    "--format=%H%x00%P%x00%ae%x00%ce%x00%s%x00%B",
    `${base}..${head}`,
  ]);
  const fields = stdout.toString("utf8").split("\0");
  const commits: CommitShape[] = [];
  for (let i = 0; i + 5 < fields.length; i += 6) {
    const [id, parents, author, committer, subject, message] = fields.slice(i, i + 6);
    commits.push({ id, subject, message, merge: parents.includes(" "), addresses: [author, committer] });
  }
  return commits;
}

/** A commit with the files in which it differs from its first parent. */
export interface Step extends Commit {
  parent: string | null;
  files: FileChange[];
}

/** How `head` came about since `base` (null for from the beginning): commit by commit along first parents, the oldest first, the `most` newest of them. */
export async function stepsBetween(folder: string, base: string | null, head: string, most = 1000): Promise<Step[]> {
  const format = "%x01%H%x00%P%x00%an%x00%at%x00%s%x00%b";
  const args = ["log", "-z", "--first-parent", "-m", "--raw", "--no-renames", "--no-abbrev", `--max-count=${most}`];
  const { stdout } = await git(folder, [...args, `--format=${format}`, base ? `${base}..${head}` : head]);
  const steps: Step[] = [];
  const fields = splitAtNul(stdout);
  for (let at = 0; at < fields.length; at++) {
    const words = fields[at].toString("utf8").trimStart();
    if (words.startsWith("\x01")) {
      const [parents, author, time, subject, body] = fields
        .slice(at + 1, at + 6)
        .map((field) => field.toString("utf8"));
      const parent = parents.split(" ")[0] || null;
      steps.push({
        id: words.slice(1),
        parent,
        at: Number(time) * 1000,
        ...wordsOf(author, subject, body),
        files: [],
      });
      at += 5;
    } else if (words.startsWith(":")) steps.at(-1)?.files.push(readChange(words, fields[++at]));
  }
  return steps.reverse();
}

/** How many commits `head` has that `base` has not. */
export async function countCommits(folder: string, base: string, head: string): Promise<number> {
  return Number(await gitText(folder, ["rev-list", "--count", `${base}..${head}`]));
}

/** The first parent of a commit; the empty tree for one that has none. */
export async function firstParent(folder: string, commit: string): Promise<string> {
  const { code, stdout } = await git(folder, ["rev-parse", "--verify", "--quiet", "--end-of-options", `${commit}^1`], {
    answers: [1, 128],
  });
  return code === 0 ? stdout.toString().trim() : gitText(folder, ["mktree"]);
}

/** All files of a commit or tree, by path, with the ids of their contents. */
export async function filesIn(folder: string, tree: string): Promise<{ path: string; id: string; mode: number }[]> {
  const { stdout } = await git(folder, ["ls-tree", "-r", "-z", "--full-tree", tree]);
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

/** The bytes of one blob. For many, use `ObjectReader`. */
export async function readObject(folder: string, id: string): Promise<Buffer> {
  if (!isObjectId(id)) throw new Error("That is not an object id.");
  return (await git(folder, ["cat-file", "blob", id])).stdout;
}
