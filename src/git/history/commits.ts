import type { FileChange } from "@/core/diff/tree";
import { itemsOf, type NamedItem, trailersIn } from "@/core/house/work/trailers";
import { shortened } from "@/core/plain/words";
import { gitRecords, mayBeCut } from "../fields";
import { readerOf } from "../readers";
import { git, gitText } from "../run";
import { timeOf, Words } from "./commit-words";
import { fact } from "./facts";
import { rawLog } from "./raw-log";

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
  const commits: Commit[] = [];
  const words = new Words();
  await gitRecords(folder, args, 5, ([id, author, at, subject, body]) => {
    commits.push({ id, at: timeOf(at), ...words.of(author, subject, body) });
  });
  return commits;
}

/** What rules may ask of a commit. */
export interface CommitShape {
  id: string;
  subject: string;
  merge: boolean;
  /** Whether it ends with who signed it off. */
  signedOff: boolean;
  /** The mail addresses of who wrote and who committed it. */
  addresses: [author: string, committer: string];
}

/** What rules and trackers may ask of a series of commits. */
export interface SeriesShape {
  /** The newest first. */
  commits: CommitShape[];
  /** The work items that their messages name, each once. */
  named: NamedItem[];
}

/** Characters of a subject or an address. */
const LONGEST = 1_000;
/** So many work items are read off messages. */
const MOST_NAMED = 200;

/** The commits that `head` has and `base` has not. A message that is longer than anybody writes ends with nothing that counts. */
export async function seriesShape(folder: string, base: string, head: string): Promise<SeriesShape> {
  const args = ["log", "-z", "--format=%H%x00%P%x00%ae%x00%ce%x00%s%x00%B", `${base}..${head}`];
  const commits: CommitShape[] = [];
  const named = new Map<string, NamedItem>();
  await gitRecords(folder, args, 6, ([id, parents, author, committer, subject, message]) => {
    const trailers = mayBeCut(message) ? [] : trailersIn(message);
    commits.push({
      id,
      // A rule may ask for an end of it: what is shortened has another one, and does not fit.
      subject: shortened(subject, LONGEST),
      merge: parents.includes(" "),
      signedOff: trailers.some(({ key }) => key.toLowerCase() === "signed-off-by"),
      addresses: [shortened(author, LONGEST), shortened(committer, LONGEST)],
    });
    for (const one of itemsOf(trailers)) {
      const known = named.get(one.item);
      if (known) named.set(one.item, { ...known, closes: known.closes || one.closes });
      else if (named.size < MOST_NAMED) named.set(one.item, one);
    }
  });
  return { commits, named: [...named.values()] };
}

/** A commit with the files in which it differs from its first parent. */
export interface Step extends Commit {
  parent: string | null;
  files: FileChange[];
}

/** How `head` came about since `base` (null for from the beginning): commit by commit along first parents, the oldest first, the `most` newest of them. */
export async function stepsBetween(folder: string, base: string | null, head: string, most = 1000): Promise<Step[]> {
  const format = "--format=%x01%H%x00%P%x00%an%x00%at%x00%s%x00%b";
  const args = ["--first-parent", "-m", `--max-count=${most}`, format, base ? `${base}..${head}` : head];
  const words = new Words();
  const steps = (await rawLog(folder, args, 6)).map(({ fields, files }): Step => {
    const [id, parents, author, time, subject, body] = fields;
    const parent = parents.split(" ")[0] || null;
    return { id, parent, at: timeOf(time), ...words.of(author, subject, body), files };
  });
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
