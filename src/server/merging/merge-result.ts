import { visible } from "@/core/cautions/visible";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { counted, listed } from "@/core/plain/words";
import { type ChangeSet, newest } from "@/core/review/state";
import type { MergeKind } from "@/core/rules/rule";
import { commitsBetween, isAncestor } from "@/git/history/commits";
import { MERGED_WITHIN, mergeTree, mergeWithBase, type Signature, signatureOf, treeOf, writeCommit } from "@/git/merge";

/** More commits than these are not put on top of a target one by one. */
const MOST_REBASED = 200;

/** What a merge would make of the target: the commits are written, and no ref points at them. */
export interface MergeResult {
  commit: string;
  /** Ids of the commits that are new to the target, the oldest first. */
  made: string[];
}

/** Makes what the target becomes when the newest revision goes in, in one of the ways; or says why that cannot be. */
export async function makeResult(
  folder: string,
  change: ChangeSet,
  from: string,
  how: MergeKind,
  message: string,
  by: Signature,
): Promise<Outcome<MergeResult>> {
  const { head, number } = newest(change);
  if (await isAncestor(folder, head, from))
    return refuse("conflict", `Every commit of r${number} is in ${change.target} already.`);
  switch (how) {
    case "forward":
      if (!(await isAncestor(folder, from, head)))
        return refuse(
          "conflict",
          `${change.target} cannot be moved forward to r${number}: it has commits that r${number} has not. Rebase ${change.source} on it and push, or merge in another way.`,
        );
      return done({ commit: head, made: (await commitsBetween(folder, from, head)).map(({ id }) => id).reverse() });
    case "rebase":
      return rebased(folder, change, from, by);
    default: {
      const merged = await mergeTree(folder, from, head);
      if (!merged.clean) return conflicts(change, merged);
      // One commit of all is its author's, as the last of theirs was: who merges it is its committer.
      const one =
        how === "merge" ? { parents: [from, head] } : { parents: [from], author: await authorOfAll(folder, change) };
      const commit = await writeCommit(folder, { tree: merged.tree, ...one, message, by });
      return done({ commit, made: [commit] });
    }
  }
}

/** Whose one commit of all is: the author of the newest commit that is no merge, since a merge may be another's. */
export async function authorOfAll(folder: string, change: ChangeSet): Promise<Signature> {
  const { base, head } = newest(change);
  for (const { id } of await commitsBetween(folder, base, head, MOST_REBASED)) {
    const { author, parents } = await signatureOf(folder, id);
    if (parents.length < 2) return author;
  }
  return (await signatureOf(folder, head)).author;
}

/** Every commit of the newest revision again on top of the target, by its own author and with its own message. */
async function rebased(folder: string, change: ChangeSet, from: string, by: Signature): Promise<Outcome<MergeResult>> {
  const { base, head, number } = newest(change);
  const commits = (await commitsBetween(folder, base, head, MOST_REBASED + 1)).toReversed();
  if (commits.length > MOST_REBASED)
    return refuse(
      "conflict",
      `r${number} has more than ${MOST_REBASED} commits: too many to be put on ${change.target} one by one.`,
    );
  if (base === from) return done({ commit: head, made: commits.map(({ id }) => id) });
  let onto = from;
  const made: string[] = [];
  for (const { id, subject } of commits) {
    const original = await signatureOf(folder, id);
    if (original.parents.length !== 1)
      return refuse(
        "conflict",
        `r${number} holds the merge commit ${id.slice(0, 8)}: what was merged cannot be put on ${change.target} one by one.`,
      );
    if (original.message === null)
      return refuse("conflict", `The message of the commit ${id.slice(0, 8)} is too long to be written once more.`);
    const merged = await mergeWithBase(folder, original.parents[0], onto, id);
    if (!merged.clean)
      return refuse(
        "conflict",
        `The commit “${subject}” conflicts with ${change.target} in ${paths(merged.paths)}. Rebase ${change.source} and push.`,
      );
    // What is in the target already leaves nothing to commit.
    if (merged.tree === (await treeOf(folder, onto))) continue;
    onto = await writeCommit(folder, {
      tree: merged.tree,
      parents: [onto],
      message: original.message,
      author: original.author,
      by,
    });
    made.push(onto);
  }
  if (made.length === 0) return refuse("conflict", `${change.target} has all of r${number} already, in other commits.`);
  return done({ commit: onto, made });
}

function conflicts(change: ChangeSet, { paths: files, late }: { paths: string[]; late?: true }): Outcome<never> {
  const { number } = newest(change);
  if (late)
    return refuse(
      "conflict",
      `git could not bring r${number} and ${change.target} together within ${MERGED_WITHIN} seconds. Both change ${paths(files)}. Bring ${change.target} into ${change.source}, and record a new revision.`,
    );
  return refuse(
    "conflict",
    `r${number} conflicts with ${change.target} in ${paths(files)}. Bring ${change.target} into ${change.source}, and record a new revision.`,
  );
}

function paths(files: readonly string[]): string {
  return `${counted(files.length, "file")}: ${listed(files.slice(0, 5).map(visible))}${files.length > 5 ? " …" : ""}`;
}
