import { linkedItems } from "@/core/house/work/trailers";
import { mergeMessage } from "@/core/merge/message";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { notNewest } from "@/core/review/families/merging";
import { type ChangeSet, newest } from "@/core/review/state";
import type { MergeKind } from "@/core/rules/rule";
import type { ConflictView, MergePreview } from "@/core/views/keeping-view";
import { commitsBetween, countCommits, mergeBase } from "@/git/history/commits";
import { signatureOf } from "@/git/merge";
import { blobAt, branchCommit } from "@/git/repository";
import { signersOf } from "../access/people";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { conflictsWith, seriesOf } from "../rules/facts";
import { ruleFor } from "../rules/rules";
import { authorOfAll, makeResult } from "./merge-result";

/** So many conflicting files are shown with their places. */
const MOST_FILES = 30;

/**
 * What merging in one way would make: the commits, the message, and where it conflicts. Nothing is moved. Refuses, as merging does, where
 * another revision is meant than the newest.
 */
export async function previewMerge(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  { how, revision = newest(change).number }: { how: MergeKind; revision?: number },
): Promise<Outcome<MergePreview>> {
  const outdated = notNewest(change, revision);
  if (outdated) return outdated;
  const from = await branchCommit(folder, change.target);
  if (!from) return refuse("missing", `There is no branch “${change.target}” any more.`);
  const { head } = newest(change);
  const message = await messageForMerge(app, change, folder, how);
  const by = { name: person.fullName, email: person.email, at: app.now() };
  const [result, behind, paths] = await Promise.all([
    makeResult(folder, change, from, how, message || "preview", by),
    countCommits(folder, head, from),
    conflictsWith(app, folder, from, head),
  ]);
  const made = result.ok ? await commitsBetween(folder, from, result.value.commit, 500) : [];
  // Along the first parents: what a merge commit brings in stands beside it, not in the line.
  const own = new Set(result.ok ? result.value.made : []);
  return done({
    how,
    message,
    behind,
    why: result.ok ? null : result.refusal.reason,
    commits: made.map((commit) => ({ ...commit, made: own.has(commit.id) && commit.id !== head && how !== "forward" })),
    conflicts: await conflictsIn(app, folder, [from, head], paths),
  });
}

/** The message that merging in one way gets unless someone edits it. */
export async function messageForMerge(
  app: AppContext,
  change: ChangeSet,
  folder: string,
  how: MergeKind,
): Promise<string> {
  const ids = [...new Set(change.reviews.map(({ by }) => by))];
  const people = await signersOf(app.db, ids);
  const items = linkedItems(change.links, "", (await seriesOf(app, folder, change)).named);
  const { keep } = (await ruleFor(app.db, change.repository, change.target)).approvals;
  if (how !== "squash") return mergeMessage(change, how, people, [], items, keep);
  const { base, head } = newest(change);
  const commits = await commitsBetween(folder, base, head, 100);
  const authors = await Promise.all(commits.map(async ({ id }) => (await signatureOf(folder, id)).author));
  // The newest commit's author is that of the one commit; the others are named in its message.
  const others = new Map(authors.map(({ name, email }) => [email, { name, email }]));
  others.delete((await authorOfAll(folder, change)).email);
  return mergeMessage(change, how, people, [...others.values()], items, keep);
}

/** The first files that conflict, each with its places, which are looked for on a thread. */
async function conflictsIn(
  app: AppContext,
  folder: string,
  [ours, theirs]: [ours: string, theirs: string],
  paths: readonly string[],
): Promise<ConflictView[]> {
  const base = await mergeBase(folder, ours, theirs);
  const views: ConflictView[] = [];
  for (const path of paths.slice(0, MOST_FILES)) {
    const blobs = [base, ours, theirs].map((commit) => (commit ? blobAt(folder, commit, path) : null));
    const [before, target, source] = await Promise.all(blobs);
    views.push({ path, ...(await app.workers.conflicts({ folder, base: before, target, source })) });
  }
  return views;
}
