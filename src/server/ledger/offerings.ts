import type { ReviewEvent } from "@/core/review/events";
import { evolve } from "@/core/review/evolve";
import type { RevisionFacts } from "@/core/review/shapes";
import { type ChangeSet, newest, sameWork } from "@/core/review/state";
import { isAncestor, mergeBase } from "@/git/history/commits";
import { objectSize, resolveCommit } from "@/git/repository";
import { gitText } from "@/git/run";
import type { AppContext } from "../app/context";
import { tellRevision } from "../changes/revisions/tell-revision";

/** Revisions in the entries of others, held against what the repository here has. */

/** The commit of an entry that is not in the repository; null where all are. */
export async function missingCommit(folder: string, event: ReviewEvent): Promise<string | null> {
  const needed =
    event.kind === "opened" || event.kind === "revised" || event.kind === "retargeted"
      ? [event.data.revision.head, event.data.revision.base]
      : event.kind === "merged"
        ? [event.data.commit]
        : [];
  for (const commit of needed)
    if (!/^[0-9a-f]{40,64}$/.test(commit) || (await objectSize(folder, commit)) === null) return commit.slice(0, 12);
  return null;
}

/**
 * Entries with a revision that is not what it says. What is read of one lies between its base and its head, and what was approved before it holds where it says that
 * it is the same work: all of that is the word of who signed it. Its base has to be where its head leaves the commit of the target, the target as it is known
 * here has to hold that one, and the same work has to be that: as the revision before it that counts, in the log with those that are good. By the ids of
 * entries, why not.
 */
export async function mismeasuredAmong(
  app: AppContext,
  folder: string,
  log: readonly ReviewEvent[],
  fresh: readonly ReviewEvent[],
): Promise<Map<string, string>> {
  const wrong = new Map<string, string>();
  const isFresh = new Set(fresh.map(({ id }) => id));
  const all = [...log, ...fresh].sort((a, b) => (a.id < b.id ? -1 : 1));
  let change: ChangeSet | null = null;
  for (const event of all) {
    if (change === null && event.kind !== "opened") break;
    const offers = event.kind === "opened" || event.kind === "retargeted" || event.kind === "revised";
    if (offers && isFresh.has(event.id)) {
      const aim: string = event.kind === "revised" ? change!.target : event.data.target;
      const why = await mismeasured(app, folder, event, aim, change && newest(change));
      if (why !== null) {
        wrong.set(event.id, why);
        continue;
      }
    }
    change = evolve(change, event);
  }
  return wrong;
}

type Offering = Extract<ReviewEvent, { kind: "opened" | "retargeted" | "revised" }>;

async function mismeasured(
  app: AppContext,
  folder: string,
  { kind, data }: Offering,
  aim: string,
  before: RevisionFacts | null,
): Promise<string | null> {
  const { revision } = data;
  if (!(await isHeld(folder, aim, revision.target)))
    return `${aim} does not hold ${revision.target.slice(0, 12)} here, from which it is measured: git fetch brings it`;
  if ((await mergeBase(folder, revision.target, revision.head)) !== revision.base)
    return "it says another base than its commits have";
  if (kind === "opened" || before === null) return null;
  const told =
    kind === "retargeted"
      ? { same: sameWork(before, revision), resultSame: false }
      : await tellRevision(app, folder, before, revision);
  const claimed = { resultSame: false, ...data };
  return (claimed.same && !told.same) || (claimed.resultSame && !told.resultSame && !told.same)
    ? "it says that it is the work of the revision before it, and is not"
    : null;
}

/**
 * Whether a branch holds a commit: as it is here, or as it was fetched last from where it comes from. One that is nowhere here, as the branch of another change set that
 * was merged since, can be held against nothing; nor can anything be merged into it here.
 */
async function isHeld(folder: string, branch: string, commit: string): Promise<boolean> {
  if (!/^[0-9a-f]{40,64}$/.test(commit) || (await objectSize(folder, commit)) === null) return false;
  const upstream = await gitText(folder, ["for-each-ref", "--format=%(upstream)", `refs/heads/${branch}`]);
  const own = [`refs/heads/${branch}`, upstream.trim(), `refs/remotes/origin/${branch}`].filter((ref) => ref !== "");
  const listed = await gitText(folder, ["for-each-ref", "--format=%(refname)", ...own, `refs/remotes/*/${branch}`]);
  const refs = listed.split("\n").filter((ref) => ref !== "");
  const trusted = refs.filter((ref) => own.includes(ref));
  for (const ref of trusted.length > 0 ? trusted : refs) {
    const tip = await resolveCommit(folder, ref);
    if (tip !== null && (await isAncestor(folder, commit, tip))) return true;
  }
  return refs.length === 0;
}
