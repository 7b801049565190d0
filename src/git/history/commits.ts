import { visibleWords } from "@/core/cautions/visible";
import type { FileChange } from "@/core/diff/tree";
import { readChange, splitAtNul } from "../raw";
import { readerOf } from "../readers";
import { git, gitText } from "../run";
import { fact } from "./facts";

/** The best common ancestor of two commits; null when their histories have nothing in common. */
export function mergeBase(folder: string, a: string, b: string): Promise<string | null> {
  return fact(folder, "base", [a, b], async () => {
    const { code, stdout } = await git(folder, ["merge-base", a, b], { answers: [1] });
    return code === 0 ? stdout.toString().trim() : null;
  });
}

/** Whether one commit is in the history of another; a commit is in its own. */
export function isAncestor(folder: string, commit: string, of: string): Promise<boolean> {
  return fact(folder, "ancestor", [commit, of], async () => {
    const { code } = await git(folder, ["merge-base", "--is-ancestor", commit, of], { answers: [1] });
    return code === 0;
  });
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
export function commitsBetween(folder: string, base: string, head: string, most = 500): Promise<readonly Commit[]> {
  const length = (commits: readonly Commit[]) =>
    commits.reduce(
      (sum, { id, author, subject, body }) => sum + id.length + author.length + subject.length + body.length,
      0,
    );
  return fact(folder, `commits ${most}`, [base, head], () => readCommits(folder, base, head, most), length);
}

async function readCommits(folder: string, base: string, head: string, most: number): Promise<Commit[]> {
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
export function countCommits(folder: string, base: string, head: string): Promise<number> {
  return fact(folder, "count", [base, head], async () =>
    Number(await gitText(folder, ["rev-list", "--count", `${base}..${head}`])),
  );
}

/** The first parent of a commit, by its id; the empty tree for one that has none. */
export async function firstParent(folder: string, commit: string): Promise<string> {
  return (await readerOf(folder).parentOf(commit)) ?? gitText(folder, ["mktree"]);
}
